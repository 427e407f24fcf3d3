import type { PaymentState } from "../payments/facts";
import { isOver, isPaid } from "../payments/fold";

export const orderStates = ["open", "paid", "cancelled"] as const;
export type OrderState = (typeof orderStates)[number];

/** What one payment does for its order, in minor units. */
export interface OrderPart {
  /** What it was asked for; `whole`: that is all of the order. */
  amount: number;
  whole: boolean;
  held: number;
  paid: number;
  refunded: number;
}

/** Where an order's money is, in minor units of its currency. */
export interface OrderStanding {
  state: OrderState;
  due: number;
  held: number;
  paid: number;
  refunded: number;
  /** The payment that pays it; of several parts the one that came last. */
  payingPaymentId: string | null;
  /** The payments that are taken for it, by id: one, or several where the shop asks for parts. Others are a surplus. */
  parts: Readonly<Record<string, OrderPart>>;
}

/** One payment of an order, as far as its order depends on it. Amounts in minor units. */
export interface OrderPayment {
  id: string;
  state: PaymentState;
  /** What was asked for. */
  amount: number;
  /** What of that is for choosing its way of paying, and not for the order; below zero it was taken off. */
  choiceFee: number;
  /** Whether that was a part of the order, such as a deposit. */
  isPart?: boolean;
  authorised: number;
  held: number;
  captured: number;
  refunded: number;
  lost: number;
  /** Whether it came too late to be taken for the order. */
  unwanted?: boolean;
}

/** What of an order is paid or promised, by whichever payments; minor units. */
export function coveredOf({ due, parts }: Pick<OrderStanding, "due" | "parts">): number {
  const all = Object.values(parts);
  return all.some((one) => one.whole) ? due : all.reduce((sum, one) => sum + one.amount, 0);
}

/** What of a payment is for its order itself. */
const forOrder = ({ amount, choiceFee }: Pick<OrderPayment, "amount" | "choiceFee">): number =>
  amount - choiceFee;

/** What is left to be asked for. */
export const leftOf = (order: Pick<OrderStanding, "due" | "parts">): number =>
  Math.max(0, order.due - coveredOf(order));

/** Whether what is asked for still has room in an order. */
export const hasRoom = (
  order: Pick<OrderStanding, "due" | "parts">,
  { amount, isPart = false }: { amount: number; isPart?: boolean },
): boolean => (isPart ? amount <= leftOf(order) : coveredOf(order) === 0);

/**
 * Where an order stands once one of its payments has moved. A payment that is approved whole and still has room is taken for
 * it; another changes nothing of it. A payment that comes to nothing after all (voided, ended) leaves its room again.
 */
export function orderAfter(order: OrderStanding, payment: OrderPayment): OrderStanding {
  const { [payment.id]: mine, ...others } = order.parts;
  const amount = forOrder(payment);
  const pays = mine
    ? !isOver(payment.state)
    : !payment.unwanted &&
      isPaid(payment.state) &&
      payment.authorised >= payment.amount &&
      hasRoom(order, { ...payment, amount });
  if (!pays && !mine) return order;
  const part: OrderPart = {
    amount,
    whole: mine ? mine.whole : payment.isPart !== true,
    held: payment.held,
    paid: Math.max(0, payment.captured - payment.lost),
    refunded: payment.refunded,
  };
  // What changes keeps its place, so that the last is the one that came last.
  const parts = !pays ? others : { ...order.parts, [payment.id]: part };
  const sum = (of: "held" | "paid" | "refunded") =>
    Object.values(parts).reduce((total, one) => total + one[of], 0);
  const covered = coveredOf({ due: order.due, parts });
  return {
    due: order.due,
    state: order.state === "cancelled" ? "cancelled" : covered >= order.due ? "paid" : "open",
    ...{ held: sum("held"), paid: sum("paid"), refunded: sum("refunded") },
    payingPaymentId: Object.keys(parts).at(-1) ?? null,
    parts,
  };
}

/**
 * Whether a payment of an order says where the order stands. A part does once all parts of it are there, and again when all
 * of it went back.
 */
export function tellsOfOrder(order: OrderStanding, { id, state, isPart = false }: OrderPayment): boolean {
  const { parts, paid, refunded } = order;
  if (Object.keys(parts).length > 0 && !Object.hasOwn(parts, id)) return false;
  return !isPart || (order.state === "paid" && (isPaid(state) || (paid > 0 && refunded >= paid)));
}

/** Whether a payment's money is not this order's: what it asked for is paid by others. */
export const isSurplus = (order: OrderStanding, payment: OrderPayment): boolean =>
  !Object.hasOwn(order.parts, payment.id) &&
  !isOver(payment.state) &&
  Math.max(payment.authorised, payment.captured) > 0 &&
  !hasRoom(order, { ...payment, amount: forOrder(payment) });
