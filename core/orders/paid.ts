import type { PaymentState } from "../payments/facts";
import { isOver, isPaid } from "../payments/fold";

export const orderStates = ["open", "paid", "cancelled"] as const;
export type OrderState = (typeof orderStates)[number];

/** Where an order's money is, in minor units of its currency. One payment pays it; others are a surplus. */
export interface OrderStanding {
  state: OrderState;
  due: number;
  held: number;
  paid: number;
  refunded: number;
  payingPaymentId: string | null;
}

/** One payment of an order, as far as its order depends on it. Amounts in minor units. */
export interface OrderPayment {
  id: string;
  state: PaymentState;
  /** What was asked for. */
  amount: number;
  authorised: number;
  held: number;
  captured: number;
  refunded: number;
  lost: number;
  /** Whether it came too late to be taken for the order. */
  unwanted?: boolean;
}

/**
 * Where an order stands once one of its payments has moved. The first payment that is approved whole pays it; a second one
 * changes nothing of it. A payment that comes to nothing after all (voided, ended) leaves the order to be paid again.
 */
export function orderAfter(order: OrderStanding, payment: OrderPayment): OrderStanding {
  const pays =
    order.payingPaymentId === payment.id
      ? !isOver(payment.state)
      : order.payingPaymentId === null &&
        !payment.unwanted &&
        isPaid(payment.state) &&
        payment.authorised >= payment.amount;
  if (pays)
    return {
      ...order,
      state: order.state === "cancelled" ? "cancelled" : "paid",
      payingPaymentId: payment.id,
      held: payment.held,
      paid: Math.max(0, payment.captured - payment.lost),
      refunded: payment.refunded,
    };
  if (order.payingPaymentId !== payment.id) return order;
  const state = order.state === "cancelled" ? "cancelled" : "open";
  return { ...order, state, payingPaymentId: null, held: 0, paid: 0, refunded: 0 };
}

/** Whether a payment's money is not this order's: another payment pays it. */
export const isSurplus = (order: OrderStanding, { id, authorised, captured, state }: OrderPayment): boolean =>
  order.payingPaymentId !== null &&
  order.payingPaymentId !== id &&
  !isOver(state) &&
  Math.max(authorised, captured) > 0;
