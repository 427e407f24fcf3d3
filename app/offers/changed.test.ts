import fc from "fast-check";
import { expect, it } from "vitest";
import { renderToStaticMarkup } from "react-dom/server";
import { createElement, Fragment } from "react";
import { bothValues, partsOf } from "./changed";

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

it("tells lists of countries by name, and amounts whole", () => {
  const drawn = (path: string, from: string | null, to: string | null) =>
    bothValues({ path, from, to }, "en-GB").map((node) =>
      renderToStaticMarkup(createElement(Fragment, null, node)).replace(/<\/?span[^>]*>/g, ""),
    );
  expect(drawn("countries", "DE, CH", "DE, CH, DK")).toEqual([
    "Germany, Switzerland",
    "Germany, Switzerland<ins>, Denmark</ins>",
  ]);
  expect(drawn("limits.EUR.greatest", "100000", "75000")).toEqual(["€1,000.00", "€750.00"]);
  expect(drawn("limits.PLN.greatest", "100000", "75000")).not.toContain("<ins>");
  expect(drawn("wording.de.hint", null, "Gleich da")).toEqual(["not set", "Gleich da"]);
  expect(drawn("offline.instructions.ar", "ادفع خلال أسبوع", "ادفع خلال شهر")).toEqual([
    "ادفع خلال <del>أسبوع</del>",
    "ادفع خلال <ins>شهر</ins>",
  ]);
  expect(drawn("offline.instructions.de", "Gleich", "Gleich")[1]).toBe("the same words, set otherwise");
});
