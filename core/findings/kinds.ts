import { type PaymentFindingKind, paymentFindings } from "./payment-findings";

/** What a person should look at that is about no single payment: an account, an offer, a payout. */
export const standingFindings = [
  "key-refused",
  "gate-slipped",
  "declining",
  "payout-failed",
  "payout-off",
] as const;
export type StandingFindingKind = (typeof standingFindings)[number];

export const findingKinds = [...paymentFindings, ...standingFindings] as const;
export type FindingKind = PaymentFindingKind | StandingFindingKind;
