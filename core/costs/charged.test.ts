import { describe, expect, it } from "vitest";
import type { MethodFees } from "../profiles/profile";
import { expectedFees } from "./charged";

const fees: MethodFees = {
  method: "card",
  percent: 2,
  fixed: { EUR: 30 },
  minimum: {},
  cap: {},
  foreign: { percent: 0, fixed: {} },
  conversion: 1,
  tiers: [{ from: { EUR: 20_000 }, percent: 1, fixed: { EUR: 10 } }],
  refund: {},
  feeReturned: false,
  dispute: {},
} as unknown as MethodFees;
const euros = (...sums: number[]) => sums.map((captured) => ({ captured, currency: "EUR" }));
const never = () => false;

describe("what a month's payments should cost", () => {
  it("follows the volume, which grows with them", () => {
    expect(expectedFees(fees, euros(10_000, 10_000, 10_000), never)).toEqual([230, 230, 110]);
    expect(expectedFees(fees, euros(10_000), never, { EUR: 20_000 })).toEqual([110]);
  });

  it("counts each currency by itself, nothing for what was not captured, and a conversion where there is one", () => {
    const mixed = [...euros(20_000), { captured: 10_000, currency: "GBP" }, ...euros(0, 10_000)];
    expect(expectedFees(fees, mixed, (currency) => currency === "GBP")).toEqual([430, 300, 0, 110]);
    expect(expectedFees(fees, [], never)).toEqual([]);
  });
});
