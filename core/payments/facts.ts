import type { HeldBecause } from "../offers/holding";
import type { Told } from "../said";
import type { AuthenticationResult, DeclineReason, ReadingKind } from "../profiles/profile-types";

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

/** The provider's own count of changes, or its time of the last one, in milliseconds: the greater is the later. */
interface Ordered {
  sequence?: number;
}

/** Why a payment came to nothing: our word where there is one, the provider's code and text. */
export interface Refusal {
  reason?: DeclineReason;
  code?: string;
  text?: Told;
}

/**
 * Where a payment stands, as a provider tells it: totals so far in minor units, never increments. What it does not speak of
 * is left out. Without a sequence, reports of one payment are taken together: the greatest of each total.
 */
export interface Report extends Ordered, Refusal {
  object: "report";
  /** Null: the provider's `word` for it is in no profile. */
  status?: ReadingKind | null;
  word?: string;
  authorised?: number;
  captured?: number;
  released?: number;
  refunded?: number;
  /** The provider's page on which the shopper goes on. */
  challenge?: string;
  /** What the shopper's browser posts there, as a form; left out: the page is only opened. */
  handOver?: Record<string, string>;
  /** What a shopper's phone scans. */
  scan?: string;
  /** What it says of single objects; they count with the report's own sequence. */
  parts?: Identified[];
}

/** A report that names this payment and cannot be meant: its amount or currency is another. No money is counted of it. */
export interface Misfit {
  object: "misfit";
  amount: number;
  currency: string;
  /** The reference it names, where that is not this payment's. */
  reference?: string;
}

export const attemptStates = [
  "created",
  "unanswered",
  "pending",
  "declined",
  "failed",
  "expired",
  "cancelled",
] as const;

/**
 * One try to pay. Without an id it is ours: what Zahlung knows of its own asking. With an id it is one of several that the
 * shopper made on the provider's page.
 */
export interface Attempt extends Ordered, Refusal {
  object: "attempt";
  id?: string;
  state: (typeof attemptStates)[number];
}

/** Money kept for us; `until` is when it ends by itself, in milliseconds since the epoch. */
export interface Authorisation extends Ordered {
  object: "authorisation";
  id: string;
  amount: number;
  state: "held" | "ended";
  until?: number;
}

export const movementStates = ["requested", "pending", "succeeded", "failed"] as const;
export type MovementState = (typeof movementStates)[number];

/** One taking, letting go or giving back, in minor units. One that has succeeded can still fail: money comes back. */
export interface Movement extends Ordered {
  object: "capture" | "release" | "refund";
  id: string;
  amount: number;
  state: MovementState;
  text?: Told;
}

export const disputeStates = ["open", "answered", "lost", "won"] as const;
export type DisputeState = (typeof disputeStates)[number];

/** A charge that the shopper's bank questions. A later stage (an arbitration) outweighs an earlier one. */
export interface Dispute extends Ordered {
  object: "dispute";
  id: string;
  stage: number;
  amount: number;
  state: DisputeState;
  reason?: string;
  /** Until when it can be answered, in milliseconds since the epoch. */
  due?: number;
}

/** The provider's check for fraud. */
export interface FraudReview extends Ordered {
  object: "review";
  id: string;
  state: "open" | "passed" | "refused";
}

/** Who bears a dispute in which a card holder says that somebody else paid. */
export type Liability = "issuer" | "shop";

/** What came of asking who the shopper is. */
export interface Authentication extends Ordered {
  object: "authentication";
  id: string;
  result: AuthenticationResult;
  liability?: Liability;
}

/** What the provider kept for a payment, in minor units of `currency`. */
export interface Fee extends Ordered {
  object: "fee";
  id: string;
  amount: number;
  currency: string;
}

/** The plan that a shopper agreed to: so many payments of `amount` to the provider, which come to `total`; minor units. */
export interface Instalments extends Ordered {
  object: "instalments";
  id: string;
  payments: number;
  amount: number;
  total: number;
}

/**
 * What of a payment a payout holds, in minor units of the payment's currency; below nothing where it was taken back. `fee` is
 * what was kept of it, in minor units of `settled`, the payout's currency.
 */
export interface Settlement extends Ordered {
  object: "settlement";
  id: string;
  payout: string;
  amount: number;
  fee: number;
  settled: string;
  /** A payout that was made can still come back. */
  state: "paid" | "failed";
}

/** A statement about an object that has an identity of its own, so that statements about it follow each other. */
export type Identified =
  | Attempt
  | Authorisation
  | Movement
  | Dispute
  | FraudReview
  | Expectation
  | Authentication
  | Fee
  | Instalments
  | Settlement;

/** What is to come without a provider, in minor units: what comes of it are captures that a person or a statement tells of. */
export interface Expectation extends Ordered {
  object: "expectation";
  id: string;
  amount: number;
}

/**
 * What was decided about a payment: to take money for its order that came after the checkout was over; by a shopper, to
 * pay another way while nobody could say whether it was made; to hold it back until a person has looked, and that it may
 * go on.
 */
export interface Decision {
  object: "decision";
  what: "take-late" | "set-aside" | "hold-back" | "let-go-on";
  /** Why it is held back. */
  because?: HeldBecause;
}

/** One statement about a payment or an object of it. Amounts are minor units of the payment's currency unless it says another. */
export type Statement = Report | Misfit | Decision | Identified;

/** A statement with who said it and when. `key` is unique in the payment: the same fact has the same key. */
export interface Fact {
  key: string;
  source: FactSource;
  /** Milliseconds since the epoch: when it happened according to its source. */
  at: number;
  statement: Statement;
}
