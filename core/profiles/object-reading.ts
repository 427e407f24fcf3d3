import type {
  DisputePage,
  DisputeReading,
  ListedDispute,
  MovementReading,
  OfPayment,
  ToldRefund,
} from "./answers";
import { type Fields, pageOf } from "./fields";
import type { Profile } from "./profile";

/** One dispute as the provider tells it, within an amount's currency. Throws `reading-malformed`. */
export const disputeReading = (one: Fields, currency = one.currency): DisputeReading => ({
  id: one.text("id"),
  stage: typeof one.raw.stage === "number" && Number.isSafeInteger(one.raw.stage) ? one.raw.stage : 1,
  amount: one.amount("amount", currency),
  state: one.text("state"),
  ...one.maybe("reason"),
  ...one.instant("due"),
});

/** One movement of a payment's money. Throws `reading-malformed`. */
export const movementReading = (one: Fields, currency = one.currency): MovementReading => ({
  id: one.text("id"),
  amount: one.amount("amount", currency),
  state: one.text("state"),
});

/** What tells of the payment that something is about. Refused where neither side's reference stands there. */
function ofPayment(one: Fields): OfPayment {
  const named = { ...one.maybe("ref"), ...one.maybe("reference") };
  if (named.ref === undefined && named.reference === undefined) one.text("ref");
  return { ...named, currency: one.currencyCode() };
}

/** A dispute that is told of by itself. Throws `reading-malformed`. */
export function disputeAlone(one: Fields): ListedDispute {
  const payment = ofPayment(one);
  return { ...payment, ...disputeReading(one, payment.currency) };
}

/** A refund that is told of by itself. Throws `reading-malformed`. */
export function refundAlone(one: Fields): ToldRefund {
  const payment = ofPayment(one);
  return { ...payment, ...movementReading(one, payment.currency) };
}

/** Reads a page of disputes as `listDisputes` gives it. Throws `reading-malformed` when the profile does not fit it. */
export function disputesReading(profile: Profile, value: unknown): DisputePage {
  const page = pageOf(profile, value, "disputes");
  return { disputes: page.list("disputes", disputeAlone).disputes ?? [], ...page.maybe("next") };
}
