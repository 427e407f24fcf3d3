import { speaking } from "../../scripts/english";
import { tell } from "../../scripts/english";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  type ActionCapabilities,
  type ActionKind,
  allowedActions as allowedActionsSaid,
  amountRefused,
} from "./actions";
import type { Statement } from "./facts";
import { fold, isOver, isPaid } from "./fold";

const allowedActions = speaking(allowedActionsSaid);

const everything: ActionCapabilities = {
  capture: true,
  partialCapture: true,
  void: true,
  refund: true,
  partialRefund: true,
};
const standing = (...statements: Statement[]) => fold(statements.map((statement) => ({ statement })));
const held: Statement = { kind: "authorised", amount: 5000 };
const taken: Statement = { kind: "captured", amount: 5000 };
const names = (statements: Statement[], can = everything) =>
  Object.entries(allowedActions(standing(...statements), can))
    .filter(([, one]) => one.allowed)
    .map(([name]) => name);
const because = (name: ActionKind, statements: Statement[], can = everything) => {
  const action = allowedActions(standing(...statements), can)[name];
  return action.allowed ? null : action.because;
};

describe("what may be done with a payment", () => {
  it("follows from where it stands", () => {
    expect(names([{ kind: "created" }])).toEqual([]);
    expect(names([{ kind: "pending" }])).toEqual([]);
    expect(names([held])).toEqual(["capture", "void"]);
    expect(names([taken])).toEqual(["refund"]);
    expect(names([held, { kind: "captured", amount: 3000 }])).toEqual(["refund"]);
    expect(names([taken, { kind: "refunded", amount: 1 }])).toEqual(["refund"]);
    expect(names([taken, { kind: "refunded", amount: 5000 }])).toEqual([]);
    expect(names([held, { kind: "voided" }])).toEqual([]);
    expect(names([{ kind: "declined", reason: "unspecified" }])).toEqual([]);
  });

  it("says why not, in words for whoever wanted it", () => {
    expect(because("capture", [taken])).toBe("It has been captured.");
    expect(because("capture", [{ kind: "pending" }])).toBe("A payment that is pending cannot be captured.");
    expect(because("void", [taken])).toBe("It has been captured; refund it instead.");
    expect(because("void", [{ kind: "pending" }])).toBe("There is nothing to void.");
    expect(because("refund", [held])).toBe("Nothing has been captured.");
    expect(because("refund", [taken, { kind: "refunded", amount: 5000 }])).toBe(
      "Everything has been refunded.",
    );
    const nothing = {
      capture: false,
      partialCapture: false,
      void: false,
      refund: false,
      partialRefund: false,
    };
    expect(because("capture", [held], nothing)).toBe("This method captures at once.");
    expect(because("void", [held], nothing)).toBe("This method cannot be voided.");
    expect(because("refund", [taken], nothing)).toBe("This method cannot be refunded.");
  });

  it("refuses amounts that are none, too much, or parts where only the whole can be taken", () => {
    const { refund } = allowedActions(standing(taken), everything);
    const { refund: whole } = allowedActions(standing(taken), { ...everything, partialRefund: false });
    for (const amount of [0, -1, 0.5, NaN, Infinity, 2 ** 53])
      expect(amountRefused(refund, amount), String(amount)).toBeDefined();
    expect(tell(amountRefused(refund, 5001) ?? "")).toBe("That is more than there is.");
    expect(amountRefused(refund, 5000)).toBeUndefined();
    expect(amountRefused(refund, 1)).toBeUndefined();
    expect(tell(amountRefused(whole, 4999) ?? "")).toBe("Only the whole amount can be taken.");
    expect(amountRefused(whole, 5000)).toBeUndefined();
    expect(amountRefused({ allowed: false, because: "no" }, 1)).toBe("no");
  });

  it("never moves more money than there is, whatever is pressed and in what order", () => {
    const press = fc.record({
      kind: fc.constantFrom<ActionKind>("capture", "void", "refund"),
      amount: fc.integer({ min: 1, max: 6000 }),
    });
    fc.assert(
      fc.property(fc.array(press, { maxLength: 12 }), fc.boolean(), fc.boolean(), (presses, parts, voids) => {
        const can = { ...everything, partialCapture: parts, partialRefund: parts, void: voids };
        const statements: Statement[] = [held];
        for (const { kind, amount } of presses) {
          const now = standing(...statements);
          if (amountRefused(allowedActions(now, can)[kind], amount) !== undefined) continue;
          if (kind === "capture") statements.push({ kind: "captured", amount });
          if (kind === "void") statements.push({ kind: "voided" });
          if (kind === "refund") statements.push({ kind: "refunded", amount: now.refunded + amount });
        }
        const { authorised, captured, refunded, contradiction } = standing(...statements);
        expect(captured).toBeLessThanOrEqual(authorised);
        expect(refunded).toBeLessThanOrEqual(captured);
        expect(contradiction).toBe(false);
      }),
    );
  });

  it("lets a shopper try again only when nothing can come of the first try any more", () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.oneof(
            fc.constant<Statement>({ kind: "pending" }),
            fc.constant<Statement>({ kind: "voided" }),
            fc.constant<Statement>({ kind: "declined", reason: "unspecified" }),
            fc.constant<Statement>({ kind: "failed" }),
            fc.constant<Statement>({ kind: "expired" }),
            fc.integer({ min: 1, max: 9000 }).map<Statement>((amount) => ({ kind: "authorised", amount })),
            fc.integer({ min: 1, max: 9000 }).map<Statement>((amount) => ({ kind: "captured", amount })),
          ),
        ),
        (statements) => {
          const { state, captured } = standing(...statements);
          expect(isOver(state) && isPaid(state)).toBe(false);
          if (captured > 0) expect(isOver(state)).toBe(false);
        },
      ),
    );
  });
});
