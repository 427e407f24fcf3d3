import { expect, it } from "vitest";
import { money } from "#core/money/money";
import { countries, problem, quoted, said, sentences, verbatim } from "#core/said";
import { saysAt } from "./says-at";
import { speaker } from "./speak";

const catalogue = {
  shop: {
    sums: "It holds {amount}; shoppers in {places} and the language {language}.",
    count: "{n, plural, one {# payment} other {# payments}}",
    around: "Because: {inner}",
    names: "{names} wait.",
    day: "It ends on {day}.",
  },
  words: { quoted: "“{name}”" },
};
const { say, tell, spoken } = speaker("en", catalogue);

it("writes money, places, lists and what is said within, in the reader's way", () => {
  const sums = said("shop.sums", {
    amount: money(123_456, "EUR"),
    places: countries(["DE", "AT"]),
    language: { language: "ja" },
  });
  expect(say(sums)).toBe("It holds €1,234.56; shoppers in Germany, Austria and the language Japanese.");
  expect(speaker("en", catalogue, "de-DE").say(sums)).toContain("1.234,56");
  expect(say(said("shop.count", { n: 1 }))).toBe("1 payment");
  expect(say(said("shop.count", { n: 1200 }))).toBe("1,200 payments");
  expect(say(said("shop.day", { day: { day: "2026-11-28" } }))).toBe("It ends on 28 November.");
  expect(speaker("en", catalogue, "de-DE").say(said("shop.day", { day: { day: "2026-03-01" } }))).toBe(
    "It ends on 1 March.",
  );
  expect(say(said("shop.around", { inner: said("shop.count", { n: 2 }) }))).toBe("Because: 2 payments");
  expect(say(said("shop.names", { names: quoted(["A", "B"]) }))).toBe("“A”, “B” wait.");
});

it("puts an article before a country where English does", () => {
  const names = said("shop.names", { names: countries(["GB", "NL", "FR", "DO"]) });
  expect(say(names)).toBe("the United Kingdom, the Netherlands, France, the Dominican Republic wait.");
});

it("joins sentences, and leaves what somebody else said as it is", () => {
  expect(say(sentences([said("shop.count", { n: 3 }), "As they say: {no place}."]))).toBe(
    "3 payments As they say: {no place}.",
  );
  expect(tell("plain {words}")).toBe("plain {words}");
  expect(say(verbatim("<b>{x}</b>"))).toBe("<b>{x}</b>");
});

it("turns every code in a page's data into its sentence, however deep, and leaves the rest alone", () => {
  const at = new Date(0);
  const set = new Set([1]);
  expect(
    spoken({
      rows: [{ says: said("shop.count", { n: 2 }), code: "plain", at, set }],
      sum: money(1, "EUR"),
      none: null,
      problems: [problem("lines[0].unit", "shop.count", { n: 1 })],
    }),
  ).toEqual({
    rows: [{ says: "2 payments", code: "plain", at, set }],
    sum: { amount: 1, currency: "EUR" },
    none: null,
    problems: [{ path: "lines[0].unit", says: "1 payment" }],
  });
});

it("finds what is wrong at a path and below it, and nowhere else", () => {
  const problems = [
    { path: "limits.EUR", says: "First." },
    { path: "limits", says: "Second." },
    { path: "limitsOther", says: "Third." },
  ];
  expect(saysAt(problems, "limits")).toBe("First. Second.");
  expect(saysAt(problems, "limits.GBP")).toBeUndefined();
});

it("shows what was kept under a code that has lost its sentence, with its values", () => {
  expect(say(said("shop.gone", { amount: money(100, "EUR"), name: "A" }))).toBe("shop.gone €1.00 A");
  expect(say(said("shop.around", { earlier: 7 })), "a value of today's is lacking").toBe("shop.around 7");
});
