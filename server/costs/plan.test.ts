import { readdirSync, readFileSync } from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Volume } from "#core/costs/volume";
import { readProfile } from "#core/profiles/read-profile";
import { addConnection } from "../connections/connections";
import { installVersion, profileOf } from "../profiles/profiles";
import { addStorefront, storefrontOf } from "../storefronts/storefronts";
import { north, openTestRuntime, type TestRuntime } from "../test-runtime";
import { planOf, saveFees, saveVolume, seenTotals, setListed } from "./plan";

let world: TestRuntime;
beforeAll(async () => {
  world = await openTestRuntime();
  for (const name of readdirSync("profiles")) {
    const reading = readProfile(JSON.parse(readFileSync(`profiles/${name}`, "utf8")));
    if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
    await installVersion(world.rt, "test", reading.profile, "shipped");
  }
  await addStorefront(world.rt, "ida", north);
});
afterAll(() => world.close());

const plan = async (change = {}) => {
  const storefront = await storefrontOf(world.rt, "north");
  if (!storefront) throw new Error("north");
  return planOf(world.rt, storefront, change);
};
const provider = async (id: string) => {
  const found = (await plan()).providers.find((one) => one.profile.id === id);
  if (!found) throw new Error(id);
  return found;
};

describe("the plan of a storefront", () => {
  it("holds every installed provider against it, and against what is asked instead", async () => {
    expect((await provider("karvello")).fit.ok).toBe(true);
    const japanese = (await plan({ merchantCountry: "JP", currencies: ["JPY"] })).providers;
    expect(japanese.filter((one) => one.fit.ok).map((one) => one.profile.id)).toEqual(["quippa"]);
    expect(japanese.every((one) => one.fit.ok || one.fit.because.length > 0)).toBe(true);
  });

  it("reckons on a supposed volume until the shop says what it sells", async () => {
    expect((await plan()).said).toBe(false);
    const volume: Volume = {
      currency: "EUR",
      orders: 2,
      totals: { kind: "orders", from: "file", counted: [[10_000, 2]] },
      shares: { card: 100 },
      foreign: 0,
      refunds: 0,
      disputes: 0,
      platform: { percent: 0, fixed: {} },
    };
    await saveVolume(world.rt, "ida", "north", volume);
    const said = await plan();
    expect([said.said, said.volume]).toEqual([true, volume]);
    // 1.35 % of 100.00 and 0.22, twice.
    expect((await provider("karvello")).costs[0]?.cost?.total).toBe(314);
    // 0.95 % and 0.12, at least 0.15; twice; and 14.90 a month.
    expect((await provider("ostwick")).costs[0]?.cost?.total).toBe(1704);
  });

  it("reckons in each of the storefront’s currencies, with a volume of its own", async () => {
    const storefront = await storefrontOf(world.rt, "north");
    if (!storefront) throw new Error("north");
    const both = { ...storefront, currencies: ["EUR", "GBP"] };
    const inPounds = await planOf(world.rt, both, {}, "GBP");
    expect([inPounds.said, inPounds.volume.currency]).toEqual([false, "GBP"]);
    await saveVolume(world.rt, "ida", "north", {
      ...inPounds.volume,
      orders: 2,
      totals: { kind: "orders", from: "file", counted: [[10_000, 2]] },
      shares: { card: 100 },
      foreign: 0,
      refunds: 0,
      disputes: 0,
      platform: { percent: 0, fixed: {} },
    });
    const said = await planOf(world.rt, both, {}, "GBP");
    // 1.35 % of 100.00 and 0.19, twice.
    expect(said.providers.find((one) => one.profile.id === "karvello")?.costs[0]?.cost?.total).toBe(308);
    expect((await planOf(world.rt, both)).volume.currency).toBe("EUR");
    expect((await planOf(world.rt, both, {}, "JPY")).volume.currency).toBe("EUR");
  });

  it("keeps a list, and says what cannot stand together and what the set costs", async () => {
    for (const id of ["karvello", "ostwick", "thumbra"]) await setListed(world.rt, "ida", "north", id, true);
    await setListed(world.rt, "ida", "north", "ostwick", true);
    const { chosen } = await plan();
    expect(chosen.names.sort()).toEqual(["Karvello", "Ostwick", "Thumbra"]);
    expect(chosen.clashes.map((one) => one.code)).toEqual(["both-serve"]);
    expect(chosen.cost.by).toMatchObject([{ kind: "card", name: "Karvello", cost: { total: 314 } }]);
    expect(
      chosen.crossings.find((one) => one.kind === "card")?.found.some((one) => one.by === "orders"),
    ).toBe(true);
    const thumbra = await provider("thumbra");
    expect([thumbra.ridesOn, thumbra.costs[0]?.cost?.total]).toEqual(["Karvello", 314]);
    await setListed(world.rt, "ida", "north", "karvello", false);
    // Ostwick takes no tokens of Thumbra's.
    expect((await plan()).chosen.clashes.map((one) => one.code)).toEqual(["nothing-to-ride-on"]);
  });

  it("reckons with fees that were agreed on, for a provider or for its connection", async () => {
    const profile = await profileOf(world.rt, "karvello");
    if (!profile) throw new Error("karvello");
    const cheaper = structuredClone(profile.fees);
    if (cheaper.methods[0]) cheaper.methods[0].percent = 1;
    await saveFees(world.rt, "ida", "north", "karvello", cheaper);
    expect((await provider("karvello")).costs[0]?.cost?.total).toBe(244);
    const connection = await addConnection(world.rt, "ida", { profile, storefrontId: "north" });
    if (cheaper.methods[0]) cheaper.methods[0].percent = 0;
    await saveFees(world.rt, "ida", "north", connection, cheaper);
    const agreed = await provider("karvello");
    expect([agreed.agreed, agreed.subject, agreed.costs[0]?.cost?.total]).toEqual([true, connection, 44]);
    expect(agreed.connections).toEqual([{ id: connection, name: "Karvello" }]);
    for (const subject of [connection, "karvello"]) await saveFees(world.rt, "ida", "north", subject, null);
    expect((await provider("karvello")).agreed).toBe(false);
  });

  it("knows no orders where none were paid", async () => {
    expect(await seenTotals(world.rt, "north", "EUR")).toEqual([]);
  });
});
