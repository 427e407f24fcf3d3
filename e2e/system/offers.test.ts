import { speaking } from "../../scripts/english";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { decide } from "#core/offers/decide";
import {
  addOffer as addOfferSaid,
  offersOf,
  saveOffer as saveOfferSaid,
  switchOffer as switchOfferSaid,
} from "#server/offers/offers";
import { offerChanges } from "#core/offers/changes";
import { restoreRevision, revisionOf, revisionsOf } from "#server/offers/revisions";
import { mustStand } from "#server/storefronts/now";
import { addStorefront } from "#server/storefronts/storefronts";
import { cardDocument, luvwinkel, offerNow, whereIs } from "../../demo/play";
import { luvwinkelDe } from "../../demo/scenario";
import type { Mode } from "#core/mode";
import { must } from "./at-providers";
import { candidatesAt, inTest, openWorld, partsNow, type SystemWorld } from "./world";

const addOffer = speaking(addOfferSaid);
const saveOffer = speaking(saveOfferSaid);
const switchOffer = speaking(switchOfferSaid);

// An offer over time: revisions, two people at once, and which of them test and live run.

let world: SystemWorld;
beforeAll(async () => {
  world = await openWorld({ worker: true });
});
afterAll(() => world.end());

const now = () => offerNow(world.rt, world.offerId);
const save = async (change: Partial<typeof cardDocument>, person = "ida", basedOn?: number) => {
  const offer = await now();
  const document = { ...cardDocument, ...change };
  return saveOffer(
    world.rt,
    person,
    await luvwinkel(world.rt),
    offer,
    document,
    basedOn ?? offer.working.number,
  );
};
const shown = async (mode: Mode, total = 4390) =>
  decide(await candidatesAt(world.rt, "luvwinkel-de", mode), {
    total: { amount: total, currency: "EUR" },
    asked: { at: 0 },
    country: "DE",
    language: "de",
    group: "retail",
  });

describe("an offer", () => {
  it("is one for each method of a connection on a storefront, however often it is made", async () => {
    const [where, storefront] = [await whereIs(world.rt, world.connectionId), await luvwinkel(world.rt)];
    expect(await addOffer(world.rt, "ida", where, storefront, "card")).toEqual({
      ok: true,
      id: world.offerId,
    });
    expect(await addOffer(world.rt, "ida", where, storefront, "shells")).toEqual({
      ok: false,
      says: "The provider has no such method.",
    });
    expect(await offersOf(world.rt, "luvwinkel-de")).toHaveLength(1);
  });

  it("keeps every revision, and names the one that overtook a stale form", async () => {
    const before = (await now()).working.number;
    expect(await save({ statement: "LUVWINKEL ONE" })).toEqual({ ok: true, revision: before + 1, left: [] });
    expect(await save({ statement: "LUVWINKEL TWO" }, "enno", before)).toEqual({
      ok: false,
      overtakenBy: { number: before + 1, person: "ida" },
    });
    expect((await now()).working.document.statement).toBe("LUVWINKEL ONE");
    // The same once more, as when its first answer got lost, is no other revision.
    expect(await save({ statement: "LUVWINKEL ONE" }, "ida", before)).toEqual({
      ...{ ok: true, revision: before + 1, left: [] },
    });
    const { rows } = await world.rt.db.client.execute({
      sql: "select number from offer_revisions where offer_id = ? order by number",
      args: [world.offerId],
    });
    expect(rows.map((row) => Number(row.number))).toEqual(
      Array.from({ length: before + 1 }, (_, n) => n + 1),
    );
  });

  it("takes one of two saves made at the same moment, and tells the other", async () => {
    const { number } = (await now()).working;
    const saves = await Promise.all(
      ["ida", "enno", "wiebke"].map((person) => save({ statement: `LUVWINKEL ${person}` }, person, number)),
    );
    expect(saves.filter((one) => one.ok)).toHaveLength(1);
    const winner = (await now()).working.person;
    for (const one of saves)
      if (!one.ok) expect(one).toEqual({ ok: false, overtakenBy: { number: number + 1, person: winner } });
  });

  it("changes nothing when it is refused", async () => {
    const { number } = (await now()).working;
    expect(await save({ currencies: ["SEK"] })).toMatchObject({
      ok: false,
      problems: [{ path: "currencies" }],
    });
    expect((await now()).working.number).toBe(number);
  });

  it("runs its working revision in test, and in live the one that was last cut over", async () => {
    const limited = (greatest: number) => save({ limits: { EUR: { least: null, greatest } } });
    await limited(10_000);
    expect((await shown("live")).withheld[0]?.because[0]?.code).toBe("not-live");
    await world.rt.db.client.execute("update connection_storefronts set live = 'live'");
    expect((await shown("live")).withheld[0]?.because[0]?.code, "no revision was cut over").toBe("not-live");
    await world.rt.db.client.execute("update offers set live_id = working_id");
    await limited(1_000);
    expect((await shown("test")).withheld[0]?.because[0]?.code).toBe("above-greatest");
    expect((await shown("live")).shown).toHaveLength(1);
    expect((await shown("live", 10_001)).withheld[0]?.because[0]?.code).toBe("above-greatest");
    await world.rt.db.client.execute("update connection_storefronts set live = 'fallen-back'");
    expect((await shown("live")).withheld[0]?.because[0]?.code).toBe("fallen-back");
    await world.rt.db.client.execute("update connection_storefronts set live = 'never'");
    await limited(100_000);
  });

  it("is off at once in the mode that was switched, and on again", async () => {
    const codes = async (mode: Mode) => (await shown(mode)).withheld[0]?.because.map((one) => one.code) ?? [];
    await switchOffer(world.rt, "ida", inTest(world.offerId), "test", true);
    expect(await codes("test")).toContain("switched-off");
    expect(await codes("live")).not.toContain("switched-off");
    await switchOffer(world.rt, "ida", inTest(world.offerId), "live", true);
    expect(await codes("live")).toContain("switched-off");
    await switchOffer(world.rt, "ida", inTest(world.offerId), "test", false);
    expect((await shown("test")).shown).toHaveLength(1);
    expect(await codes("live")).toContain("switched-off");
    await switchOffer(world.rt, "ida", inTest(world.offerId), "live", false);
  });

  it("has proofs that depend on the money's path and not on its wording", async () => {
    const before = await partsNow(world.rt, await now());
    await save({
      wording: { de: { label: "Karte!", hint: "" }, en: { label: "Card!", hint: "" } },
      countries: ["DE"],
    });
    expect(await partsNow(world.rt, await now())).toEqual(before);
    await save({ authentication: "always" });
    const after = await partsNow(world.rt, await now());
    expect(Object.keys(after).filter((name) => after[name] !== before[name])).toContain("authentication");
    await save({});
  });

  it("tells what each revision changed, compares any two, and takes an earlier one up again", async () => {
    const stands = await mustStand(world.rt, "luvwinkel-de");
    await save({ limits: { EUR: { least: null, greatest: 5_000 } } });
    const limited = (await now()).working.number;
    await save({
      rules: { match: "all", rules: [{ on: "goods", kinds: ["kite"], share: "all", is: true }] },
      statement: "LUVWINKEL KITES",
    });
    const { rows, next } = await revisionsOf(world.rt, stands, world.offerId, null);
    expect(next).toBeNull();
    expect(rows.map(({ number }) => number)).toEqual(
      [...rows.map(({ number }) => number)].sort((a, b) => b - a),
    );
    expect(rows[0]?.changes?.map(({ path }) => path)).toEqual(["limits.EUR.greatest", "statement", "rules"]);
    expect(rows[0]?.changes?.at(-1)).toMatchObject({ from: null });
    expect(rows.at(-1)).toMatchObject({ number: 1, changes: null });
    const restored = await restoreRevision(world.rt, "ida", stands, await now(), limited);
    expect(restored).toEqual({ ok: true, revision: limited + 2, left: [] });
    const { working } = await now();
    expect(working.document.limits).toEqual({ EUR: { least: null, greatest: 5_000 } });
    expect(working.document.rules).toBeUndefined();
    const [was, is] = [must(await revisionOf(world.rt, world.offerId, limited)), working];
    expect(offerChanges(was.document, is.document, [])).toEqual([]);
    expect(await restoreRevision(world.rt, "ida", stands, await now(), 999)).toMatchObject({ ok: false });
    await save({});
  });

  it("belongs to its storefront: another one has none", async () => {
    await addStorefront(world.rt, "ida", {
      ...luvwinkelDe("http://localhost:3"),
      id: "uk",
      name: "Luvwinkel UK",
    });
    expect(await offersOf(world.rt, "uk")).toEqual([]);
    expect(await candidatesAt(world.rt, "uk", "test")).toEqual([]);
  });
});
