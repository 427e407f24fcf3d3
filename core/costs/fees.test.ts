import { spoken } from "../../scripts/english";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { FeeSchedule, MethodFees } from "../profiles/profile";
import { crossings, sensitivity } from "./crossing";
import { costOf, mixed, monthCost, paymentFee, type Priced, setCost, share } from "./fees";
import { countTotals, meanTotal, normalQuantile, ordersOf } from "./orders";
import { readVolume, assumedVolume } from "./read-volume";
import type { Volume } from "./volume";

const fees = (change: Partial<MethodFees> = {}): MethodFees => ({
  method: "card",
  percent: 1.35,
  fixed: { EUR: 22 },
  minimum: {},
  cap: {},
  foreign: { percent: 0, fixed: {} },
  conversion: 0,
  tiers: [],
  refund: {},
  refundReturnsFee: false,
  dispute: {},
  ...change,
});
const schedule = (change: Partial<FeeSchedule> = {}): FeeSchedule => ({
  monthly: {},
  oneOff: {},
  methods: [fees()],
  ...change,
});
const terms = { currency: "EUR", foreign: false, converted: false, volume: 0 };
const month = {
  currency: "EUR",
  converted: false,
  foreign: 0,
  refunds: 0,
  disputes: 0,
  platform: { percent: 0, fixed: {} },
};
const each = (...totals: number[]) => totals.map((total) => ({ total, weight: 1 }));

describe("the fee of one payment", () => {
  it("is what one reckons by hand", () => {
    // 1.35 % of 43.90 is 0.59265, half up 0.59; with 0.22 that is 0.81.
    expect(paymentFee(fees(), 4390, terms)).toEqual({
      percent: 59,
      fixed: 22,
      bounds: 0,
      foreign: 0,
      conversion: 0,
      total: 81,
    });
    // Half a cent goes up: 1 % of 0.50 is 0.005.
    expect(share(50, 1)).toBe(1);
    expect(share(49, 1)).toBe(0);
    // Four decimals count: 0.1235 % of 10,000.00 is 12.35.
    expect(share(1_000_000, 0.1235)).toBe(1235);
  });

  it("keeps to a least and a greatest fee, before surcharges", () => {
    const bounded = fees({
      minimum: { EUR: 100 },
      cap: { EUR: 500 },
      foreign: { percent: 1, fixed: { EUR: 5 } },
    });
    expect(paymentFee(bounded, 1000, terms)).toMatchObject({
      percent: 14,
      fixed: 22,
      bounds: 64,
      total: 100,
    });
    // 1.35 % of 1,000.00 and 0.22 are 13.72; the cap makes it 5.00; a card from abroad adds 10.00 and 0.05.
    expect(paymentFee(bounded, 100_000, { ...terms, foreign: true })).toMatchObject({
      bounds: -872,
      foreign: 1005,
      total: 1505,
    });
  });

  it("takes the tier in which the month's volume stands", () => {
    const tiered = fees({
      tiers: [
        { from: { EUR: 100_000 }, percent: 1, fixed: { EUR: 10 } },
        { from: { EUR: 500_000 }, percent: 0.5, fixed: {} },
      ],
    });
    expect(paymentFee(tiered, 10_000, { ...terms, volume: 99_999 }).total).toBe(157);
    expect(paymentFee(tiered, 10_000, { ...terms, volume: 100_000 }).total).toBe(110);
    expect(paymentFee(tiered, 10_000, { ...terms, volume: 900_000 }).total).toBe(50);
  });

  it("is rounded right however large the amount: half up, never by a unit off", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 10 ** 13 }),
        fc.integer({ min: 0, max: 1_000_000 }),
        (amount, millionths) => {
          const exact = (BigInt(amount) * BigInt(millionths) + 500_000n) / 1_000_000n;
          expect(share(amount, millionths / 10_000)).toBe(Number(exact));
        },
      ),
    );
  });
});

describe("a month's costs", () => {
  it("are the sum that one does by hand", () => {
    const priced = fees({
      foreign: { percent: 1.25, fixed: {} },
      refund: { EUR: 15 },
      dispute: { EUR: 1800 },
    });
    const cost = monthCost(schedule({ monthly: { EUR: 1900 } }), priced, each(4390, 1200, 8900, 640), {
      ...month,
      foreign: 25,
      refunds: 50,
      disputes: 25,
      platform: { percent: 1, fixed: { EUR: 3 } },
    });
    // 1.35 %: 0.59 + 0.16 + 1.20 + 0.09 = 2.04. Fixed: 4 × 0.22. One of four comes from abroad. Two refunds, one dispute.
    const line = (what: string) => cost.lines.find((one) => one.what === what)?.amount;
    expect([line("percent"), line("fixed"), line("refunds"), line("disputes"), line("monthly")]).toEqual([
      204, 88, 30, 1800, 1900,
    ]);
    // The platform: 0.44 + 0.12 + 0.89 + 0.06 and 4 × 0.03.
    expect(line("platform")).toBe(163);
    expect([55, 15, 111, 8]).toContain(line("foreign"));
    expect(cost.lines.find((one) => one.what === "foreign")?.times).toBe(1);
    expect(cost.total).toBe(cost.lines.reduce((all, one) => all + one.amount, 0));
    expect(cost).toMatchObject({ orders: 4, volume: 15_130 });
  });

  it("bring a payment's own fee back with its refund, where the provider does that", () => {
    const cost = monthCost(schedule(), fees({ refundReturnsFee: true }), each(4390, 4390), {
      ...month,
      refunds: 50,
    });
    expect(cost.lines.find((one) => one.what === "returned")?.amount).toBe(-81);
    expect(cost.total).toBe(81);
  });

  it("step down the tiers as the volume grows", () => {
    const tiered = fees({
      percent: 1,
      fixed: {},
      tiers: [{ from: { EUR: 20_000 }, percent: 0.5, fixed: {} }],
    });
    // The first two orders of 100.00 at 1 %, the other two at 0.5 %.
    expect(monthCost(schedule(), tiered, each(10_000, 10_000, 10_000, 10_000), month).total).toBe(300);
  });

  it("never cost less for more orders, and add up, whatever is sold", () => {
    const totals = fc.array(fc.integer({ min: 1, max: 1_000_000 }), { minLength: 1, maxLength: 40 });
    fc.assert(
      fc.property(totals, fc.integer({ min: 0, max: 100 }), (list, foreign) => {
        const priced = fees({ foreign: { percent: 1, fixed: {} } });
        const cost = monthCost(schedule(), priced, each(...list), { ...month, foreign });
        expect(cost.total).toBe(cost.lines.reduce((all, one) => all + one.amount, 0));
        const fewer = monthCost(schedule(), priced, each(...list), month);
        expect(monthCost(schedule(), priced, each(...list, 5000), month).total).toBeGreaterThan(fewer.total);
        const abroad = cost.lines.find((one) => one.what === "foreign")?.times ?? 0;
        expect(abroad).toBeLessThanOrEqual(Math.floor((list.length * foreign) / 100 + 1e-9));
      }),
    );
  });
});

const volume: Volume = {
  ...assumedVolume("EUR", 2),
  shares: { card: 100 },
  foreign: 0,
  refunds: 0,
  disputes: 0,
};
const priced = (name: string, change: Partial<MethodFees>, rest: Partial<FeeSchedule> = {}): Priced => ({
  profile: { id: name.toLowerCase(), name },
  method: { id: "card", name: "Card", kind: "card" },
  schedule: schedule(rest),
  fees: fees(change),
  converted: false,
});

describe("what an invoice would hold", () => {
  const tiers = [{ from: { EUR: 5_000_000 }, percent: 1.13, fixed: { EUR: 22 } }];

  it("changes the rate at the very payment that reaches the threshold, however orders are counted", () => {
    // 500 orders of 100.00 at 1.57 each, then 500 at 1.35.
    const counted = [{ total: 10_000, weight: 1_000 }];
    expect(monthCost(schedule(), fees({ tiers }), counted, month).total).toBe(146_000);
    const one = Array.from({ length: 1_000 }, () => 10_000);
    expect(monthCost(schedule(), fees({ tiers }), each(...one), month).total).toBe(146_000);
    // The threshold is not a multiple of the total: the payment that crosses it is the last at the old rate.
    const odd = fees({ tiers: [{ from: { EUR: 25_000 }, percent: 0, fixed: {} }] });
    expect(monthCost(schedule(), odd, [{ total: 10_000, weight: 5 }], month).total).toBe(3 * 157);
  });

  it("is the same for orders one by one and counted together, whatever the thresholds", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: 1, max: 9_000 }),
        fc.array(fc.integer({ min: 1, max: 200_000 }), { maxLength: 3 }),
        (times, total, starts) => {
          const rates = starts.map((from, i) => ({
            from: { EUR: from },
            percent: 1 - i / 10,
            fixed: { EUR: 5 },
          }));
          const priced = fees({ tiers: rates });
          const together = monthCost(schedule(), priced, [{ total, weight: times }], month).total;
          const apart = monthCost(schedule(), priced, each(...Array<number>(times).fill(total)), month).total;
          expect(together).toBe(apart);
        },
      ),
    );
  });

  it("counts the same refunds for what they cost and for what comes back", () => {
    const back = fees({ refundReturnsFee: true, refund: { EUR: 10 } });
    const { lines } = monthCost(schedule(), back, each(...Array<number>(84).fill(1_000)), {
      ...month,
      refunds: 10,
    });
    const of = (what: string) => lines.find((line) => line.what === what);
    expect(of("refunds")?.times).toBe(of("returned")?.times);
    expect(of("refunds")?.amount).toBe((of("refunds")?.times ?? 0) * 10);
  });

  it("says which fees are not known in a currency, instead of counting them as nothing in silence", () => {
    const cost = monthCost(
      schedule({ monthly: { GBP: 900 } }),
      fees({ refund: { EUR: 10 } }),
      each(1_000),
      month,
    );
    expect(cost.missing).toEqual(["monthly"]);
    expect(monthCost(schedule(), fees({ fixed: { GBP: 20 } }), each(1_000), month).missing).toEqual([
      "fixed",
    ]);
    expect(monthCost(schedule(), fees(), each(1_000), month).missing).toEqual([]);
  });

  it("has an account's month fee once, however many kinds of method it serves", () => {
    const priced = (id: string, kind: "card" | "account-wallet"): Priced => ({
      profile: { id, name: id },
      method: { id: kind, name: kind, kind },
      schedule: schedule({ monthly: { EUR: 2_000 } }),
      fees: fees({ percent: 0, fixed: {} }),
      converted: false,
    });
    const shop: Volume = {
      ...assumedVolume("EUR", 2),
      orders: 100,
      shares: { card: 50, "account-wallet": 50 },
    };
    expect(setCost([priced("a", "card"), priced("a", "account-wallet")], shop).total).toBe(2_000);
    expect(setCost([priced("a", "card"), priced("b", "account-wallet")], shop).total).toBe(4_000);
  });
});

describe("what a shop sells", () => {
  it("is a spread whose tenth and ninetieth percentiles are those that were given", () => {
    const orders = ordersOf({ ...volume, orders: 1000, totals: { kind: "spread", low: 1500, high: 18_000 } });
    const at = (part: number) => orders[Math.round(orders.length * part)]?.total ?? 0;
    expect(orders).toHaveLength(1000);
    expect(at(0.1)).toBeGreaterThan(1480);
    expect(at(0.1)).toBeLessThan(1520);
    expect(at(0.9)).toBeGreaterThan(17_700);
    expect(at(0.9)).toBeLessThan(18_300);
    // The mean of the log-normal: e^(μ + σ²/2).
    const sigma = Math.log(12) / (2 * 1.2815515655446004);
    expect(meanTotal(orders) / Math.exp(Math.log(Math.sqrt(1500 * 18_000)) + sigma ** 2 / 2)).toBeCloseTo(
      1,
      1,
    );
  });

  it("stands for more orders than are worked through, and never for none", () => {
    const many = ordersOf({ ...volume, orders: 100_000 });
    expect(many).toHaveLength(2000);
    expect(many.reduce((all, one) => all + one.weight, 0)).toBeCloseTo(100_000);
    expect(ordersOf({ ...volume, orders: 0 })).toEqual([]);
    const counted = ordersOf({
      ...volume,
      orders: 30,
      totals: {
        kind: "orders",
        from: "file",
        counted: [
          [100, 1],
          [200, 2],
        ],
      },
    });
    expect(counted).toEqual([
      { total: 100, weight: 10 },
      { total: 200, weight: 20 },
    ]);
    expect(countTotals([200, 100, 200, 0, -5])).toEqual([
      [100, 1],
      [200, 2],
    ]);
  });

  it("has quantiles that fit the standard normal distribution", () => {
    for (const [p, z] of [
      [0.5, 0],
      [0.9, 1.2815516],
      [0.025, -1.959964],
      [0.999, 3.0902323],
    ] as const)
      expect(normalQuantile(p)).toBeCloseTo(z, 5);
    expect(normalQuantile(1e-20)).toBeCloseTo(-9.2623, 3);
  });

  it("is worked through in an order of its own, each order once", () => {
    const strata = each(...Array.from({ length: 97 }, (_, i) => i + 1));
    expect(
      mixed(strata)
        .map((one) => one.total)
        .sort((a, b) => a - b),
    ).toEqual(strata.map((one) => one.total));
    expect(mixed([])).toEqual([]);
  });

  it("is refused in words when it cannot be", () => {
    const says = (change: object) => {
      const reading = readVolume({ ...volume, ...change });
      return reading.ok
        ? {}
        : Object.fromEntries(spoken(reading.problems).map((one) => [one.path, one.says]));
    };
    expect(says({})).toEqual({});
    expect(says({ totals: { kind: "spread", low: 5000, high: 4000 } })).toHaveProperty("high");
    expect(says({ shares: { card: 80, instalments: 30 } })).toEqual({
      shares: "The shares add up to 110 percent.",
    });
    expect(says({ orders: 0 })).toHaveProperty("orders");
    expect(says({ foreign: 101 })).toHaveProperty("foreign");
    expect(says({ totals: { kind: "orders", from: "file", counted: [[1.5, 1]] } })).toHaveProperty([
      "totals.counted",
    ]);
    const counted = { kind: "orders", from: "file", counted: [[1500, 2]] };
    expect(says({ totals: counted })).toEqual({});
    expect(says({ totals: { ...counted, kind: "guesses" } })).toHaveProperty(["totals.kind"]);
    for (const junk of [null, 7, [], { toString: 1 }]) expect(readVolume(junk).ok).toBe(false);
  });
});

describe("a choice between providers", () => {
  const cheapFixed = priced("Low", { percent: 2, fixed: {} });
  const cheapPercent = priced("Flat", { percent: 0, fixed: { EUR: 100 } });

  it("crosses over where both cost the same", () => {
    // 2 % of 50.00 is 1.00: below, the share is cheaper; above, the flat fee.
    const alike: Volume = {
      ...volume,
      orders: 100,
      totals: { kind: "orders", from: "file", counted: [[4000, 1]] },
    };
    const [found] = crossings(cheapFixed, cheapPercent, alike).filter((one) => one.by === "average");
    expect(found).toMatchObject({ below: "Low", above: "Flat" });
    expect(found?.at).toBeGreaterThan(4950);
    expect(found?.at).toBeLessThan(5050);
    expect(crossings(cheapFixed, cheapFixed, alike)).toEqual([]);
  });

  it("crosses over in orders a month where one has a monthly price", () => {
    const monthly = priced("Monthly", { percent: 0, fixed: { EUR: 50 } }, { monthly: { EUR: 2500 } });
    const plain = priced("Plain", { percent: 0, fixed: { EUR: 75 } });
    const [found] = crossings(monthly, plain, volume).filter((one) => one.by === "orders");
    // 25.00 a month against 0.25 an order: a hundred orders.
    expect(found).toMatchObject({ below: "Plain", above: "Monthly" });
    expect(found?.at).toBeGreaterThan(98);
    expect(found?.at).toBeLessThan(102);
  });

  it("reckons what a wallet rides on into its costs, for its own payments alone", () => {
    const wallet: Priced = {
      ...priced("Thumb", { percent: 0.1, fixed: {} }, { monthly: { EUR: 500 } }),
      method: { id: "thumb", name: "Thumb", kind: "device-wallet" },
      carrier: {
        name: "Card",
        fees: fees({
          foreign: { percent: 1, fixed: {} },
          tiers: [{ from: { EUR: 30_000 }, percent: 1, fixed: {} }],
        }),
        converted: false,
      },
    };
    const sold: Volume = {
      ...volume,
      orders: 2,
      totals: { kind: "orders", from: "file", counted: [[10_000, 2]] },
      shares: { "device-wallet": 100 },
      platform: { percent: 0, fixed: { EUR: 5 } },
    };
    // Each of two payments of 100.00: 0.10 to the wallet, 1.35 and 0.22 to the card provider, 0.05 to the platform;
    // and the wallet's 5.00 a month.
    const cost = costOf(wallet, sold);
    expect(cost.lines).toMatchObject([
      { what: "percent", amount: 290, times: 2 },
      { what: "fixed", amount: 44 },
      { what: "monthly", amount: 500 },
      { what: "platform", amount: 10 },
    ]);
    expect([cost.total, cost.perOrder, cost.orders]).toEqual([844, 422, 2]);
    expect(setCost([wallet], sold).by).toMatchObject([
      { name: "Thumb", ridesOn: "Card", cost: { total: 844 } },
    ]);
  });

  it("takes the cheapest of a set for each kind, and names what nobody takes", () => {
    const set = setCost([cheapFixed, cheapPercent], { ...volume, shares: { card: 90, instalments: 10 } });
    expect(set.by).toHaveLength(1);
    expect(set.uncovered).toEqual(["instalments"]);
    expect(set.total).toBe(
      Math.min(
        costOf(cheapFixed, { ...volume, shares: { card: 90 } }).total,
        costOf(cheapPercent, { ...volume, shares: { card: 90 } }).total,
      ),
    );
    expect(set.by[0]?.cost.orders).toBe(270);
  });

  it("is drawn over a range of average orders", () => {
    const [low, flat] = sensitivity([cheapFixed, cheapPercent], volume);
    expect(low?.points.length).toBe(flat?.points.length);
    expect(new Set(flat?.points.map((one) => one.perOrder))).toEqual(new Set([100]));
    const rising = low?.points.map((one) => one.perOrder) ?? [];
    expect([...rising].sort((a, b) => a - b)).toEqual(rising);
  });
});
