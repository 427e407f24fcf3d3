import fc from "fast-check";
import { expect, it } from "vitest";
import { partsOf } from "./changed";

it("marks the words of a text that went and that came", () => {
  expect(partsOf("Transfer it within 7 days.", "Transfer it within 14 days, please.")).toEqual([
    { words: "Transfer it within ", of: "both" },
    { words: "7", of: "before" },
    { words: "14", of: "after" },
    { words: " days", of: "both" },
    { words: ", please", of: "after" },
    { words: ".", of: "both" },
  ]);
});

it("leaves values that are no texts, and texts with nothing in common, as two", () => {
  expect(partsOf("1000", "2000")).toBeNull();
  expect(partsOf("at once", "later")).toBeNull();
  expect(partsOf("same words", "same words")).toBeNull();
  expect(partsOf("one two", "three four")).toBeNull();
});

it("whatever the texts, each is had again from its parts", () => {
  const text = fc
    .array(fc.constantFrom("pay", "within", "{due}", "日本", "مرحبا", ",", "\n", "7 days"), { minLength: 2 })
    .map((words) => words.join(" "));
  fc.assert(
    fc.property(text, text, (from, to) => {
      const parts = partsOf(from, to);
      if (!parts) return;
      const without = (left: string) => parts.map(({ words, of }) => (of === left ? "" : words)).join("");
      expect(without("after")).toBe(from);
      expect(without("before")).toBe(to);
    }),
  );
});
