import { speaking } from "../../scripts/english";
import { tell } from "../../scripts/english";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  type ActionCapabilities,
  type ActionKind,
  actionKinds,
  allowedActions as allowedActionsSaid,
  amountRefused,
} from "./actions";
import type { Report, Statement } from "./facts";
import { fold, isOver, isPaid } from "./fold";

const allowedActions = speaking(allowedActionsSaid);

const everything: ActionCapabilities = {
  capture: true,
  partialCapture: true,
  severalCaptures: false,
  release: false,
  void: true,
  refund: true,
  partialRefund: true,
};
const standing = (...statements: Statement[]) => fold(statements.map((statement) => ({ statement })));
const report = (rest: Omit<Report, "object">): Statement => ({ object: "report", ...rest });
const held = report({ status: "authorised", authorised: 5000 });
const taken = report({ status: "captured", captured: 5000 });
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
    expect(names([{ object: "attempt", state: "created" }])).toEqual([]);
    expect(names([report({ status: "pending" })])).toEqual([]);
    expect(names([held])).toEqual(["capture", "void"]);
    expect(names([taken])).toEqual(["refund"]);
    expect(names([held, report({ captured: 3000 })])).toEqual(["refund"]);
    expect(names([taken, report({ refunded: 1 })])).toEqual(["refund"]);
    expect(names([taken, report({ refunded: 5000 })])).toEqual([]);
    expect(names([held, report({ status: "voided" })])).toEqual([]);
    expect(names([report({ status: "declined", reason: "unspecified" })])).toEqual([]);
  });

  it("says why not, in words for whoever wanted it", () => {
    expect(because("capture", [taken])).toBe("It has been captured.");
    expect(because("capture", [report({ status: "pending" })])).toBe(
      "A payment that is pending cannot be captured.",
    );
    expect(because("void", [taken])).toBe("It has been captured; refund it instead.");
    expect(because("void", [report({ status: "pending" })])).toBe("There is nothing to void.");
    expect(because("refund", [held])).toBe("Nothing has been captured.");
    expect(because("refund", [taken, report({ refunded: 5000 })])).toBe("Everything has been refunded.");
    const nothing = {
      capture: false,
      partialCapture: false,
      severalCaptures: false,
      release: false,
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
      kind: fc.constantFrom<ActionKind>(...actionKinds),
      amount: fc.integer({ min: 1, max: 6000 }),
    });
    const flags = fc.record({
      partialCapture: fc.boolean(),
      severalCaptures: fc.boolean(),
      release: fc.boolean(),
      partialRefund: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(press, { maxLength: 12 }), flags, (presses, some) => {
        const can = { ...everything, ...some };
        const statements: Statement[] = [held];
        presses.forEach(({ kind, amount }, i) => {
          if (amountRefused(allowedActions(standing(...statements), can)[kind], amount) !== undefined) return;
          const object = kind === "void" ? "release" : kind;
          statements.push({ object, id: String(i), amount, state: "succeeded" });
        });
        const { authorised, captured, released, refunded, contradiction } = standing(...statements);
        expect(captured + released).toBeLessThanOrEqual(authorised);
        expect(authorised).toBe(5000);
        expect(refunded).toBeLessThanOrEqual(captured);
        expect(contradiction).toBe(false);
      }),
    );
  });

  it("goes on after a part was taken: more is taken, the rest let go, where the method can", () => {
    const part = standing(held, report({ captured: 3000 }));
    const can = allowedActions(part, { ...everything, severalCaptures: true, release: true });
    expect(can.capture).toEqual({ allowed: true, most: 2000, partial: true });
    expect(can.release).toEqual({ allowed: true, most: 2000, partial: true });
    expect(can.void).toEqual({ allowed: false, because: "A part has been captured; release the rest." });
    const once = allowedActions(part, everything);
    expect(once.capture).toEqual({ allowed: false, because: "This method captures one time only." });
    expect(once.void).toEqual({ allowed: false, because: "It has been captured; refund it instead." });
    expect(allowedActions(standing(taken), { ...everything, release: true }).release).toEqual({
      allowed: false,
      because: "Nothing is held any more.",
    });
  });

  it("refunds neither what is on its way back nor what a dispute is about", () => {
    const refund = (...more: Statement[]) => allowedActions(standing(taken, ...more), everything).refund;
    const dispute = (amount: number, state: "open" | "lost" | "won"): Statement => ({
      object: "dispute",
      id: "d",
      stage: 1,
      amount,
      state,
    });
    expect(refund({ object: "refund", id: "r", amount: 300, state: "pending" })).toMatchObject({
      most: 4700,
    });
    expect(refund(dispute(5000, "open"))).toMatchObject({
      because: "A dispute is about this money; a refund as well would give it back twice.",
    });
    expect(refund(dispute(5000, "lost"))).toMatchObject({ because: "The money was lost in a dispute." });
    expect(refund(dispute(400, "open"))).toMatchObject({ most: 4600 });
    expect(refund(dispute(5000, "won"))).toMatchObject({ most: 5000 });
  });

  it("waits with capturing while the provider checks for fraud", () => {
    const review: Statement = { object: "review", id: "f", state: "open" };
    expect(allowedActions(standing(held, review), everything).capture).toMatchObject({
      because: "The provider is still checking it for fraud.",
    });
  });

  it("lets a shopper try again only when nothing can come of the first try any more", () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.oneof(
            fc.constant<Statement>(report({ status: "pending" })),
            fc.constant<Statement>(report({ status: "voided" })),
            fc.constant<Statement>(report({ status: "declined", reason: "unspecified" })),
            fc.constant<Statement>(report({ status: "failed" })),
            fc.constant<Statement>(report({ status: "expired" })),
            fc.integer({ min: 1, max: 9000 }).map((amount) => report({ authorised: amount })),
            fc.integer({ min: 1, max: 9000 }).map((amount) => report({ captured: amount })),
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
