import { describe, expect, it } from "vitest";
import shipped from "../../profiles/ratenhaus.json";
import type { Profile } from "./profile";
import { quoteReading } from "./quote-reading";

const profile = shipped as unknown as Profile;
const plan = { payments: 12, amount: "21.20", total: "254.40", rate: 11.6, every: "month", firstAfter: 30 };
const read = (change: object = {}, about: object = {}) =>
  quoteReading(profile, { currency: "EUR", plans: [{ ...plan, ...change }], ...about });

describe("what a provider quotes", () => {
  it("is read whole: sums in minor units, rhythm, first day, what the law wants, and for how long it holds", () => {
    expect(read({}, { text: " To be read. ", goodFor: 600 })).toEqual({
      currency: "EUR",
      plans: [{ payments: 12, amount: 2_120, total: 25_440, rate: 11.6, every: "month", firstAfter: 30 }],
      ...{ text: "To be read.", goodFor: 600 },
    });
  });

  it("may say no more than the payments", () => {
    expect(read({ rate: null, every: null, firstAfter: null })).toEqual({
      currency: "EUR",
      plans: [{ payments: 12, amount: 2_120, total: 25_440 }],
    });
    expect(quoteReading(profile, { currency: "EUR" })).toEqual({ currency: "EUR", plans: [] });
    expect(read({}, { text: "  ", goodFor: -5 })).not.toHaveProperty("goodFor");
  });

  it("holds for a day at most, whatever is said", () => {
    expect(read({}, { goodFor: 10 ** 12 }).goodFor).toBe(86_400);
  });

  it.each([
    [{ payments: 0 }],
    [{ payments: 1.5 }],
    [{ payments: 601 }],
    [{ payments: "12" }],
    [{ every: "fortnight" }],
    [{ firstAfter: -1 }],
    [{ firstAfter: "soon" }],
    [{ amount: "much" }],
    [{ total: null }],
    [{ amount: "0.00" }],
  ])("is refused where it says %j", (change) => {
    expect(() => read(change)).toThrow();
  });
});
