import { money } from "../money/money";
import { describe, expect, it } from "vitest";
import { expectedState, judge, type Observed, rehearsalCases } from "./cases";

// Each case is won by what it is about, and lost when any one thing that it checks is otherwise.

const totals = (captured: number) => ({
  authorised: money(4390, "EUR"),
  captured: money(captured, "EUR"),
  refunded: money(0, "EUR"),
});
const ideal = (id: string, policy: "at-once" | "later"): Observed => {
  const script = rehearsalCases.find((one) => one.id === id);
  if (!script) throw new Error(id);
  return {
    state: expectedState(script, policy),
    webhooks: 2,
    withheld: 1,
    repeated: 1,
    overtaken: 1,
    refused: 1,
    charges: 1,
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
  "forgery-refused": { refused: 0 },
  "amounts-agree": { theirs: totals(0) },
};

describe.each(rehearsalCases.map((one) => [one.id, one] as const))("the case %s", (id, script) => {
  it.each(["at-once", "later"] as const)("is won by what it is about, capturing %s", (policy) => {
    expect(judge(script, policy, ideal(id, policy)).filter((one) => !one.ok)).toEqual([]);
  });

  it("is lost by a wrong state, or when nothing happened", () => {
    for (const state of ["pending", "none", "disputed"] as const)
      expect(judge(script, "at-once", { ...ideal(id, "at-once"), state })[0]?.ok).toBe(false);
  });

  it("is lost when any one thing that it checks is otherwise, and by nothing else", () => {
    for (const [check, change] of Object.entries(otherwise)) {
      const lost = judge(script, "at-once", { ...ideal(id, "at-once"), ...change }).filter((one) => !one.ok);
      const checked = (script.checks as string[]).includes(check);
      expect(lost.length, check).toBe(checked ? 1 : 0);
    }
  });

  it("finds a payment that the provider does not know", () => {
    expect(judge(script, "at-once", { ...ideal(id, "at-once"), charges: 0 }).some((one) => !one.ok)).toBe(
      true,
    );
  });

  it("says what was expected beside what happened", () => {
    for (const verdict of judge(script, "at-once", ideal(id, "at-once"))) {
      expect(verdict.what).not.toBe("");
      expect(verdict.expected).not.toBe("");
      expect(verdict.happened).not.toBe("");
    }
  });
});
