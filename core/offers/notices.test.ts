import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { areNoticePlaces, noticePlaces, type QuotedPlan, smallestOf } from "./notices";

const plan = (payments: number, each: number): QuotedPlan => ({
  payments,
  each: { amount: each, currency: "EUR" },
  total: { amount: payments * each, currency: "EUR" },
  ...{ rate: null, every: null, firstAfter: null },
});
const plans = fc.array(
  fc
    .tuple(fc.integer({ min: 1, max: 600 }), fc.integer({ min: 0, max: 10_000_000 }))
    .map(([payments, each]) => plan(payments, each)),
);

describe("the plan that a notice speaks of", () => {
  it("is one of those that were quoted, and none asks for less at a time, nor as little for a shorter while", () => {
    fc.assert(
      fc.property(plans, (all) => {
        const found = smallestOf(all);
        if (found === null) {
          expect(all).toEqual([]);
          return;
        }
        expect(all).toContain(found);
        for (const one of all) {
          expect(one.each.amount).toBeGreaterThanOrEqual(found.each.amount);
          if (one.each.amount === found.each.amount)
            expect(one.payments).toBeGreaterThanOrEqual(found.payments);
        }
      }),
    );
  });

  it("leaves what was quoted as it was", () => {
    const all = [plan(12, 500), plan(3, 2_000)];
    smallestOf(all);
    expect(all.map(({ payments }) => payments)).toEqual([12, 3]);
  });
});

describe("the pages that tell of instalments", () => {
  it("are those that there are, each once", () => {
    expect(areNoticePlaces([...noticePlaces])).toBe(true);
    for (const wrong of [[], ["product", "product"], ["cellar"], "product", null, {}, [1], { length: 1 }])
      expect(areNoticePlaces(wrong), JSON.stringify(wrong)).toBe(false);
  });
});
