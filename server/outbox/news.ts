import { and, eq, isNull } from "drizzle-orm";
import type { Mode } from "#core/mode";
import type { Statement } from "../database/open";
import type { Checkout, Payment } from "../database/rows";
import { jobs, outbox } from "../database/schema";
import { askFor } from "../jobs/jobs";
import type { Runtime } from "../runtime";
import { decimalText } from "#core/money/money";

const decimal = (amount: number, currency: string) => decimalText({ amount, currency });

/** How the shop API and the news write a payment. Amounts are decimal text of the payment's currency. */
export function paymentForShop(payment: Payment, checkout: Checkout) {
  const { currency } = payment;
  return {
    payment: payment.id,
    checkout: checkout.id,
    order: checkout.reference,
    mode: payment.mode,
    state: payment.state,
    stage: payment.stage,
    currency,
    amount: decimal(payment.amount, currency),
    authorised: decimal(payment.authorised, currency),
    captured: decimal(payment.captured, currency),
    refunded: decimal(payment.refunded, currency),
    at: new Date(payment.updatedAt).toISOString(),
    /** Grows with every change, so that news which overtook other news can be told apart. */
    version: payment.version,
  };
}

/** The statements that put news of a payment into the outbox, once for each standing. */
export function newsOfPayment(rt: Runtime, payment: Payment, checkout: Checkout) {
  return newsRow(rt, {
    dedupe: `${payment.id}:${payment.state}:${payment.captured}:${payment.refunded}`,
    storefrontId: payment.storefrontId,
    mode: payment.mode,
    paymentId: payment.id,
    checkoutId: checkout.id,
    body: { type: "payment.changed", data: paymentForShop(payment, checkout) },
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

function newsRow(rt: Runtime, { body, ...rest }: News): Statement[] {
  const now = rt.now();
  const id = rt.ids.next("news");
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
