import { and, count, eq, inArray, sql } from "drizzle-orm";
import { payments } from "../database/schema";
import type { Runtime } from "../runtime";

/** How many payments of an offer are still under way, and how many hold money that nobody has captured yet. */
export async function openPaymentsOf(
  rt: Runtime,
  offerId: string,
): Promise<{ waiting: number; held: number }> {
  const [row] = await rt.db.orm
    .select({
      waiting: sql<number>`sum(case when ${payments.state} in ('created', 'pending') then 1 else 0 end)`,
      held: sql<number>`sum(case when held > 0 then 1 else 0 end)`,
      all: count(),
    })
    .from(payments)
    .where(
      and(
        eq(payments.offerId, offerId),
        inArray(payments.state, ["created", "pending", "authorised", "partly-captured"]),
      ),
    );
  return { waiting: row?.waiting ?? 0, held: row?.held ?? 0 };
}
