import { and, eq, isNull } from "drizzle-orm";
import type { Mode } from "#core/mode";
import type { Statement } from "../database/open";
import type { Checkout, OrderRow, Payment, Subscription } from "../database/rows";
import { jobs, outbox } from "../database/schema";
import { askFor } from "../jobs/jobs";
import type { Runtime } from "../runtime";
import { decimalText } from "#core/money/money";
import { leftOf } from "#core/orders/paid";

const decimal = (amount: number, currency: string) => decimalText({ amount, currency });

/** How the shop API and the news write an order. `version` grows with each change: the highest one is the truth. */
export function orderForShop(order: OrderRow) {
  const { currency } = order;
  return {
    order: order.reference,
    mode: order.mode,
    state: order.state,
    stage: order.stage,
    currency,
    due: decimal(order.due, currency),
    held: decimal(order.held, currency),
    paid: decimal(order.paid, currency),
    refunded: decimal(order.refunded, currency),
    left: decimal(leftOf(order), currency),
    payment: order.payingPaymentId,
    at: new Date(order.updatedAt).toISOString(),
    version: order.version,
  };
}

/** How the shop API and the news write a payment. Amounts are decimal text of the payment's currency. */
export function paymentForShop(
  payment: Payment,
  checkout: Pick<Checkout, "id" | "reference">,
  findings: Iterable<string>,
) {
  const { currency } = payment;
  return {
    payment: payment.id,
    checkout: checkout.id,
    order: checkout.reference,
    mode: payment.mode,
    state: payment.state,
    currency,
    amount: decimal(payment.amount, currency),
    choiceFee: decimal(payment.choiceFee, currency),
    authorised: decimal(payment.authorised, currency),
    captured: decimal(payment.captured, currency),
    released: decimal(payment.released, currency),
    held: decimal(payment.held, currency),
    heldUntil: payment.heldUntil === null ? null : new Date(payment.heldUntil).toISOString(),
    refunded: decimal(payment.refunded, currency),
    refunding: decimal(payment.refunding, currency),
    dispute: payment.dispute,
    review: payment.review,
    instrument: payment.instrument,
    declineReason: payment.decline,
    reference: payment.reference,
    providerReference: payment.providerRef,
    fee: payment.fee === null ? null : decimal(payment.fee, currency),
    findings: [...new Set(findings)].sort(),
    at: new Date(payment.updatedAt).toISOString(),
  };
}

/** The statements that put news of an order, with the payment that moved, into the outbox. */
export function newsOfOrder(
  rt: Runtime,
  order: OrderRow,
  payment: Payment,
  checkout: Checkout,
  findings: Iterable<string>,
) {
  return newsRow(rt, {
    dedupe: `${order.id}:${order.version}`,
    storefrontId: payment.storefrontId,
    mode: payment.mode,
    paymentId: payment.id,
    checkoutId: checkout.id,
    body: {
      type: "order.changed",
      data: { order: orderForShop(order), payment: paymentForShop(payment, checkout, findings) },
    },
  });
}

/** News that a checkout ended without being paid. */
export function newsOfCheckout(rt: Runtime, checkout: Checkout, state: "cancelled" | "expired") {
  return newsRow(rt, {
    dedupe: `${checkout.id}:${state}`,
    storefrontId: checkout.storefrontId,
    mode: checkout.mode,
    checkoutId: checkout.id,
    body: {
      type: "checkout.closed",
      data: { checkout: checkout.id, order: checkout.reference, mode: checkout.mode, state },
    },
  });
}

/** News of what happened to a subscription. */
export const newsOfSubscription = (
  rt: Runtime,
  { id, version, storefrontId, mode }: Subscription,
  data: { happened: { what: string }; [name: string]: unknown },
) =>
  newsRow(rt, {
    dedupe: `${id}:${version}:${data.happened.what}`,
    ...{ storefrontId, mode },
    body: { type: "subscription.changed", data },
  });

/** News that says nothing but that news arrives; its id beside the statements. */
export function newsOfTest(rt: Runtime, storefrontId: string, mode: Mode) {
  const id = rt.ids.next("news");
  const body = { type: "news.test", data: { storefront: storefrontId, mode } };
  return { id, statements: newsRow(rt, { dedupe: id, storefrontId, mode, body }, id) };
}

/** News that the storefront has gone live, with the test orders to close. */
export function newsOfCutover(
  rt: Runtime,
  storefrontId: string,
  cutoverId: string,
  orders: readonly string[],
) {
  return newsRow(rt, {
    dedupe: `${cutoverId}:test-orders`,
    storefrontId,
    mode: "test",
    body: { type: "test-orders.close", data: { orders } },
  });
}

interface News {
  dedupe: string;
  storefrontId: string;
  mode: "test" | "live";
  paymentId?: string;
  checkoutId?: string;
  body: { type: string; data: unknown };
}

/** The lane that a storefront's news goes in: a shop that hangs holds up nobody else's. */
export const newsLane = ({ storefrontId, mode }: Pick<News, "storefrontId" | "mode">) =>
  `news:${storefrontId}:${mode}`;

function newsRow(rt: Runtime, { body, ...rest }: News, id = rt.ids.next("news")): Statement[] {
  const now = rt.now();
  return [
    rt.db.orm
      .insert(outbox)
      .values({
        id,
        ...rest,
        body: JSON.stringify({ ...body, timestamp: new Date(now).toISOString() }),
        createdAt: now,
        tries: 0,
      })
      .onConflictDoNothing(),
    askFor(rt, { kind: "deliver-news", key: id, lane: newsLane(rest) }),
  ];
}

/** The statement that has all news that waits for an address sent now. */
export const newsGoesOn = (rt: Runtime, where: { storefrontId: string; mode: Mode }) =>
  rt.db.orm
    .update(jobs)
    .set({ runAt: rt.now(), tries: 0, createdAt: rt.now() })
    .where(and(eq(jobs.kind, "deliver-news"), eq(jobs.lane, newsLane(where)), isNull(jobs.lease)));
