import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { mergeEdits, putAt, saysTheSame } from "./merge";

const base = {
  wording: { de: { label: "Karte", hint: "" }, en: { label: "Card", hint: "" } },
  countries: "DE",
  stages: { captured: "Paid" } as Record<string, string>,
};

describe("what two people made of the same thing", () => {
  it("is put together where they changed different fields", () => {
    const mine = putAt(base, "wording.de.hint", "Meins");
    const theirs = putAt(putAt(base, "countries", "DE, AT"), "stages.refunded", "Back");
    expect(mergeEdits(base, mine, theirs)).toEqual({
      merged: {
        wording: { de: { label: "Karte", hint: "Meins" }, en: { label: "Card", hint: "" } },
        countries: "DE, AT",
        stages: { captured: "Paid", refunded: "Back" },
      },
      conflicts: [],
      takenIn: ["countries", "stages.refunded"],
    });
  });

  it("keeps mine where both changed one, and shows both", () => {
    const mine = putAt(base, "wording.de.label", "Kreditkarte");
    const theirs = putAt(base, "wording.de.label", "Debitkarte");
    expect(mergeEdits(base, mine, theirs)).toEqual({
      merged: mine,
      conflicts: [{ path: "wording.de.label", base: "Karte", mine: "Kreditkarte", theirs: "Debitkarte" }],
      takenIn: [],
    });
  });

  it("takes what they took out, and fights over what one took out and the other changed", () => {
    const gone = putAt(base, "stages.captured", undefined);
    expect(mergeEdits(base, base, gone).merged.stages).toEqual({});
    const kept = putAt(base, "stages.captured", "Paid in full");
    expect(mergeEdits(base, gone, kept).conflicts).toEqual([
      { path: "stages.captured", base: "Paid", mine: undefined, theirs: "Paid in full" },
    ]);
  });

  it("loses nothing of mine, and all of theirs that I left alone is in", () => {
    const leaf = fc.constantFrom("", "a", "b");
    const draft = fc.record({ a: leaf, b: fc.record({ c: leaf, d: leaf }) });
    fc.assert(
      fc.property(draft, draft, draft, (was, mine, theirs) => {
        const { merged, conflicts } = mergeEdits(was, mine, theirs);
        for (const [path, pick] of [
          ["a", (one: typeof was) => one.a],
          ["b.c", (one: typeof was) => one.b.c],
          ["b.d", (one: typeof was) => one.b.d],
        ] as const) {
          const [w, m, t] = [pick(was), pick(mine), pick(theirs)];
          expect(pick(merged)).toBe(m === w ? t : m);
          expect(conflicts.some((one) => one.path === path)).toBe(m !== w && t !== w && m !== t);
        }
      }),
    );
  });
});

it.each([
  [{ a: 1, b: [1, { c: 2 }] }, { b: [1, { c: 2 }], a: 1 }, true],
  [{ a: 1, b: undefined }, { a: 1 }, true],
  [{ a: 1 }, { a: 2 }, false],
  [{ a: [1, 2] }, { a: [2, 1] }, false],
  [{ a: {} }, { a: null }, false],
  ["", undefined, false],
])("%j says the same as %j: %s", (one, other, same) => {
  expect(saysTheSame(one, other)).toBe(same);
});
