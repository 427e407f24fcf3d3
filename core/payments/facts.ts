import type { Told } from "../said";
import type { DeclineReason } from "../profiles/profile-types";

/** The payment states of the trade, see docs/words.md. */
export const paymentStates = [
  "created",
  "pending",
  "authorised",
  "captured",
  "partly-captured",
  "voided",
  "declined",
  "failed",
  "expired",
  "cancelled",
  "refunded",
  "partly-refunded",
  "disputed",
] as const;
export type PaymentState = (typeof paymentStates)[number];

/** A payment state as people read it. */
export const stateWords = (state: string) => state.replace("-", " ");

/** Why an issuer or provider said no, in our words; `unspecified` where the provider gives no reason. */
export { declineReasons, type DeclineReason } from "../profiles/profile-types";

/** Who made a statement about a payment. */
export const factSources = ["zahlung", "answer", "webhook", "look-up", "admin"] as const;
export type FactSource = (typeof factSources)[number];

/**
 * One statement about a payment. Amounts are minor units of the payment's currency and are *totals so far*,
 * never increments, so that a statement repeated or overtaken by a later one cannot be counted twice.
 */
export type Statement =
  | { kind: "created" }
  | { kind: "pending"; challenge?: string; code?: string }
  | { kind: "authorised"; amount: number }
  | { kind: "captured"; amount: number }
  | { kind: "refunded"; amount: number }
  | { kind: "voided" }
  | { kind: "declined"; reason: DeclineReason; code?: string; text?: Told }
  | { kind: "failed"; code?: string; text?: Told }
  | { kind: "expired" }
  | { kind: "cancelled" }
  | { kind: "disputed" };

/** A statement with who said it and when. `key` is unique in the payment: the same fact has the same key. */
export interface Fact {
  key: string;
  source: FactSource;
  /** Milliseconds since the epoch: when it happened according to its source. */
  at: number;
  statement: Statement;
}
