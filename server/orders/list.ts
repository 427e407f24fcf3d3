import { and, desc, eq, gte, isNull, lt, lte, or, type SQL, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import type { OrderState } from "#core/orders/paid";
import type { OrderRow } from "../database/rows";
import { checkouts, orders } from "../database/schema";
import type { Runtime } from "../runtime";
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

const endOf = (beginning: string) => `${beginning}\u{10ffff}`;

const MOST_EXPORTED = 10_000;

/** Whether an order has a payment through an account, by an offer, or both. */
function paidThrough(connection: string | null, offer: string | null): SQL | undefined {
  if (connection === null && offer === null) return undefined;
  const through = connection === null ? sql`` : sql` and p.connection_id = ${connection}`;
  const by = offer === null ? sql`` : sql` and p.offer_id = ${offer}`;
  return sql`exists (select 1 from checkouts c join payments p on p.checkout_id = c.id
    where c.order_id = ${orders.id}${through}${by})`;
}

/** What is looked for: who it is for, or how it begins, or by what a payment for it is known. */
function found(storefrontId: string, query: string): SQL | undefined {
  if (query === "") return undefined;
  if (query.includes("@"))
    return sql`${orders.id} in (select c.order_id from checkouts c where c.storefront_id = ${storefrontId}
      and lower(json_extract(c."order", '$.email')) = ${query.toLowerCase()})`;
  const by = (what: SQL) =>
    sql`select c.order_id from payments p join checkouts c on c.id = p.checkout_id where ${what}`;
  const known = [sql`p.provider_ref = ${query}`, sql`p.reference = ${query}`];
  const lastFour = sql`p.storefront_id = ${storefrontId} and substr(p.instrument, -4) = ${query}`;
  const all = [...known, ...(query.length === 4 ? [lastFour] : [])].map(by);
  return or(
    and(gte(orders.reference, query), lt(orders.reference, endOf(query))),
    sql`${orders.id} in (${sql.join(all, sql` union all `)})`,
  );
}

const conditionOf = (
  storefrontId: string,
  { mode, state, query, connection, offer, amount, from, to }: OrderFilter,
): SQL | undefined =>
  and(
    eq(orders.storefrontId, storefrontId),
    eq(orders.mode, mode),
    eq(orders.origin, "shop"),
    isNull(orders.archivedAt),
    state === "refunded" ? sql`${orders.refunded} > 0` : state ? eq(orders.state, state) : undefined,
    found(storefrontId, query),
    paidThrough(connection, offer),
    amount === null ? undefined : eq(orders.due, amount),
    from === null ? undefined : gte(orders.createdAt, from),
    to === null ? undefined : lte(orders.createdAt, to),
  );

/** A page of a storefront's orders, the newest first; `next` leads to the one after it. */
export async function listOrdersHere(
  rt: Runtime,
  storefrontId: string,
  filter: OrderFilter,
  most = PAGE,
): Promise<{ rows: OrderRow[]; next: string | null }> {
  const { after } = filter;
  const [last] = after ? await rt.db.orm.select().from(orders).where(eq(orders.id, after)) : [];
  const rows = await rt.db.orm
    .select()
    .from(orders)
    .where(
      and(
        conditionOf(storefrontId, filter),
        last &&
          or(
            lt(orders.createdAt, last.createdAt),
            and(eq(orders.createdAt, last.createdAt), lt(orders.id, last.id)),
          ),
      ),
    )
    .orderBy(desc(orders.createdAt), desc(orders.id))
    .limit(most + 1);
  const page = rows.slice(0, most);
  return { rows: page, next: rows.length > most ? (page.at(-1)?.id ?? null) : null };
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
