import { and, eq } from "drizzle-orm";
import { chooseAgain } from "../checkouts/leave";
import { guard, guardFailed } from "../database/guard";
import type { OrderRow } from "../database/rows";
import { checkouts, orders } from "../database/schema";
import { takeOff } from "../jobs/jobs";
import { newsOfCheckout } from "../outbox/news";
import type { Runtime } from "../runtime";
import { subscriptionFollows } from "../subscriptions/follow";
import { orderOf } from "./orders";

/**
 * Cancels an order that nobody has paid: what is asked of a shopper is let go of first, then its checkouts end. Null when a
 * payment could not be let go of yet, or the order was paid meanwhile.
 */
export async function cancelOrder(rt: Runtime, order: OrderRow): Promise<OrderRow | null> {
  if (order.state === "cancelled") return order;
  const open = await rt.db.orm
    .select()
    .from(checkouts)
    .where(and(eq(checkouts.orderId, order.id), eq(checkouts.state, "open")));
  for (const checkout of open) if ((await chooseAgain(rt, checkout)) !== "free") return null;
  const seen = await orderOf(rt, order);
  if (seen?.state !== "open") return seen?.state === "cancelled" ? seen : null;
  const next = { ...seen, state: "cancelled" as const, version: seen.version + 1, updatedAt: rt.now() };
  try {
    await rt.db.write([
      guard(orders, and(eq(orders.id, seen.id), eq(orders.version, seen.version), eq(orders.state, "open"))),
      rt.db.orm
        .update(orders)
        .set({ state: next.state, version: next.version, updatedAt: next.updatedAt })
        .where(eq(orders.id, seen.id)),
      rt.db.orm
        .update(checkouts)
        .set({ state: "cancelled", closedAt: rt.now() })
        .where(and(eq(checkouts.orderId, seen.id), eq(checkouts.state, "open"))),
      ...open.map(({ id }) => takeOff("expire-checkout", id)),
      ...open.filter((one) => one.origin === "shop").flatMap((one) => newsOfCheckout(rt, one, "cancelled")),
      ...open.flatMap((one) => subscriptionFollows(rt, one)),
    ]);
  } catch (error) {
    if (!guardFailed(error)) throw error;
    return null;
  }
  rt.nudge();
  return next;
}
