import { money } from "../money/money";
import { describe, expect, it } from "vitest";
import { rehearsalCases } from "./cases";
import { expectedState, inCurrency, isTold, judge, nothingObserved, type Observed } from "./judge";

// Each case is won by what it is about, and lost when any one thing that it checks is otherwise.

const totals = (captured: number) => ({
  authorised: money(4390, "EUR"),
  captured: money(captured, "EUR"),
  refunded: money(0, "EUR"),
});
const plan = (payments: number) => ({
  payments,
  each: money(4392 / payments, "EUR"),
  total: money(4390, "EUR"),
});
const ideal = (id: string, policy: "at-once" | "later"): Observed => {
  const script = rehearsalCases.find((one) => one.id === id);
  if (!script) throw new Error(id);
  return {
    state: expectedState(script, policy),
    dispute: script.dispute ?? null,
    ...{ untold: false, free: false },
    ...{ webhooks: 2, withheld: 1, repeated: 1, overtaken: 1, early: 1, late: 1, refused: 1 },
    charges: script.checks.includes("no-charge") ? 0 : 1,
    ...{ asks: 2, waits: 1, refundsWaited: 1, refundsFailed: 1, amountsTold: 1 },
    ...{ kept: 1, renewals: 2, planned: 2, refusals: 1, asked: 1, shopAnswers: 1, strangersRefused: 1 },
    ...{ plansTold: [plan(3), plan(12)], planAgreed: plan(12) },
    ours: totals(4390),
    theirs: totals(4390),
  };
};
const otherwise: Record<string, Partial<Observed>> = {
  "webhook-arrived": { webhooks: 0 },
  "webhook-withheld": { withheld: 0 },
  "webhook-repeated": { repeated: 0 },
  "webhook-overtaken": { overtaken: 0 },
  "one-charge": { charges: 2 },
  "webhook-early": { early: 0 },
  "webhook-late": { late: 0 },
  "forgery-refused": { refused: 0 },
  "no-charge": { charges: 1 },
  "asked-again": { asks: 1 },
  waited: { waits: 0 },
  "refund-waited": { refundsWaited: 0 },
  "refund-failed": { refundsFailed: 0 },
  "amount-told": { amountsTold: 0 },
  "amounts-agree": { theirs: totals(0) },
  kept: { kept: 0 },
  "shop-answered": { shopAnswers: 0 },
  "strangers-refused": { strangersRefused: 0 },
  "plan-as-told": { planAgreed: plan(6) },
  "periods-as-planned": { renewals: 3 },
  "refused-first": { refusals: 0 },
  "shopper-asked": { asked: 0 },
};

describe.each(rehearsalCases.map((one) => [one.id, one] as const))("the case %s", (id, script) => {
  it.each(["at-once", "later"] as const)("is won by what it is about, capturing %s", (policy) => {
    expect(judge(script, policy, ideal(id, policy)).filter((one) => !one.ok)).toEqual([]);
  });

  it("is lost by a wrong state, or when nothing happened", () => {
    for (const state of ["pending", "authorised", "declined"] as const)
      if (state !== expectedState(script, "at-once") && !script.shop)
        expect(judge(script, "at-once", { ...ideal(id, "at-once"), state })[0]?.ok).toBe(false);
  });

  it("is lost when any one thing that it checks is otherwise, and by nothing else", () => {
    for (const [check, change] of Object.entries(otherwise)) {
      const observed = { ...ideal(id, "at-once"), ...change };
      const lost = judge(script, "at-once", observed).filter((one) => !one.ok);
      const isIdeal = JSON.stringify(observed) === JSON.stringify(ideal(id, "at-once"));
      // Of how many payments there are, some cases say opposite things.
      const counts = "charges" in change && script.checks.some((one) => /^(one|no)-charge$/.test(one));
      const checked = counts || (script.checks as string[]).includes(check);
      if (isIdeal) continue;
      expect(lost.length, check).toBe(checked ? 1 : 0);
    }
  });

  it("finds a payment that the provider does not know, or that should not be", () => {
    const charges = script.checks.includes("no-charge") ? 1 : 0;
    const lost = judge(script, "at-once", { ...ideal(id, "at-once"), charges }).some((one) => !one.ok);
    // Where only the shop is asked, the provider is not.
    expect(lost).toBe(!script.shop);
  });

  it("is lost by another dispute, or none, where it is about one", () => {
    const lost = judge(script, "at-once", { ...ideal(id, "at-once"), dispute: "answered" });
    expect(lost.every((one) => one.ok)).toBe(script.dispute === undefined);
  });

  it("says what was expected beside what happened", () => {
    for (const verdict of judge(script, "at-once", ideal(id, "at-once"))) {
      expect(verdict.what).not.toBe("");
      expect(verdict.expected).not.toBe("");
      expect(verdict.happened).not.toBe("");
    }
  });
});

describe("a case in several currencies", () => {
  it("says of each verdict which currency it is about", () => {
    const script = rehearsalCases.find((one) => one.id === "each-currency");
    if (!script) throw new Error("there is no such case");
    const verdicts = inCurrency(judge(script, "at-once", ideal("each-currency", "at-once")), "GBP");
    expect(verdicts.length).toBeGreaterThan(1);
    for (const { what, ok } of verdicts) {
      expect(ok).toBe(true);
      expect(what.values).toMatchObject({ currency: "GBP" });
    }
  });

  it("is lost where nothing was observed", () => {
    for (const script of rehearsalCases)
      expect(judge(script, "at-once", nothingObserved).every((one) => one.ok)).toBe(
        script.expects === "none" && !script.shop,
      );
  });
});

describe("an outcome of which the provider sends no message", () => {
  const declined = rehearsalCases.find(
    (one) => one.expects === "declined" && one.checks.includes("webhook-arrived"),
  );

  it("waits for none, and for all else", () => {
    if (!declined) throw new Error("no case is declined");
    const silent = { ...ideal(declined.id, "at-once"), webhooks: 0, untold: true };
    expect(judge(declined, "at-once", silent).filter((one) => !one.ok)).toEqual([]);
    expect(judge(declined, "at-once", { ...silent, charges: 2 }).some((one) => !one.ok)).toBe(true);
    expect(judge(declined, "at-once", { ...silent, untold: false }).some((one) => !one.ok)).toBe(true);
  });

  it("is named by its state, a part as the whole", () => {
    expect(isTold("declined", ["declined"])).toBe(false);
    expect(isTold("partly-refunded", ["refunded"])).toBe(false);
    expect(isTold("captured", ["declined"])).toBe(true);
    expect(isTold("none", ["declined"])).toBe(true);
  });
});
