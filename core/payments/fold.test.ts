import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  attemptStates,
  declineReasons,
  disputeStates,
  type Liability,
  movementStates,
  type Report,
  type Statement,
} from "./facts";
import { fold } from "./fold";
import { type AuthenticationResult, authenticationResults } from "../profiles/profile-types";

const facts = (...statements: Statement[]) => statements.map((statement) => ({ statement }));
const standingOf = (...statements: Statement[]) => fold(facts(...statements));
const stateOf = (...statements: Statement[]) => standingOf(...statements).state;
const report = (rest: Omit<Report, "object">): Report => ({ object: "report", ...rest });
const held = (amount: number, id = "a"): Statement => ({
  object: "authorisation",
  id,
  amount,
  state: "held",
});
const move = (
  object: "capture" | "release" | "refund",
  id: string,
  amount: number,
  state: (typeof movementStates)[number] = "succeeded",
): Statement => ({ object, id, amount, state });

const amount = fc.integer({ min: 0, max: 5000 });
const id = fc.constantFrom("1", "2", "3");
const sequence = fc.option(fc.integer({ min: 0, max: 6 }), { nil: undefined });
const ordered = (one: Statement, at: number | undefined): Statement =>
  at === undefined || one.object === "misfit" || one.object === "decision" ? one : { ...one, sequence: at };
const statement: fc.Arbitrary<Statement> = fc
  .tuple(
    fc.oneof(
      fc
        .record(
          { authorised: amount, captured: amount, released: amount, refunded: amount },
          { requiredKeys: [] },
        )
        .chain((totals) =>
          fc
            .constantFrom(
              ...([
                "pending",
                "to-confirm",
                "authorised",
                "captured",
                "verified",
                "voided",
                "expired",
                "disputed",
                null,
              ] as const),
            )
            .map((status) => report({ ...totals, status, ...(status === null && { word: "frozen" }) })),
        ),
      fc
        .constantFrom(...declineReasons)
        .map((reason): Statement => report({ status: "declined", reason, code: reason.slice(0, 2) })),
      fc
        .tuple(fc.constantFrom(undefined, "1", "2"), fc.constantFrom(...attemptStates))
        .map(([of, state]): Statement => ({ object: "attempt", state, ...(of && { id: of }) })),
      fc
        .tuple(id, amount, fc.constantFrom("held" as const, "ended" as const))
        .map(([of, n, state]): Statement => ({ object: "authorisation", id: of, amount: n, state })),
      fc
        .tuple(
          fc.constantFrom("capture" as const, "release" as const, "refund" as const),
          id,
          amount,
          fc.constantFrom(...movementStates),
        )
        .map(([object, of, n, state]) => move(object, of, n, state)),
      fc
        .tuple(id, fc.integer({ min: 1, max: 3 }), amount, fc.constantFrom(...disputeStates))
        .map(([of, stage, n, state]): Statement => ({ object: "dispute", id: of, stage, amount: n, state })),
      fc
        .constantFrom("open" as const, "passed" as const, "refused" as const)
        .map((state): Statement => ({ object: "review", id: "r", state })),
      amount.map((n): Statement => ({ object: "fee", id: "f", amount: n, currency: "EUR" })),
      fc
        .tuple(id, fc.constantFrom(...authenticationResults), fc.constantFrom("issuer", "shop", undefined))
        .map(([of, result, liability]): Statement => ({
          ...{ object: "authentication", id: of, result },
          ...(liability && { liability }),
        })),
      fc
        .tuple(id, amount, amount, fc.constantFrom("paid" as const, "failed" as const))
        .map(([of, n, fee, state]): Statement => ({
          ...{ object: "settlement", id: of, payout: "p", amount: n, fee, settled: "EUR", state },
        })),
      amount.map((n): Statement => ({ object: "misfit", amount: n, currency: "EUR" })),
      fc.tuple(fc.integer({ min: 1, max: 12 }), amount, amount).map(([payments, n, total]): Statement => ({
        ...{ object: "instalments", id: "plan", payments, amount: n, total },
      })),
    ),
    sequence,
  )
  .map(([one, at]) => ordered(one, at));

describe("fold", () => {
  it("is indifferent to the order and the repetition of facts, also of failures that undo", () => {
    fc.assert(
      fc.property(fc.array(statement, { maxLength: 25 }), fc.infiniteStream(fc.nat()), (list, picks) => {
        const shuffled = [...list]
          .map((item) => ({ item, rank: picks.next().value as number }))
          .sort((a, b) => a.rank - b.rank)
          .map(({ item }) => item);
        const repeated = shuffled.flatMap((item, i) => (i % 2 ? [item, item] : [item]));
        expect(standingOf(...repeated, ...shuffled.slice(0, 3))).toEqual(standingOf(...list));
      }),
    );
  });

  it("has come to its end where nothing was asked for and what it is paid with is good", () => {
    const verified = report({ status: "verified", authorised: 0, captured: 0 });
    expect(standingOf(report({ status: "pending" }), verified)).toMatchObject({
      ...{ state: "captured", authorised: 0, captured: 0, held: 0, refusal: null },
    });
    // Money that is told of all the same outweighs it.
    expect(stateOf(verified, held(500))).toBe("authorised");
  });

  it("takes what a report says of objects with the report's own sequence", () => {
    const told = (sequence: number, state: "pending" | "succeeded" | "failed") =>
      report({
        sequence,
        status: "captured",
        captured: 900,
        parts: [{ object: "refund", id: "1", amount: 300, state }],
      });
    expect(standingOf(told(2, "succeeded"), told(3, "pending"), told(1, "failed"))).toMatchObject({
      refunding: 300,
      refunded: 0,
    });
  });

  it("never makes money: what is held, captured and released is what was authorised", () => {
    fc.assert(
      fc.property(fc.array(statement, { maxLength: 25 }), (list) => {
        const { authorised, captured, released, held: kept, refunded, contradiction } = standingOf(...list);
        expect(captured + released + kept).toBe(authorised);
        for (const one of [captured, released, kept, refunded]) expect(one).toBeGreaterThanOrEqual(0);
        expect(contradiction).toBe(refunded > captured);
      }),
    );
  });

  it("follows the life of a payment told by objects", () => {
    expect(stateOf()).toBe("created");
    expect(stateOf({ object: "attempt", state: "created" })).toBe("created");
    expect(stateOf({ object: "attempt", state: "unanswered" })).toBe("pending");
    expect(standingOf(held(900), move("capture", "1", 400))).toMatchObject({
      state: "partly-captured",
      held: 500,
    });
    expect(
      standingOf(held(900), move("capture", "1", 400), move("capture", "2", 300), move("release", "1", 200)),
    ).toMatchObject({ state: "partly-captured", captured: 700, released: 200, held: 0 });
    expect(stateOf(held(900), move("release", "1", 900))).toBe("voided");
    expect(stateOf(held(900), move("capture", "1", 900), move("refund", "1", 1))).toBe("partly-refunded");
  });

  it("follows the life of a payment told by totals", () => {
    expect(stateOf(report({ status: "pending" }))).toBe("pending");
    expect(stateOf(report({ status: "authorised", authorised: 900 }))).toBe("authorised");
    const part = report({ status: "captured", authorised: 900, captured: 400 });
    expect(standingOf(part)).toMatchObject({ state: "partly-captured", held: 500 });
    expect(standingOf(part, report({ status: "captured", captured: 400, released: 500 }))).toMatchObject({
      held: 0,
      released: 500,
    });
    expect(stateOf(report({ status: "refunded", captured: 900, refunded: 900 }))).toBe("refunded");
    expect(stateOf(report({ authorised: 900 }), report({ status: "voided" }))).toBe("voided");
    expect(stateOf(report({ status: "failed" }))).toBe("failed");
    expect(standingOf(report({ status: "declined", reason: "wrong-code", code: "R82" }))).toMatchObject({
      state: "declined",
      refusal: { reason: "wrong-code", code: "R82" },
    });
  });

  it("lets a refund fail, and the money come back", () => {
    const paid = [held(900), move("capture", "1", 900)];
    expect(standingOf(...paid, move("refund", "1", 300, "pending"))).toMatchObject({
      state: "captured",
      refunding: 300,
      refunded: 0,
    });
    const given = [...paid, move("refund", "1", 300), move("refund", "2", 200)];
    expect(standingOf(...given)).toMatchObject({ state: "partly-refunded", refunded: 500 });
    expect(standingOf(move("refund", "1", 300, "failed"), ...given)).toMatchObject({ refunded: 200 });
    // Told as totals, by a provider that counts: the later count holds.
    const counted = (sequence: number, refunded: number) =>
      report({ sequence, status: "captured", captured: 900, refunded });
    expect(standingOf(counted(3, 0), counted(2, 300), counted(1, 0))).toMatchObject({
      state: "captured",
      refunded: 0,
    });
  });

  it("does not let a refused attempt hide what is held by another", () => {
    const attempt = (of: string, state: "declined" | "pending"): Statement => ({
      object: "attempt",
      id: of,
      state,
      ...(state === "declined" && { reason: "insufficient-funds" }),
    });
    expect(standingOf(attempt("1", "declined"), held(900, "2"))).toMatchObject({
      state: "authorised",
      held: 900,
      refusal: { reason: "insufficient-funds" },
    });
    expect(stateOf(attempt("1", "declined"), attempt("2", "pending"))).toBe("pending");
    expect(stateOf(attempt("1", "declined"))).toBe("declined");
    expect(stateOf(report({ status: "declined" }), report({ status: "authorised", authorised: 900 }))).toBe(
      "authorised",
    );
  });

  it("shows a yes that came after we gave up", () => {
    const given: Statement[] = [
      { object: "attempt", state: "expired" },
      { object: "attempt", state: "failed" },
    ];
    expect(stateOf(...given)).toBe("expired");
    expect(stateOf(...given, held(900))).toBe("authorised");
    expect(stateOf(...given, report({ status: "captured", captured: 900 }))).toBe("captured");
  });

  it("says how a payment ended: turned back, overdue, voided, or ended by itself", () => {
    const released = report({ status: "voided", authorised: 900 });
    expect(stateOf({ object: "attempt", state: "cancelled" }, released)).toBe("cancelled");
    expect(stateOf({ object: "attempt", state: "expired" }, released)).toBe("expired");
    expect(stateOf(released)).toBe("voided");
    const ended: Statement = { object: "authorisation", id: "a", amount: 900, state: "ended" };
    expect(standingOf(held(900), ended)).toMatchObject({ state: "expired", released: 900, held: 0 });
    expect(standingOf(ended, held(400, "b"))).toMatchObject({ state: "authorised", held: 400 });
  });

  it("keeps dispute and review on axes of their own, and lets a dispute end", () => {
    const paid = [held(900), move("capture", "1", 900)];
    const dispute = (stage: number, state: (typeof disputeStates)[number], due?: number): Statement => ({
      object: "dispute",
      id: "d",
      stage,
      amount: 600,
      state,
      ...(due && { due }),
    });
    expect(standingOf(...paid, dispute(1, "open", 5))).toMatchObject({
      state: "disputed",
      inDispute: 600,
      dispute: { due: 5 },
    });
    expect(standingOf(...paid, dispute(1, "won"), dispute(1, "open"))).toMatchObject({
      state: "captured",
      inDispute: 0,
      dispute: { state: "won" },
    });
    expect(standingOf(...paid, dispute(1, "won"), dispute(2, "open"))).toMatchObject({ inDispute: 600 });
    expect(standingOf(...paid, dispute(2, "lost"))).toMatchObject({ state: "disputed", lost: 600 });
    expect(standingOf(held(900), { object: "review", id: "r", state: "open" })).toMatchObject({
      state: "authorised",
      review: "open",
    });
    // Told as a status alone, it ends with the next report of a provider that counts.
    const status = (sequence: number, name: "disputed" | "captured") =>
      report({ sequence, status: name, captured: 900 });
    expect(standingOf(status(2, "disputed"))).toMatchObject({ state: "disputed", inDispute: 900 });
    expect(stateOf(status(3, "captured"), status(2, "disputed"))).toBe("captured");
  });

  it("tells what came of asking who the shopper is: of several tries the one that says most", () => {
    const asked = (id: string, result: AuthenticationResult, liability?: Liability): Statement => ({
      ...{ object: "authentication", id, result },
      ...(liability && { liability }),
    });
    expect(standingOf(held(900)).authentication).toBeNull();
    expect(standingOf(asked("1", "failed"), asked("2", "passed", "issuer")).authentication).toEqual({
      result: "passed",
      liability: "issuer",
    });
    expect(standingOf(asked("1", "passed"), asked("1", "not-asked")).authentication?.result).toBe("passed");
    expect(standingOf(asked("1", "exempt", "shop"), held(900)).state).toBe("authorised");
  });

  it("says what it does not understand, and counts no money of it", () => {
    expect(standingOf(report({ status: null, word: "frozen" })).unknownStatus).toBe("frozen");
    const misfit: Statement = { object: "misfit", amount: 99_999_999, currency: "EUR" };
    expect(standingOf(held(900), misfit)).toMatchObject({ authorised: 900, misfits: [misfit] });
    expect(standingOf(move("refund", "1", 5)).contradiction).toBe(true);
  });

  it("knows what was paid out, less what was taken back or came back, and the fee where nobody else tells it", () => {
    const settled = (id: string, n: number, fee: number, state: "paid" | "failed" = "paid"): Statement => ({
      ...{ object: "settlement", id, payout: id.slice(0, 1), amount: n, fee, settled: "EUR", state },
    });
    const taken = move("capture", "c", 900);
    expect(standingOf(taken)).toMatchObject({ paidOut: 0, fees: {} });
    expect(standingOf(taken, settled("A1", 900, 34))).toMatchObject({ paidOut: 900, fees: { EUR: 34 } });
    expect(standingOf(taken, settled("A1", 900, 34), settled("B1", -300, 0)).paidOut).toBe(600);
    // A payout that came back has paid nothing, in whichever order that is heard.
    const back = settled("A1", 900, 34, "failed");
    expect(standingOf(back, taken, settled("A1", 900, 34))).toMatchObject({ paidOut: 0, fees: {} });
    const told: Statement = { object: "fee", id: "f", amount: 30, currency: "EUR" };
    expect(standingOf(taken, settled("A1", 900, 34), told).fees).toEqual({ EUR: 30 });
  });

  it("waits for the call that makes it while it is only prepared, and no longer once anything has come of it", () => {
    const prepared = report({ status: "to-confirm" });
    expect(standingOf(prepared)).toMatchObject({ state: "pending", toConfirm: true });
    expect(standingOf(report({ status: "pending" }), prepared).toConfirm).toBe(true);
    expect(standingOf(report({ status: "pending" })).toConfirm).toBe(false);
    const ends: Statement[] = [
      report({ status: "authorised", authorised: 2490 }),
      report({ status: "captured", authorised: 2490, captured: 2490 }),
      report({ status: "declined", code: "poor" }),
      report({ status: "voided" }),
      ...(["declined", "failed", "expired", "cancelled"] as const).map((state): Statement => ({
        object: "attempt",
        state,
      })),
      held(2490),
    ];
    for (const end of ends) expect(standingOf(prepared, end).toConfirm).toBe(false);
    // A later word takes the place of an earlier one.
    const counted = (status: Report["status"], at: number) => report({ status, sequence: at });
    expect(standingOf(counted("to-confirm", 2), counted("pending", 1)).toConfirm).toBe(true);
    expect(standingOf(counted("to-confirm", 2), counted("pending", 3)).toConfirm).toBe(false);
  });

  it("knows which plan the shopper agreed to: of several the one that was told last", () => {
    const plan = (payments: number, each: number, at: number): Statement => ({
      ...{ object: "report", sequence: at, status: "authorised", authorised: 900 },
      parts: [{ object: "instalments", id: "plan", payments, amount: each, total: payments * each }],
    });
    expect(standingOf(report({ status: "pending" })).instalments).toBeNull();
    const standing = standingOf(plan(12, 80, 2), plan(3, 300, 1));
    expect(standing.instalments).toEqual({ payments: 12, amount: 80, total: 960 });
    expect(standing.authorised).toBe(900);
  });

  it("adds up fees by currency and says when a hold ends", () => {
    const fee = (of: string, n: number, currency: string): Statement => ({
      object: "fee",
      id: of,
      amount: n,
      currency,
    });
    expect(
      standingOf(fee("1", 20, "EUR"), fee("1", 20, "EUR"), fee("2", 5, "EUR"), fee("3", 9, "GBP")).fees,
    ).toEqual({ EUR: 25, GBP: 9 });
    const until = (of: string, at: number): Statement => ({
      object: "authorisation",
      id: of,
      amount: 1,
      state: "held",
      until: at,
    });
    expect(standingOf(until("a", 9), until("b", 7)).until).toBe(7);
  });
});
