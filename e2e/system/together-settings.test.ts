import { afterAll, beforeAll, describe, expect, it } from "vitest";
import {
  dropLogo,
  looksOf,
  putLookLive,
  restoreLook,
  saveLook,
  setLogo,
  takeLookBack,
} from "#server/looks/looks";
import { lookNumbers, lookRevisionOf, lookRevisionsOf } from "#server/looks/revisions";
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

  it("has every look that it was, each can be restored to be worked on, and live stays as it is", async () => {
    const numbers = async () => (await lookRevisionsOf(rt(), DE, null)).rows.map(({ row }) => row.number);
    const before = await numbers();
    expect(before).toEqual(before.map((_, i) => before.length - i));
    const firstLook = must(await lookRevisionOf(rt(), DE, 1));
    expect(firstLook).toMatchObject({ person: "ida", look: { accent: "#0a5060" } });
    const { revision } = await looksOf(rt(), DE);
    await save({ accent: "#203040" });
    expect(await restoreLook(rt(), "enno", firstLook, { basedOn: revision })).toBe(false);
    expect(await restoreLook(rt(), "enno", firstLook)).toBe(true);
    expect(await looksOf(rt(), DE)).toMatchObject({
      live: { accent: "#401040" },
      working: firstLook.look,
    });
    expect(await numbers()).toHaveLength(before.length + 2);
    const { working, live } = await lookNumbers(rt(), DE);
    expect(working).toBe(before.length + 2);
    expect((await lookRevisionOf(rt(), DE, must(live)))?.look.accent).toBe("#401040");
    expect(await lookRevisionOf(rt(), DE, 99)).toBeNull();
  });

  it("shows its looks a page at a time, each beside the one before it", async () => {
    for (let i = 0; i < 31; i += 1) await save({ accent: `#4010${i + 10}` });
    const { rows, next } = await lookRevisionsOf(rt(), DE, null);
    expect(rows).toHaveLength(30);
    expect(rows.every(({ row, earlier }) => earlier?.number === row.number - 1)).toBe(true);
    const further = await lookRevisionsOf(rt(), DE, next);
    expect(further.rows[0]?.row.number).toBe(must(next) - 1);
    expect(further.rows.at(-1)).toMatchObject({ row: { number: 1 }, earlier: null });
    expect(further.next).toBeNull();
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
