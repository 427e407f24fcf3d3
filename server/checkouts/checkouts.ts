import { and, eq, isNull, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { type Cart, type Decision, decide, type Shown } from "#core/offers/decide";
import type { Asked } from "#core/offers/rules";
import { askedOf } from "#core/orders/asked";
import type { Order } from "#core/orders/order";
import { placeOf } from "#core/places/address";
import { guard, isConflict } from "../database/guard";
import type { Statement } from "../database/open";
import { insertRow, rowsBy } from "../database/prepared";
import type { Checkout, OrderRow } from "../database/rows";
import { checkouts, payments } from "../database/schema";
import { exchangeRow, type NewExchange } from "../exchanges/exchanges";
import { askFor, takeOff } from "../jobs/jobs";
import { orderOf, orderOpened } from "../orders/orders";
import { candidatesIn } from "../offers/candidates";
import { newsOfCheckout } from "../outbox/news";
import { subscriptionFollows } from "../subscriptions/follow";
import type { Runtime } from "../runtime";
import { mustStand, type StorefrontNow } from "../storefronts/now";

const MINUTES = 60_000;
const OPEN_FOR = 45 * MINUTES;

export interface NewCheckout {
  storefrontId: string;
  mode: Mode;
  origin: Checkout["origin"];
  order: Order;
  /** Until when it can be paid; as long as a shopper takes, where nothing is said. */
  until?: number;
}

/**
 * A new checkout for an order, with the statements that open it: they are written with whatever belongs to it. `said` is
 * the message that asked for it, for the score.
 */
export function newCheckout(
  rt: Runtime,
  { known, until, ...input }: NewCheckout & { known: OrderRow | null },
  said: Omit<NewExchange, "checkoutId" | "mode">,
): { checkout: Checkout; statements: Statement[] } {
  const now = rt.now();
  const checkout: Checkout = {
    id: rt.ids.next("chk"),
    token: rt.ids.secret(),
    orderId: known?.id ?? rt.ids.next("ord"),
    ...input,
    reference: input.order.reference,
    state: "open" as const,
    activePaymentId: null,
    deviceAsk: null,
    agreed: null,
    createdAt: now,
    expiresAt: until ?? now + OPEN_FOR,
    closedAt: null,
  };
  const { id, storefrontId, expiresAt } = checkout;
  return {
    checkout,
    statements: [
      orderOpened(rt, checkout),
      ...(known ? [outdated(rt, checkout)] : []),
      insertRow(rt.db, checkouts, checkout),
      exchangeRow(rt, { ...said, checkoutId: id, mode: input.mode }),
      askFor(rt, { kind: "expire-checkout", key: id, lane: storefrontId, at: expiresAt }),
    ],
  };
}

/**
 * The statement that ends checkouts of the same order that ask for another sum, unless a payment is under way there. What is
 * asked for in parts is asked for anew each time.
 */
const outdated = (rt: Runtime, { orderId, order }: Checkout): Statement =>
  rt.db.orm
    .update(checkouts)
    .set({ state: "cancelled", closedAt: rt.now() })
    .where(
      and(
        eq(checkouts.orderId, orderId),
        eq(checkouts.state, "open"),
        isNull(checkouts.activePaymentId),
        order.payNow === undefined
          ? sql`(json_extract("order", '$.total') <> ${order.total} or json_extract("order", '$.payNow') is not null)`
          : undefined,
      ),
    );

/** Opens a checkout for an order. */
export async function openCheckout(
  rt: Runtime,
  input: NewCheckout,
  said: Omit<NewExchange, "checkoutId" | "mode">,
): Promise<Checkout> {
  for (let attempt = 1; ; attempt++) {
    const known = await orderOf(rt, { ...input, reference: input.order.reference });
    const { checkout, statements } = newCheckout(rt, { ...input, known }, said);
    try {
      await rt.db.write(statements);
      return checkout;
    } catch (error) {
      // Somebody else has opened the same order just now.
      if (!isConflict(error) || attempt === 3) throw error;
    }
  }
}

export const checkoutAddress = (rt: Runtime, checkout: Pick<Checkout, "token">) =>
  `${rt.settings.origin}/pay/${checkout.token}`;

const byToken = rowsBy(checkouts, ["token"]);
const byId = rowsBy(checkouts, ["id"]);

export async function checkoutByToken(rt: Runtime, token: string): Promise<Checkout | null> {
  if (!/^[\w-]{43}$/.test(token)) return null;
  const [row] = await byToken(rt.db).all({ token });
  return row ?? null;
}

export async function checkoutOf(rt: Runtime, id: string): Promise<Checkout | null> {
  const [row] = await byId(rt.db).all({ id });
  return row ?? null;
}

/** What is known of a shopper beside the order: on which device, how many tries were refused, and when it is. */
export type Around = Pick<Asked, "device" | "tries" | "at">;

/**
 * An order as the decision needs it: where it goes, and nothing of whose it is. Where the shop says no more, it goes to the
 * country that it names.
 */
export const cartOf = ({ currency, country, language, group, ...order }: Order, around: Around): Cart => ({
  total: { amount: askedOf(order), currency },
  goods: order.lines.reduce((sum, { total }) => sum + total, 0),
  country,
  language,
  group,
  asked: {
    ...around,
    shipTo: placeOf(order.shipTo ?? { country }),
    billTo: placeOf(order.billTo ?? order.shipTo ?? { country }),
    // A discount is no goods.
    kinds: order.lines.filter(({ total }) => total >= 0).map(({ kind = "" }) => kind),
    ...(order.delivery !== undefined && { delivery: order.delivery }),
    ...(order.weight !== undefined && { weight: order.weight }),
    ...(order.returning !== undefined && { returning: order.returning }),
  },
  ...(order.subscription && { subscription: order.subscription }),
});

/** Which offers this checkout's order gets, decided now, on the storefront as it stands. */
export async function decideFor(
  rt: Runtime,
  {
    id,
    order,
    storefrontId,
    mode,
    origin,
  }: Pick<Checkout, "id" | "order" | "storefrontId" | "mode" | "origin">,
  device?: Around["device"],
): Promise<{ now: StorefrontNow; decision: Decision }> {
  const now = await mustStand(rt, storefrontId);
  const candidates = candidatesIn(now, mode);
  const tries = candidates.some(({ document }) => document.rules) ? await refusedTries(rt, id) : 0;
  const { subscription, ...cart } = cartOf(order, { at: rt.now(), tries, ...(device && { device }) });
  // A rehearsal tries what the method can, whatever plans the offer has.
  const asks = origin !== "rehearsal" && subscription !== undefined;
  return { now, decision: decide(candidates, { ...cart, ...(asks && { subscription }) }) };
}

/** What choosing an offer adds to a checkout; nothing in a rehearsal, which tries the provider with the order as it is. */
export const chargeIn = ({ origin }: Pick<Checkout, "origin">, { charge }: Pick<Shown, "charge">): number =>
  origin === "rehearsal" ? 0 : charge;

/** How often a checkout's shopper was refused. */
const refusedTries = async (rt: Runtime, checkoutId: string): Promise<number> =>
  (await paymentsOf(rt, checkoutId)).filter(({ state }) => state === "declined" || state === "failed").length;

const ofCheckout = rowsBy(payments, ["checkoutId"], payments.createdAt);

export const paymentsOf = (rt: Runtime, checkoutId: string) => ofCheckout(rt.db).all({ checkoutId });

/**
 * The statements that end an open checkout without payment, and tell the shop. They fail as a whole, by their guard, when
 * the checkout was paid or taken up in between.
 */
export function closing(rt: Runtime, checkout: Checkout, state: "cancelled" | "expired"): Statement[] {
  const statements: Statement[] = [
    guard(
      checkouts,
      and(eq(checkouts.id, checkout.id), eq(checkouts.state, "open"), isNull(checkouts.activePaymentId)),
    ),
    rt.db.orm.update(checkouts).set({ state, closedAt: rt.now() }).where(eq(checkouts.id, checkout.id)),
    takeOff("expire-checkout", checkout.id),
    takeOff("take-token", checkout.id),
  ];
  if (checkout.origin === "shop") statements.push(...newsOfCheckout(rt, checkout, state));
  statements.push(...subscriptionFollows(rt, checkout));
  return statements;
}
