import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { changesBetween } from "./changes";

const flat = fc.dictionary(
  fc.stringMatching(/^[a-z]{1,6}$/),
  fc.oneof(fc.stringMatching(/^[a-z]{1,5}$/), fc.integer(), fc.boolean(), fc.constant(null)),
  { maxKeys: 6 },
);
const document = fc.dictionary(fc.stringMatching(/^[a-z]{1,6}$/), fc.oneof(flat, fc.string(), fc.integer()), {
  maxKeys: 5,
});

describe("the changes of a cutover", () => {
  it("name each leaf that differs, new ones and those that go", () => {
    expect(
      changesBetween(
        { wording: { de: { label: "Karte" } }, countries: ["DE"], statement: "LUV", limits: {} },
        {
          wording: { de: { label: "Karte" }, en: { label: "Card" } },
          countries: [],
          limits: { EUR: { least: 500 } },
        },
      ),
    ).toEqual([
      { path: "countries", from: "DE", to: "all" },
      { path: "limits.EUR.least", from: null, to: "500" },
      { path: "statement", from: "LUV", to: null },
      { path: "wording.en.label", from: null, to: "Card" },
    ]);
  });

  it("list everything when nothing was live, and nothing when nothing differs", () => {
    expect(changesBetween(null, { capture: "later" })).toEqual([
      { path: "capture", from: null, to: "later" },
    ]);
    fc.assert(
      fc.property(document, (one) => {
        expect(changesBetween(one, structuredClone(one))).toEqual([]);
      }),
    );
  });

  it("read backwards are the same changes the other way, in the same order", () => {
    fc.assert(
      fc.property(document, document, (before, after) => {
        const back = changesBetween(after, before).map(({ path, from, to }) => ({
          path,
          from: to,
          to: from,
        }));
        expect(changesBetween(before, after)).toEqual(back);
      }),
    );
  });
});
