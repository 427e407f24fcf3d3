import type { PaymentState } from "../payments/facts";

/**
 * What a letter to a shopper is about: an order that is placed and still to be paid, that it is still not paid, a
 * payment, money given back.
 */
export const receiptKinds = ["placed", "reminder", "paid", "refunded"] as const;
export type ReceiptKind = (typeof receiptKinds)[number];

/** What of a payment decides whether its shopper hears of it. Amounts in minor units. */
export interface PaymentSeen {
  state: PaymentState;
  /** Whether a provider moves its money. */
  through: boolean;
  held: number;
  captured: number;
  refunded: number;
}

/** A letter that is due: what it is about, and for money given back how much that is by now. */
export interface Due {
  kind: ReceiptKind;
  refunded: number;
  /** Which of several of its kind it is; left out: the first. */
  nth?: number;
}

/**
 * What a shopper is to hear after a payment has moved from `before` to `after`. An order is placed where no provider asks
 * for the money; it is paid once money is held or there; what goes back is told each time more has gone.
 */
export function receiptsDue(before: PaymentSeen, after: PaymentSeen): Due[] {
  const due: Due[] = [];
  const waits = (one: PaymentSeen) => !one.through && one.state === "pending";
  const paid = (one: PaymentSeen) => one.held + one.captured > 0;
  if (waits(after) && !waits(before) && !paid(after)) due.push({ kind: "placed", refunded: 0 });
  if (paid(after) && !paid(before)) due.push({ kind: "paid", refunded: 0 });
  if (after.refunded > before.refunded) due.push({ kind: "refunded", refunded: after.refunded });
  return due;
}

/** The id of a payment's letter: the same for the same matter, so that it is written once. */
export const receiptId = (paymentId: string, { kind, refunded, nth = 1 }: Due): string => {
  const about = kind === "refunded" ? `refunded-${refunded}` : kind;
  return `${paymentId}.${about}${nth > 1 ? `-${nth}` : ""}`;
};
