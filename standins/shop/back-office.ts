import { refusalOf, shopApi } from "../../clients/shop-api";
import type { Counter, ShopOrder } from "./counter";
import { decimal } from "./branches";

/** What the shop's back office does with an order, as its buttons say it. */
export const deeds = {
  sent: "Sent: take the money",
  refund: "Give back",
  cancel: "Cancel",
} as const;
export type Deed = keyof typeof deeds;

const sum = (text: string) => Number(text);

/** What can be done with an order as it stands. */
export function deedsOf({ money, state, closed, payment }: ShopOrder): Deed[] {
  if (closed || !money) return [];
  const paid = sum(money.paid) - sum(money.refunded);
  return [
    ...(payment && sum(money.held) > 0 ? (["sent"] as const) : []),
    ...(payment && paid > 0 ? (["refund"] as const) : []),
    ...(sum(money.held) === 0 && sum(money.paid) === 0 && state !== "cancelled" ? (["cancel"] as const) : []),
  ];
}

/** Does it over the shop API, and says what came of it. News of it comes by itself. */
export async function doDeed(
  counter: Counter,
  order: ShopOrder,
  deed: Deed,
  { amount, once }: { amount: string; once: string },
): Promise<string> {
  const { api } = counter.state;
  const client = shopApi(api, counter.access(order.branch).keys[order.mode]);
  const header = { "Idempotency-Key": once };
  try {
    if (deed === "cancel") {
      const path = { reference: order.no };
      const { data, error } = await client.POST("/orders/{reference}/cancel", { params: { path, header } });
      if (!data) return refusalOf(error);
      order.state = "cancelled";
      counter.shelf.changed();
      return `${order.no} is cancelled.`;
    }
    if (!order.payment) return `${order.no} has no payment.`;
    const act = deed === "sent" ? ("capture" as const) : ("refund" as const);
    const path = { id: order.payment, act };
    const body = amount ? { amount, reason: `order ${order.no}` } : {};
    const { data, error } = await client.POST("/payments/{id}/{act}", { params: { path, header }, body });
    if (!data) return refusalOf(error);
    return data.done
      ? `${order.no}: ${act === "capture" ? `${data.payment.captured} taken` : `${data.payment.refunded} given back`}.`
      : `${order.no}: nobody can say yet whether it was done. Look again in a while.`;
  } catch {
    return `Zahlung does not answer at ${api}`;
  }
}

/** What a deed would move, as the field beside its button begins. */
export const amountOf = ({ money, total, currency }: ShopOrder, deed: Deed): string =>
  deed === "sent"
    ? money.held
    : deed === "refund"
      ? (sum(money.paid) - sum(money.refunded)).toFixed(currency === "JPY" ? 0 : 2)
      : decimal(total, currency);
