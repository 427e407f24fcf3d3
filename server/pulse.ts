import { sql } from "drizzle-orm";
import { earningOf, type Standing } from "./cutover/standing";
import { connectionStorefronts } from "./database/schema";
import type { Runtime } from "./runtime";
import { standingVersionsOf } from "./storefronts/version";

/**
 * A text that changes whenever the frame around a storefront's pages would show something else: read in two small
 * statements, so that it can be asked for often.
 */
export async function pulseOf(rt: Runtime, storefrontId: string): Promise<string> {
  const [{ all }, rows] = await Promise.all([
    standingVersionsOf(rt),
    rt.db.orm
      .select({ livePayments: earningOf })
      .from(connectionStorefronts)
      .where(sql`${connectionStorefronts.storefrontId} = ${storefrontId}`),
  ]);
  return pulseFrom(all, rows);
}

/** The same from what has been read already. */
export const pulseFrom = (all: number, standings: readonly Pick<Standing, "livePayments">[]): string =>
  `${all}.${standings.reduce((sum, one) => sum + one.livePayments, 0)}`;
