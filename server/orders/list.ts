import { and, desc, eq, inArray, isNull, notInArray, or, type SQL, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import type { OrderState } from "#core/orders/paid";
import type { OrderRow } from "../database/rows";
import { checkouts, orderEmail, orders, payments } from "../database/schema";
import { endOf, knownFirst, walk } from "../database/walk";
import type { Runtime } from "../runtime";
import { numberMeant } from "./number-meant";
import { paymentsOfOrder } from "./orders";

export interface OrderFilter {
  mode: Mode;
  /** `refunded`: of what was paid, something went back. */
  state: OrderState | "refunded" | null;
  /** The beginning of the shop's reference, a shopper's e-mail address, or a provider's reference or last four in whole. */
  query: string;
  /** The account that a payment for it went through. */
  connection: string | null;
  /** The offer that it was paid by, or tried. */
  offer: string | null;
  /** What is due, minor units. */
  amount: number | null;
  /** When it was opened, from the first to the last millisecond. */
  from: number | null;
  to: number | null;
  /** The id of the last one seen. */
  after: string | null;
}

const PAGE = 25;
/** So many orders are known by one e-mail address, reference or last four digits at most. */
const MOST_KNOWN = 500;

const MOST_EXPORTED = 10_000;

/** Whether an order has a payment through an account, by an offer, or both. */
function paidThrough(connection: string | null, offer: string | null): SQL | undefined {
  if (connection === null && offer === null) return undefined;
  const through = connection === null ? sql`` : sql` and p.connection_id = ${connection}`;
  const by = offer === null ? sql`` : sql` and p.offer_id = ${offer}`;
  return sql`exists (select 1 from checkouts c join payments p on p.checkout_id = c.id
    where c.order_id = ${orders.id}${through}${by})`;
}

/** Up to so many orders, the newest, that are known by what is looked for: who they are for, or by what a payment for them is known. */
async function knownBy(rt: Runtime, storefrontId: string, query: string): Promise<string[]> {
  const { orm } = rt.db;
  const of = orm.select({ id: checkouts.orderId }).from(checkouts);
  if (query.includes("@")) {
    const mailed = await of
      .where(and(eq(checkouts.storefrontId, storefrontId), sql`${orderEmail} = ${query.toLowerCase()}`))
      .orderBy(desc(checkouts.createdAt))
      .limit(MOST_KNOWN);
    return mailed.map(({ id }) => id);
  }
  const paid = (what: SQL) =>
    orm
      .select({ id: checkouts.orderId })
      .from(payments)
      .innerJoin(checkouts, eq(checkouts.id, payments.checkoutId))
      .where(and(what, eq(payments.storefrontId, storefrontId)));
  const [named, ending] = await Promise.all([
    paid(or(eq(payments.providerRef, query), eq(payments.reference, query)) as SQL).limit(MOST_KNOWN),
    query.length === 4
      ? paid(sql`substr(instrument, -4) = ${query}`)
          .orderBy(desc(payments.createdAt), desc(payments.id))
          .limit(MOST_KNOWN)
      : [],
  ]);
  return [...named, ...ending].map(({ id }) => id);
}

const conditionOf = ({ state, connection, offer, amount, from, to }: OrderFilter): SQL | undefined =>
  and(
    eq(orders.origin, "shop"),
    isNull(orders.archivedAt),
    state === "refunded" ? sql`${orders.refunded} > 0` : state ? eq(orders.state, state) : undefined,
    paidThrough(connection, offer),
    amount === null ? undefined : eq(orders.due, amount),
    from === null ? undefined : sql`+${orders.createdAt} >= ${from}`,
    to === null ? undefined : sql`+${orders.createdAt} <= ${to}`,
  );

/**
 * A page of a storefront's orders, the newest first; `next` leads to the one after it. What is searched for comes by its
 * number, the last first, on the first page after what is known by it otherwise.
 */
export async function listOrdersHere(
  rt: Runtime,
  storefrontId: string,
  filter: OrderFilter,
  most = PAGE,
): Promise<{ rows: OrderRow[]; next: string | null }> {
  const { mode, query, after, from, to } = filter;
  const searched = query !== "";
  const number = searched ? await numberMeant(rt, orders, storefrontId, query) : "";
  const here = and(eq(orders.storefrontId, storefrontId), eq(orders.mode, mode));
  const conditions = conditionOf(filter);
  const by = searched ? [orders.reference] : [orders.createdAt, orders.id];
  const path = {
    ...{ table: orders, by, within: searched ? and(here, eq(orders.origin, "shop")) : here },
    ...(searched ? { least: number, greatest: endOf(number) } : { least: from, greatest: to }),
  };
  const known = searched ? await ordersKnownBy(rt, storefrontId, filter) : [];
  return knownFirst(known, after, most, (last, wanted, without) =>
    walk(rt, { ...path, after: last }, wanted, (stretch, left) =>
      rt.db.orm
        .select()
        .from(orders)
        .where(and(conditions, without.length > 0 ? notInArray(orders.id, [...without]) : undefined, stretch))
        .orderBy(...by.map((one) => desc(one)))
        .limit(left),
    ),
  );
}

/** The orders of a filter that are known by what is looked for, other than by their number; the newest first. */
async function ordersKnownBy(rt: Runtime, storefrontId: string, filter: OrderFilter): Promise<OrderRow[]> {
  const ids = [...new Set(await knownBy(rt, storefrontId, filter.query))];
  if (ids.length === 0) return [];
  const rows = await rt.db.orm
    .select()
    .from(orders)
    // A plus keeps SQLite from going through all orders of the storefront for these few.
    .where(and(inArray(orders.id, ids), sql`+${orders.mode} = ${filter.mode}`, conditionOf(filter)));
  return rows.sort((a, b) => b.createdAt - a.createdAt || (a.id < b.id ? 1 : -1));
}

/** The newest orders that a filter lets through, for a file. */
export const exportedOrders = async (
  rt: Runtime,
  storefrontId: string,
  filter: OrderFilter,
): Promise<OrderRow[]> =>
  (await listOrdersHere(rt, storefrontId, { ...filter, after: null }, MOST_EXPORTED)).rows;

/** One order of a storefront with its checkouts, the newest first, and every payment that was tried for it. */
export async function orderHere(rt: Runtime, storefrontId: string, id: string) {
  const [order] = await rt.db.orm
    .select()
    .from(orders)
    .where(and(eq(orders.id, id), eq(orders.storefrontId, storefrontId)));
  if (!order) return null;
  const [visits, tried] = await Promise.all([
    rt.db.orm
      .select()
      .from(checkouts)
      .where(eq(checkouts.orderId, id))
      .orderBy(desc(checkouts.createdAt), desc(checkouts.id)),
    paymentsOfOrder(rt, id),
  ]);
  return { order, checkouts: visits, payments: tried };
}
