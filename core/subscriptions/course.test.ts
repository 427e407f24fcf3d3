import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { declineReasons } from "../payments/facts";
import { asksBy, type Course, nextAsk, nextDeed, type OpenPeriod } from "./course";
import { type Trying, usualTrying } from "./plan";

const DAY = 86_400_000;
const DUE = 100 * DAY;
const open: OpenPeriod = {
  number: 3,
  dueAt: DUE,
  tries: 1,
  triedAt: DUE,
  asks: 1,
  payment: "refused",
  reason: "insufficient-funds",
  chargeable: true,
};
const course: Course = { state: "running", nextDue: DUE, lastBefore: null, open: null, trying: usualTrying };
const behind = (change: Partial<OpenPeriod> = {}): Course => ({
  ...course,
  state: "behind",
  open: { ...open, ...change },
});

describe("what is done next for a subscription", () => {
  it("is to write a period down when it is due, and not before", () => {
    expect(nextDeed(course, DUE - 1)).toEqual({ do: "wait", until: DUE });
    expect(nextDeed(course, DUE)).toEqual({ do: "open" });
    expect(nextDeed({ ...course, state: "paused" }, DUE)).toEqual({ do: "wait", until: null });
    expect(nextDeed({ ...course, state: "waiting" }, DUE)).toEqual({ do: "wait", until: null });
    expect(nextDeed({ ...course, state: "ended" }, DUE)).toEqual({ do: "wait", until: null });
  });

  it("is to end when the last period is over", () => {
    const last = { ...course, lastBefore: "complete" as const };
    expect(nextDeed(last, DUE - 1)).toEqual({ do: "wait", until: DUE });
    expect(nextDeed(last, DUE)).toEqual({ do: "end", because: "complete" });
    expect(nextDeed({ ...last, state: "paused", lastBefore: "cancelled" }, DUE)).toEqual({
      do: "end",
      because: "cancelled",
    });
  });

  it("is to charge what was written down, and to settle it once it has come", () => {
    expect(nextDeed(behind({ tries: 0, triedAt: null, payment: "none" }), DUE)).toEqual({ do: "charge" });
    expect(nextDeed(behind({ payment: "under-way" }), DUE)).toMatchObject({ do: "wait" });
    expect(nextDeed(behind({ payment: "paid" }), DUE)).toEqual({ do: "settle" });
    expect(nextDeed(behind({ payment: "called-off" }), DUE)).toEqual({ do: "let-off" });
  });

  it("is to wait for what was under way as it ended, and to call the rest off", () => {
    const ended = (payment: OpenPeriod["payment"]) =>
      nextDeed({ ...behind({ payment }), state: "ended" }, DUE);
    expect(ended("under-way")).toMatchObject({ do: "wait" });
    expect(ended("paid")).toEqual({ do: "settle" });
    expect(ended("refused")).toEqual({ do: "let-off" });
    expect(ended("none")).toEqual({ do: "let-off" });
  });

  it("counts the letters that are due, of which those that went by are one, and says when the next is", () => {
    const plan = { asks: [3, 10] };
    const at = (days: number) => [asksBy(plan, DUE, DUE + days * DAY), nextAsk(plan, DUE, DUE + days * DAY)];
    expect(at(3)).toEqual([1, DUE + 10 * DAY]);
    expect(at(9)).toEqual([1, DUE + 10 * DAY]);
    expect(at(30)).toEqual([2, null]);
    expect(nextAsk({ asks: [] }, DUE, DUE)).toBeNull();
  });

  it("is to ask and to try again by the plan, until it ends", () => {
    expect(nextDeed(behind({ asks: 0 }), DUE)).toEqual({ do: "ask-shopper" });
    expect(nextDeed(behind(), DUE)).toEqual({ do: "wait", until: DUE + DAY });
    expect(nextDeed(behind(), DUE + DAY)).toEqual({ do: "charge" });
    expect(nextDeed(behind({ triedAt: DUE + DAY, tries: 2 }), DUE + DAY)).toEqual({
      do: "wait",
      until: DUE + 3 * DAY,
    });
    expect(nextDeed(behind({ triedAt: DUE + 3 * DAY }), DUE + 5 * DAY)).toEqual({ do: "ask-shopper" });
    expect(nextDeed(behind({ triedAt: DUE + 7 * DAY, asks: 2 }), DUE + 8 * DAY)).toEqual({
      do: "wait",
      until: DUE + 14 * DAY,
    });
    expect(nextDeed(behind({ asks: 2 }), DUE + 14 * DAY)).toEqual({ do: "end", because: "unpaid" });
  });

  it("is never to charge again what cannot be good, nor what is there no more", () => {
    expect(nextDeed(behind({ reason: "expired-card" }), DUE + DAY)).toEqual({
      do: "wait",
      until: DUE + 5 * DAY,
    });
    expect(nextDeed(behind({ chargeable: false, tries: 0, asks: 0 }), DUE)).toEqual({ do: "ask-shopper" });
    expect(nextDeed(behind({ chargeable: false, tries: 0 }), DUE + DAY)).toEqual({
      do: "wait",
      until: DUE + 5 * DAY,
    });
  });

  it("is one letter where several went by", () => {
    expect(asksBy(usualTrying, DUE, DUE + 6 * DAY)).toBe(2);
    expect(asksBy({ ...usualTrying, asks: [3] }, DUE, DUE)).toBe(1);
  });

  it("comes to rest whatever is refused when, charges no more often than the plan says, and never after the end", () => {
    const rising = (most: number) =>
      fc
        .uniqueArray(fc.integer({ min: 1, max: 30 }), { maxLength: most })
        .map((days) => days.sort((a, b) => a - b));
    const trying: fc.Arbitrary<Trying> = fc.record({
      tries: rising(5),
      asks: rising(3),
      ends: fc.option(fc.integer({ min: 31, max: 60 })),
    });
    const answers = fc.array(fc.constantFrom(...declineReasons, "paid" as const), {
      minLength: 12,
      maxLength: 12,
    });
    fc.assert(
      fc.property(trying, answers, fc.integer({ min: 0, max: 40 }), (plan, said, asleep) => {
        let now = DUE + asleep * DAY;
        let one: OpenPeriod = { ...open, tries: 0, triedAt: null, asks: 0, payment: "none", reason: null };
        for (let turn = 0; ; turn++) {
          expect(turn).toBeLessThan(60);
          const deed = nextDeed({ ...course, state: "behind", open: one, trying: plan }, now);
          if (deed.do === "settle") {
            expect(one.payment).toBe("paid");
            return;
          }
          if (deed.do === "end") {
            expect(plan.ends !== null && now >= DUE + plan.ends * DAY).toBe(true);
            return;
          }
          if (deed.do === "wait") {
            // Nobody waits for anything in the past.
            if (deed.until === null) return;
            expect(deed.until).toBeGreaterThan(now);
            now = deed.until;
          } else if (deed.do === "charge") {
            const answer = said[one.tries % said.length] ?? "paid";
            expect(one.tries).toBeLessThanOrEqual(plan.tries.length);
            one = {
              ...{ ...one, tries: one.tries + 1, triedAt: now },
              ...(answer === "paid" ? { payment: "paid" } : { payment: "refused", reason: answer }),
            };
          } else {
            expect(deed.do).toBe("ask-shopper");
            one = { ...one, asks: asksBy(plan, DUE, now) };
          }
        }
      }),
    );
  });
});
