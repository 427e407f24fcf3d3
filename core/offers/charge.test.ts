import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { readOrder } from "../orders/order";
import { askedOf } from "../orders/asked";
import {
  type Charge,
  chargeFor,
  chargeProblems,
  forbidsFees,
  isCharge,
  isOutOfProportion,
  takesFees,
  withCharge,
} from "./charge";

const fee = (share: number, sums: Record<string, number> = {}): Charge => ({ kind: "fee", share, sums });

describe("what choosing costs or saves", () => {
  it.each([
    [fee(150), 10_000, 150],
    [fee(150, { EUR: 30 }), 10_000, 180],
    [fee(0, { GBP: 30 }), 10_000, 0],
    [{ ...fee(300), kind: "discount" as const }, 10_000, -300],
    // Half a cent goes up.
    [fee(50), 100, 1],
    [fee(49), 100, 0],
  ])("%j of %d is %d", (charge, amount, comes) => {
    expect(chargeFor(charge, { amount, currency: "EUR" })).toBe(comes);
  });

  it("is nothing without a charge, and exact for the largest totals", () => {
    expect(chargeFor(undefined, { amount: 5, currency: "EUR" })).toBe(0);
    expect(chargeFor(fee(10_000), { amount: Number.MAX_SAFE_INTEGER, currency: "EUR" })).toBe(
      Number.MAX_SAFE_INTEGER,
    );
  });

  it("is never off by more than half a unit", () => {
    fc.assert(
      fc.property(fc.nat(10_000_000), fc.nat(10_000), (amount, share) => {
        const comes = chargeFor(fee(share), { amount, currency: "EUR" });
        expect(Math.abs(comes - (amount * share) / 10_000)).toBeLessThanOrEqual(0.5);
      }),
    );
  });

  it("has a sense of proportion", () => {
    const total = { amount: 1_000, currency: "EUR" };
    expect([1_000, 1_001, -999, -1_000].map((charge) => isOutOfProportion(charge, total))).toEqual([
      false,
      true,
      false,
      true,
    ]);
  });
});

describe("where fees are taken", () => {
  it("follows the law of the country until an owner says otherwise", () => {
    expect(["DE", "GB", "NO", "US", "JP"].map(forbidsFees)).toEqual([true, true, true, false, false]);
    expect(takesFees({ country: "DE", money: {} })).toBe(false);
    expect(takesFees({ country: "DE", money: { choiceFees: true } })).toBe(true);
    expect(takesFees({ country: "US", money: { choiceFees: false } })).toBe(false);
  });

  it("says at which field a charge is wrong", () => {
    const at = (charge: Charge, fees = true, least: number | null = null) =>
      chargeProblems(charge, { fees, least: () => least }).map(({ path, code }) => [path, code]);
    expect(at(fee(100))).toEqual([]);
    expect(at(fee(100), false)).toEqual([["charge", "offer.fees-refused"]]);
    expect(at({ ...fee(100), kind: "discount" }, false)).toEqual([]);
    expect(at({ ...fee(10_000), kind: "discount" })).toEqual([["charge.share", "offer.discount-of-all"]]);
    expect(at(fee(0, { EUR: 500 }), true, 500)).toEqual([["charge.sums.EUR", "offer.charge-above-least"]]);
    expect(at(fee(0, { XXQ: 5 }))).toEqual([["charge", "offer.not-currency"]]);
  });

  it.each([
    null,
    [],
    { kind: "tax", share: 1, sums: {} },
    { kind: "fee", share: -1, sums: {} },
    { kind: "fee", share: 10_001, sums: {} },
    { kind: "fee", share: 1.5, sums: {} },
    { kind: "fee", share: 1, sums: { EUR: "5" } },
    { kind: "fee", share: 1, sums: [] },
  ])("takes no %j for a charge", (value) => expect(isCharge(value)).toBe(false));
});

it("stands in an order as a line, and in what is asked for", () => {
  const reading = readOrder({
    ...{ reference: "A-1", currency: "EUR", shipping: "0.00", tax: "0.00", total: "10.00", payNow: "4.00" },
    lines: [{ name: "Kite", quantity: 1, unit: "10.00", total: "10.00" }],
    ...{ country: "DE", language: "de", group: "retail", email: "a@example.org" },
    returnAddress: "https://shop.example/",
  });
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  const { order } = reading;
  expect(withCharge(order, 0, "Cash")).toBe(order);
  const charged = withCharge(order, 150, "Cash on delivery");
  expect(charged).toMatchObject({ total: 1150, payNow: 550 });
  expect(askedOf(charged)).toBe(550);
  expect(charged.lines.at(-1)).toEqual({ name: "Cash on delivery", quantity: 1, unit: 150, total: 150 });
});
