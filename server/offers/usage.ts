import { and, count, eq, gte, inArray } from "drizzle-orm";
import { payments } from "../database/schema";
import type { Runtime } from "../runtime";

const DAY = 86_400_000;
/** For how many days it is counted how often an offer was chosen. */
export const USAGE_DAYS = 90;

/** How often shoppers have chosen each offer in live in the last days, whatever came of it; by offer, none where never. */
export async function usageOf(rt: Runtime, offerIds: readonly string[]): Promise<Map<string, number>> {
  if (offerIds.length === 0) return new Map();
  const rows = await rt.db.orm
    .select({ offer: payments.offerId, times: count() })
    .from(payments)
    .where(
      and(
        inArray(payments.offerId, [...offerIds]),
        eq(payments.mode, "live"),
        gte(payments.createdAt, rt.now() - USAGE_DAYS * DAY),
      ),
    )
    .groupBy(payments.offerId);
  return new Map(rows.map(({ offer, times }) => [offer, times]));
}
