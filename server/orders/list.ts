import { and, desc, eq, gte, isNull, lt, or, sql } from "drizzle-orm";
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
  /** The beginning of the shop's reference, or a shopper's e-mail address. */
  query: string;
  /** The id of the last one seen. */
  after: string | null;
}

const PAGE = 25;

const endOf = (beginning: string) => `${beginning}\u{10ffff}`;

/** A page of a storefront's orders, the newest first; `next` leads to the one after it. */
export async function listOrdersHere(
  rt: Runtime,
  storefrontId: string,
  { mode, state, query, after }: OrderFilter,
): Promise<{ rows: OrderRow[]; next: string | null }> {
  const [from] = after ? await rt.db.orm.select().from(orders).where(eq(orders.id, after)) : [];
  const mail = query.includes("@")
    ? sql`${orders.id} in (select c.order_id from checkouts c where c.storefront_id = ${storefrontId}
        and lower(json_extract(c."order", '$.email')) = ${query.toLowerCase()})`
    : undefined;
  const rows = await rt.db.orm
    .select()
    .from(orders)
    .where(
      and(
        eq(orders.storefrontId, storefrontId),
        eq(orders.mode, mode),
        eq(orders.origin, "shop"),
        isNull(orders.archivedAt),
        state === "refunded" ? sql`${orders.refunded} > 0` : state ? eq(orders.state, state) : undefined,
        mail ??
          (query === "" ? undefined : and(gte(orders.reference, query), lt(orders.reference, endOf(query)))),
        from &&
          or(
            lt(orders.createdAt, from.createdAt),
            and(eq(orders.createdAt, from.createdAt), lt(orders.id, from.id)),
          ),
      ),
    )
    .orderBy(desc(orders.createdAt), desc(orders.id))
    .limit(PAGE + 1);
  const page = rows.slice(0, PAGE);
  return { rows: page, next: rows.length > PAGE ? (page.at(-1)?.id ?? null) : null };
}

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
