import type { ProblemKind } from "../profiles/profile-types";
import type { Standing } from "../payments/fold";

/** One intent towards a provider. */
export const operationKinds = ["create", "confirm", "capture", "release", "void", "refund"] as const;
export type OperationKind = (typeof operationKinds)[number];

/**
 * What is known of an operation: `asked` and under way, `unknown` until it is looked up, `done`, `refused` by the provider,
 * `nothing` came of it, or a `question` that only a person can answer.
 */
export const operationStates = ["asked", "unknown", "done", "refused", "nothing", "question"] as const;
export type OperationState = (typeof operationStates)[number];

/** Whether an operation's end is not known yet. One payment has one such operation at most. */
export const isUnderWay = (state: OperationState): boolean =>
  state === "asked" || state === "unknown" || state === "question";

/** What asking brought: an answer, a refusal, to come back later, or nothing that can be relied on. */
export const askOutcomes = ["answered", "refused", "busy", "silence"] as const;
export type AskOutcome = (typeof askOutcomes)[number];

/** What a look-up said of the operation: carried out, no trace of it, or nothing that can be relied on. */
export const lookOutcomes = ["there", "absent", "silence"] as const;
export type LookOutcome = (typeof lookOutcomes)[number];

/** What a refusal means for the operation. What may have been done in spite of the answer is a silence. */
export function outcomeOfRefusal(kind: ProblemKind): AskOutcome {
  if (kind === "too-many-requests") return "busy";
  return kind === "provider-fault" ? "silence" : "refused";
}

/** What of a payment's money had moved at one moment, in minor units, whatever became of it later. */
export interface Moved {
  captured: number;
  released: number;
  /** Refunds that were asked for, those that failed included. */
  returned: number;
}

export const movedOf = ({ captured, released, refunded, refunding, refundsFailed }: Standing): Moved => ({
  captured,
  released,
  returned: refunded + refunding + refundsFailed,
});

/**
 * Whether an operation of `amount` minor units shows in what has moved since `before`. Only one operation of a payment is
 * under way at a time, so what has moved is its doing, or that of somebody at the provider's dashboard.
 */
export function showsIn(kind: OperationKind, amount: number, before: Moved, now: Moved): boolean {
  if (kind === "capture") return now.captured >= before.captured + amount;
  if (kind === "release" || kind === "void") return now.released >= before.released + amount;
  return kind === "refund" && now.returned >= before.returned + amount;
}
