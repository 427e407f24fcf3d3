import { type PaymentFindingKind, paymentFindings } from "./payment-findings";

/** What a person should look at that is about no single payment: an account, an offer, a payout. */
export const standingFindings = [
  "key-refused",
  "gate-slipped",
  "declining",
  "payout-failed",
  "payout-off",
  "dispute-unknown",
  "fallen-silent",
  "in-trouble",
  "news-not-taken",
  "not-applied",
  "work-given-up",
  "overdue",
  "letters-not-taken",
  "not-charged",
] as const;
export type StandingFindingKind = (typeof standingFindings)[number];

export const findingKinds = [...paymentFindings, ...standingFindings] as const;
export type FindingKind = PaymentFindingKind | StandingFindingKind;

const mayWait: ReadonlySet<string> = new Set<FindingKind>([
  "fallen-silent",
  "not-applied",
  "work-given-up",
  "overdue",
  "letters-not-taken",
]);

/** How much a finding matters: `wrong` costs money or orders, `waits` does not yet. */
export const meaningOf = (kind: FindingKind): "wrong" | "waits" => (mayWait.has(kind) ? "waits" : "wrong");
