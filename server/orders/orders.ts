import { eq } from "drizzle-orm";
import type { Statement } from "../database/open";
import { rowsBy } from "../database/prepared";
import type { Checkout, OrderRow, Payment } from "../database/rows";
import { checkouts, orders, payments } from "../database/schema";
import { statement } from "../database/statement";
import type { Runtime } from "../runtime";

type Whose = Pick<OrderRow, "storefrontId" | "mode" | "origin" | "reference">;

const byReference = rowsBy(orders, ["storefrontId", "mode", "origin", "reference"]);

/** A storefront's order by the shop's own reference. */
export async function orderOf(
  rt: Runtime,
  { storefrontId, mode, origin, reference }: Whose,
): Promise<OrderRow | null> {
  const [row] = await byReference(rt.db).all({ storefrontId, mode, origin, reference });
  return row ?? null;
}

/** The statement that opens a checkout's order, or says anew what is due for one that is not paid yet. */
export function orderOpened(rt: Runtime, checkout: Checkout): Statement {
  const { orderId, storefrontId, mode, origin, reference, order } = checkout;
  const now = rt.now();
  return statement(
    `insert into orders (id, storefront_id, mode, origin, reference, currency, due, state, version, created_at, updated_at)
     values (?, ?, ?, ?, ?, ?, ?, 'open', 1, ?, ?)
     on conflict (id) do update set due = excluded.due, currency = excluded.currency, updated_at = excluded.updated_at,
     state = 'open' where state <> 'paid'`,
    [orderId, storefrontId, mode, origin, reference, order.currency, order.total, now, now],
  );
}

/** Every payment that was tried for an order, the oldest first. */
export const paymentsOfOrder = async (rt: Runtime, orderId: string): Promise<Payment[]> =>
  (
    await rt.db.orm
      .select({ payment: payments })
      .from(checkouts)
      .innerJoin(payments, eq(payments.checkoutId, checkouts.id))
      .where(eq(checkouts.orderId, orderId))
      .orderBy(payments.createdAt, payments.id)
  ).map((row) => row.payment);
