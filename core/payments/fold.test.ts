import { speaking } from "../../scripts/english";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { allowedActions as allowedActionsSaid, amountRefused as amountRefusedSaid } from "./actions";
import { declineReasons, type Statement } from "./facts";
import { fold } from "./fold";
import { occurringStates, unmappedStates } from "./stages";

const allowedActions = speaking(allowedActionsSaid);
const amountRefused = speaking(amountRefusedSaid);

const facts = (...statements: Statement[]) => statements.map((statement) => ({ statement }));
const stateOf = (...statements: Statement[]) => fold(facts(...statements)).state;

const amount = fc.integer({ min: 0, max: 5000 });
const statement: fc.Arbitrary<Statement> = fc.oneof(
  amount.map((n): Statement => ({ kind: "authorised", amount: n })),
  amount.map((n): Statement => ({ kind: "captured", amount: n })),
  amount.map((n): Statement => ({ kind: "refunded", amount: n })),
  fc.constantFrom(...declineReasons).map((reason): Statement => ({ kind: "declined", reason })),
  fc
    .constantFrom("created", "pending", "voided", "failed", "expired", "cancelled", "disputed")
    .map((kind) => ({ kind }) as Statement),
);

describe("fold", () => {
  it("is indifferent to the order and the repetition of facts", () => {
    fc.assert(
      fc.property(fc.array(statement, { maxLength: 20 }), fc.infiniteStream(fc.nat()), (list, picks) => {
        const shuffled = [...list]
          .map((item) => ({ item, rank: picks.next().value as number }))
          .sort((a, b) => a.rank - b.rank)
          .map(({ item }) => item);
        const repeated = shuffled.flatMap((item, i) => (i % 2 ? [item, item] : [item]));
        const doubled = [...repeated, ...shuffled.slice(0, 3)];
        expect(fold(facts(...doubled))).toEqual(fold(facts(...list)));
      }),
    );
  });

  it("never loses money: the totals are the largest that anybody stated", () => {
    fc.assert(
      fc.property(fc.array(statement, { maxLength: 20 }), (list) => {
        const standing = fold(facts(...list));
        for (const s of list) {
          if (s.kind === "captured") expect(standing.captured).toBeGreaterThanOrEqual(s.amount);
          if (s.kind === "refunded") expect(standing.refunded).toBeGreaterThanOrEqual(s.amount);
        }
        if (standing.captured > 0) expect(["declined", "failed", "voided"]).not.toContain(standing.state);
      }),
    );
  });

  it("follows the life of a payment", () => {
    expect(stateOf()).toBe("created");
    expect(stateOf({ kind: "created" }, { kind: "pending" })).toBe("pending");
    expect(stateOf({ kind: "authorised", amount: 900 })).toBe("authorised");
    expect(stateOf({ kind: "authorised", amount: 900 }, { kind: "captured", amount: 400 })).toBe(
      "partly-captured",
    );
    expect(stateOf({ kind: "captured", amount: 900 })).toBe("captured");
    expect(stateOf({ kind: "captured", amount: 900 }, { kind: "refunded", amount: 1 })).toBe(
      "partly-refunded",
    );
    expect(stateOf({ kind: "captured", amount: 900 }, { kind: "refunded", amount: 900 })).toBe("refunded");
    expect(stateOf({ kind: "authorised", amount: 900 }, { kind: "voided" })).toBe("voided");
    expect(stateOf({ kind: "pending" }, { kind: "declined", reason: "wrong-code" })).toBe("declined");
    expect(stateOf({ kind: "pending" }, { kind: "failed" })).toBe("failed");
  });

  it("shows a yes that came after we gave up", () => {
    expect(stateOf({ kind: "failed" }, { kind: "authorised", amount: 900 })).toBe("authorised");
    const late = fold(facts({ kind: "declined", reason: "unspecified" }, { kind: "captured", amount: 900 }));
    expect(late).toMatchObject({ state: "captured", contradiction: true });
  });
});

const everything = { capture: true, partialCapture: true, void: true, refund: true, partialRefund: true };

describe("allowedActions", () => {
  it("captures and voids what is authorised, refunds what is captured", () => {
    const authorised = allowedActions(fold(facts({ kind: "authorised", amount: 900 })), everything);
    expect(authorised.capture).toEqual({ allowed: true, most: 900, partial: true });
    expect(authorised.void.allowed).toBe(true);
    expect(authorised.refund).toEqual({ allowed: false, because: "Nothing has been captured." });
    const part = fold(facts({ kind: "captured", amount: 900 }, { kind: "refunded", amount: 300 }));
    const after = allowedActions(part, everything);
    expect(after.refund).toMatchObject({ most: 600 });
    expect(after.void).toEqual({ allowed: false, because: "It has been captured; refund it instead." });
  });

  it("refuses amounts beyond what there is", () => {
    const refund = allowedActions(fold(facts({ kind: "captured", amount: 900 })), everything).refund;
    expect(amountRefused(refund, 900)).toBeUndefined();
    expect(amountRefused(refund, 901)).toBe("That is more than there is.");
    expect(amountRefused(refund, 0)).toBe("The amount must be more than zero.");
    expect(amountRefused(refund, -5)).toBe("The amount must be more than zero.");
    expect(amountRefused({ allowed: true, most: 900, partial: false }, 899)).toBe(
      "Only the whole amount can be taken.",
    );
  });
});

describe("order stages", () => {
  it("asks a stage for every state that can occur", () => {
    const can = { refund: true, partialRefund: false };
    expect(occurringStates("at-once", can)).not.toContain("authorised");
    expect(occurringStates("later", can)).toContain("voided");
    expect(
      unmappedStates(["captured", "declined"], { captured: "Paid", declined: "Gone" }, ["Paid"]),
    ).toEqual(["declined"]);
  });
});
