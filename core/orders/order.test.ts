import { describe, expect, it } from "vitest";
import { readOrder } from "./order";

const good = {
  reference: "LW-1001",
  currency: "EUR",
  lines: [
    { name: "Single-line kite “Möwe”", quantity: 2, unit: "39.00", total: "78.00" },
    { name: "Repair tape", quantity: 1, unit: "3.90", total: "3.90" },
  ],
  shipping: "4.90",
  tax: "13.86",
  taxIncluded: true,
  total: "86.80",
  country: "DE",
  language: "de",
  group: "retail",
  email: "ida@example.org",
  returnAddress: "http://localhost:4200/orders/LW-1001",
};
const problemsOf = (change: object) => {
  const reading = readOrder({ ...good, ...change });
  return reading.ok ? [] : reading.problems.map((p) => `${p.pointer} ${p.code}`);
};

describe("readOrder", () => {
  it("reads an order that adds up into minor units", () => {
    const reading = readOrder(good);
    expect(reading).toMatchObject({ ok: true, order: { total: 8680, shipping: 490, tax: 1386 } });
  });

  it("says of which type a field has to be and is, and nothing of what it holds", () => {
    const detailsOf = (change: object) => {
      const reading = readOrder({ ...good, ...change });
      return reading.ok ? [] : reading.problems.map(({ detail }) => detail);
    };
    expect(detailsOf({ reference: { secret: "x" } })).toEqual([
      "reference must be a string, and is an object",
    ]);
    expect(detailsOf({ lines: "two kites" })).toEqual(["lines must be a list, and is a string"]);
    expect(detailsOf({ taxIncluded: "perhaps" })).toEqual([
      "taxIncluded must be true or false, and is a string",
    ]);
  });

  it("adds tax on top when it is not included", () => {
    // Left out, the tax is in the prices, as the document says.
    expect(problemsOf({ taxIncluded: undefined })).toEqual([]);
    expect(problemsOf({ taxIncluded: false })).toEqual(["/total does-not-add-up"]);
    expect(problemsOf({ taxIncluded: false, total: "100.66" })).toEqual([]);
  });

  it("takes discounts as negative lines, parts of a quantity, and an order without an e-mail address", () => {
    const line = (name: string, quantity: number, unit: string, total: string) => ({
      ...{ name, quantity, unit, total },
    });
    const { email: _, ...anonymous } = good;
    const metres = [
      line("Line, by the metre", 2.5, "1.99", "4.98"),
      line("Club discount", 1, "-1.00", "-1.00"),
    ];
    const reading = readOrder({ ...anonymous, lines: metres, shipping: "0.00", tax: "0.00", total: "3.98" });
    expect(reading).toMatchObject({ ok: true, order: { total: 398, email: "" } });
    // 2.5 × 1.99 is 4.975: either rounding is taken, and no other.
    const total = (text: string) =>
      problemsOf({ lines: [line("Line", 2.5, "1.99", text)], shipping: "0.00", total: text });
    expect([total("4.97"), total("4.98")]).toEqual([[], []]);
    expect(total("4.99")).toEqual(["/lines/0/total does-not-add-up"]);
    expect(problemsOf({ lines: [line("Line", 0.0005, "1.00", "0.00")] })).toContain(
      "/lines/0/quantity malformed",
    );
    const given = [line("Kite", 1, "10.00", "10.00"), line("All of it", 1, "-10.00", "-10.00")];
    expect(problemsOf({ lines: given, shipping: "0.00", total: "0.00" })).toEqual(["/total does-not-add-up"]);
    const owed = [line("Kite", 1, "10.00", "10.00"), line("More", 1, "-11.00", "-11.00")];
    expect(problemsOf({ lines: owed, shipping: "0.00", total: "-1.00" })).toContain("/total negative");
  });

  it("names the field that does not add up", () => {
    const lines = [{ ...good.lines[0], total: "78.01" }, good.lines[1]];
    expect(problemsOf({ lines })).toEqual(["/lines/0/total does-not-add-up", "/total does-not-add-up"]);
    expect(problemsOf({ total: "86.81" })).toEqual(["/total does-not-add-up"]);
  });

  it("refuses unknown currencies, wrong decimals, negative and huge amounts", () => {
    expect(problemsOf({ currency: "EUX" })).toEqual(["/currency unknown-currency"]);
    expect(problemsOf({ shipping: "4.905" })).toEqual(["/shipping too-many-decimals"]);
    expect(problemsOf({ shipping: "-4.90" })).toEqual(["/shipping negative"]);
    expect(problemsOf({ total: "99999999999999999999" })).toEqual(["/total too-large"]);
    expect(problemsOf({ currency: "JPY" })).toContain("/total too-many-decimals");
  });

  it("names every missing or malformed field, and survives things that are not orders", () => {
    expect(
      problemsOf({ email: "x", country: "Germany", returnAddress: "javascript:alert(1)" }).sort(),
    ).toEqual(
      ["/country malformed", "/email malformed", "/returnAddress malformed"]
        .concat("/country malformed")
        .sort(),
    );
    for (const junk of [null, undefined, 7, "x", [], { lines: "no" }, { lines: [{}] }]) {
      expect(readOrder(junk).ok).toBe(false);
    }
    expect(problemsOf({ lines: [] })).toEqual(["/lines malformed"]);
    expect(problemsOf({ reference: undefined })).toEqual(["/reference missing"]);
  });

  it("refuses lists without end and nesting without end before it reads them, in few words", () => {
    const hostile: [object, RegExp][] = [
      [{ lines: Array.from({ length: 40_000 }, () => ({})) }, /^\/lines /],
      [{ lines: Array.from({ length: 40_000 }, () => []) }, /^\/lines /],
      [{ lines: Array.from({ length: 501 }, () => good.lines[0]) }, /^\/lines /],
      [{ extra: JSON.parse("[".repeat(2_000) + "]".repeat(2_000)) as unknown }, /^\/extra/],
      [{ lines: Array.from({ length: 499 }, () => ({})) }, /^\/lines\/0/],
    ];
    for (const [change, first] of hostile) {
      const begun = performance.now();
      const problems = problemsOf(change);
      // What took seven seconds takes a few milliseconds: a bound that no busy machine reaches.
      expect(performance.now() - begun).toBeLessThan(2_500);
      expect(problems[0]).toMatch(first);
      expect(problems.length).toBeLessThanOrEqual(50);
    }
  });
});
