import { describe, expect, it } from "vitest";
import type { Statement } from "../payments/facts";
import { fold } from "../payments/fold";
import { type Around, changesOf, findingsOfPayment, type KnownFinding } from "./payment-findings";

const around: Around = {
  amount: 900,
  currency: "EUR",
  surplus: false,
  late: null,
  unknownStage: null,
  now: 0,
};
const found = (statements: Statement[], change: Partial<Around> = {}) =>
  findingsOfPayment(fold(statements.map((statement) => ({ statement }))), { ...around, ...change });
const kinds = (...of: Parameters<typeof found>) => found(...of).map((one) => one.kind);
const paid: Statement = { object: "report", status: "captured", authorised: 900, captured: 900 };

describe("what a person should look at about a payment", () => {
  it("is nothing while all is well", () => {
    expect(kinds([])).toEqual([]);
    expect(kinds([paid])).toEqual([]);
  });

  it("is money that does not fit, whichever way", () => {
    expect(kinds([paid], { surplus: true })).toEqual(["surplus"]);
    expect(kinds([paid], { late: "accept" })).toEqual(["late"]);
    expect(kinds([{ object: "report", status: "authorised", authorised: 400 }])).toEqual(["part-approved"]);
    expect(kinds([{ object: "report", status: "captured", captured: 950 }])).toEqual(["too-much"]);
    expect(found([paid, { object: "misfit", amount: 99_999_999, currency: "EUR" }])).toEqual([
      {
        kind: "other-amount",
        detail: "99999999 EUR ",
        values: { sum: { amount: 900, currency: "EUR" }, told: { amount: 99_999_999, currency: "EUR" } },
      },
    ]);
    expect(kinds([paid, { object: "report", refunded: 901 }])).toEqual(["contradiction"]);
    expect(kinds([paid, { object: "refund", id: "r", amount: 5, state: "failed" }])).toEqual([
      "refund-failed",
    ]);
  });

  it("is what nobody understands, and what has a date", () => {
    expect(kinds([paid, { object: "report", status: null, word: "frozen" }])).toEqual(["unknown-status"]);
    expect(kinds([paid], { unknownStage: "Packed" })).toEqual(["stage-unknown"]);
    const dispute = (state: "open" | "won"): Statement => ({
      object: "dispute",
      id: "d",
      stage: 1,
      amount: 900,
      state,
    });
    expect(kinds([paid, dispute("open")])).toEqual(["dispute"]);
    expect(kinds([paid, dispute("won")])).toEqual([]);
  });

  it("is money that is held and not captured, before it ends by itself", () => {
    const held: Statement = {
      object: "authorisation",
      id: "a",
      amount: 900,
      state: "held",
      until: 10 * 86_400_000,
    };
    expect(kinds([held], { now: 7 * 86_400_000 })).toEqual([]);
    expect(kinds([held], { now: 9 * 86_400_000 })).toEqual(["held-ends"]);
    const taken: Statement = { object: "capture", id: "c", amount: 900, state: "succeeded" };
    expect(kinds([held, taken], { now: 9 * 86_400_000 })).toEqual([]);
  });

  it("opens, goes away by itself, comes back, and stays settled once a person has settled it", () => {
    const wanted = found([paid, { object: "misfit", amount: 1, currency: "EUR" }]);
    const known = (change: Partial<KnownFinding>): KnownFinding => ({
      ...{ kind: "other-amount", detail: "1 EUR ", state: "open", person: null },
      ...change,
    });
    expect(changesOf(wanted, [])).toEqual({ opened: wanted, back: [], kept: [], gone: [] });
    expect(changesOf(wanted, [known({})])).toEqual({
      ...{ opened: [], back: [], gone: [] },
      kept: [[known({}), wanted[0]]],
    });
    expect(changesOf([], [known({})]).gone).toHaveLength(1);
    expect(changesOf([], [known({ kind: "question" })]).gone).toEqual([]);
    expect(changesOf(wanted, [known({ state: "resolved" })]).back).toHaveLength(1);
    expect(changesOf(wanted, [known({ state: "resolved", person: "ida" })])).toEqual({
      opened: [],
      kept: [],
      back: [],
      gone: [],
    });
  });
});
