import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { dropLogo, looksOf, putLookLive, saveLook, setLogo, takeLookBack } from "#server/looks/looks";
import { editStorefront, storefrontOf } from "#server/storefronts/storefronts";
import { mustStand } from "#server/storefronts/now";
import { must } from "./at-providers";
import { openWorld, type SystemWorld } from "./world";

// Two people at work on the settings of one storefront: whoever saves second overwrites nothing unseen.

const DE = "luvwinkel-de";
let world: SystemWorld;
const rt = () => world.rt;
const entry = { corner: "soft", face: "serif", light: "device", terms: "none" };
const save = async (change: Record<string, string>, basedOn?: number) =>
  saveLook(
    rt(),
    "ida",
    (await mustStand(rt(), DE)).storefront,
    { ...entry, ...change },
    { ...(basedOn !== undefined && { basedOn }) },
  );
const logo = () =>
  new File(
    ['<svg xmlns="http://www.w3.org/2000/svg" width="8" height="8"><path d="M0 0h8v8z"/></svg>'],
    "a.svg",
  );

beforeAll(async () => {
  world = await openWorld({ beside: false });
});
afterAll(() => world.end());

describe("a look that two people change", () => {
  it("counts each change, and takes none that began with an older one", async () => {
    expect(await looksOf(rt(), DE)).toMatchObject({ revision: 0, live: null });
    const first = await save({ accent: "#0a5060" }, 0);
    if (!first.ok) throw new Error("not saved");
    expect(first.revision).toBeGreaterThan(0);
    expect(await save({ accent: "#602020" }, 0)).toEqual({ ok: false, problems: [], overtaken: true });
    expect((await looksOf(rt(), DE)).working.accent).toBe("#0a5060");
    const second = await save({ accent: "#602020" }, first.revision);
    if (!second.ok) throw new Error("not saved");
    expect(second.revision).toBeGreaterThan(first.revision);
  });

  it("says first what is wrong with what was typed", async () => {
    expect(await save({ accent: "blue-ish" }, 0)).toMatchObject({ problems: [{ path: "accent" }] });
  });

  it("is saved once of several that begin with the same at the same moment", async () => {
    const { revision } = await looksOf(rt(), DE);
    const all = await Promise.all(
      ["#103010", "#203010", "#303010"].map((accent) => save({ accent }, revision)),
    );
    expect(all.filter((one) => one.ok)).toHaveLength(1);
    expect(all.filter((one) => "overtaken" in one)).toHaveLength(2);
  });

  it("keeps a logo and colours that are saved at the same moment", async () => {
    const { revision } = await looksOf(rt(), DE);
    const [kept, saved] = await Promise.all([
      setLogo(rt(), "enno", DE, logo()),
      save({ accent: "#123456" }, revision).then((one) =>
        "overtaken" in one ? save({ accent: "#123456" }) : one,
      ),
    ]);
    expect([kept.ok, saved.ok]).toEqual([true, true]);
    const { working } = await looksOf(rt(), DE);
    expect(working.accent).toBe("#123456");
    expect(working.logo).not.toBeNull();
    await dropLogo(rt(), "enno", DE);
    expect((await looksOf(rt(), DE)).working).toEqual({ ...working, logo: null });
  });

  it("is put live and taken back only as it was looked at", async () => {
    const { revision } = await looksOf(rt(), DE);
    await save({ accent: "#401040" });
    expect(await putLookLive(rt(), "ida", DE, { basedOn: revision })).toBe(false);
    expect(await takeLookBack(rt(), "ida", DE, { basedOn: revision })).toBe(false);
    expect(await looksOf(rt(), DE)).toMatchObject({ live: null, working: { accent: "#401040" } });
    const seen = await looksOf(rt(), DE);
    expect(await putLookLive(rt(), "ida", DE, { basedOn: seen.revision })).toBe(true);
    await save({ accent: "#104010" });
    const next = await looksOf(rt(), DE);
    expect(await takeLookBack(rt(), "ida", DE, { basedOn: next.revision })).toBe(true);
    expect(await looksOf(rt(), DE)).toMatchObject({
      live: { accent: "#401040" },
      working: { accent: "#401040" },
    });
  });
});

describe("a storefront's settings that two people change", () => {
  it("are written once of several that were read alike, and the others are told", async () => {
    const before = must(await storefrontOf(rt(), DE));
    const { id, domain, https, country, languages, currencies, groups, apps } = before;
    const as = (name: string) => ({ id, name, domain, https, country, languages, currencies, groups, apps });
    const written = await Promise.all(
      ["One", "Two", "Three"].map((name) => editStorefront(rt(), "ida", before, as(name))),
    );
    expect(written.filter(Boolean)).toHaveLength(1);
    const now = must(await storefrontOf(rt(), DE));
    expect(now.name).toBe(["One", "Two", "Three"][written.indexOf(true)]);
    expect(await editStorefront(rt(), "ida", before, as("Late"))).toBe(false);
    expect(await editStorefront(rt(), "ida", now, as(before.name))).toBe(true);
  });
});
