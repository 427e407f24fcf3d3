import { expect, it } from "vitest";
import { checkoutComplaints, codesIn, complaints, complaintsAbout } from "./words.mjs";

it("every code has its sentence, every sentence is used, and every place in it is filled", () => {
  expect(complaints()).toEqual([]);
});

it("a missing, an unused and a malformed sentence are complained of, and a place that nothing fills", () => {
  const codes = codesIn(
    "here.ts",
    `said("a.there", { one }); said("a.missing"); problem("path", "a.place"); said(\`a.kind.\${kind}\`);`,
  );
  const found = complaintsAbout(
    codes,
    new Map([
      ["a.there", "No place for it."],
      ["a.place", "A {place}."],
      ["a.unused", "Nobody says this."],
      ["a.kind.card", "{broken"],
    ]),
  );
  expect(found.map((one) => one.replace(/:? cannot be read.*/, " cannot be read"))).toEqual([
    "a.there: one has no place in its sentence",
    "a.missing has no sentence",
    "a.place: {place} is not filled",
    "a.unused is used nowhere",
    "a.kind.card cannot be read",
  ]);
});

it("a word of the checkout that a language lacks, has too many, or that no page uses is complained of", () => {
  const en = { go: "Go on", declined: { "wrong-code": "No" }, unused: "?" };
  expect(
    checkoutComplaints(
      { en, de: { go: "Weiter", more: "!", declined: {}, unused: "?" } },
      "words.go words.declined[x]",
    ),
  ).toEqual([
    "checkout unused is used nowhere",
    "checkout declined.wrong-code is missing in de",
    "checkout more is too many in de",
  ]);
});
