import { and, eq, sql } from "drizzle-orm";
import { guard, guardFailed } from "../database/guard";
import type { Statement } from "../database/open";
import type { Storefront } from "../database/rows";
import { storefronts } from "../database/schema";
import type { Runtime } from "../runtime";
import { mustStand, type StorefrontNow } from "../storefronts/now";

/** Everything a change of offers starts from: how the storefront stands, and the guard that it still does at the write. */
interface Alone {
  now: StorefrontNow;
  guards: Statement[];
}

/**
 * The statements that hold a change of offers or levers to the storefront as it was read, and make every other such
 * change see that it came.
 */
export const offersUnchanged = (
  rt: Runtime,
  { id, offersVersion }: Pick<Storefront, "id" | "offersVersion">,
): Statement[] => [
  guard(storefronts, and(eq(storefronts.id, id), eq(storefronts.offersVersion, offersVersion))),
  rt.db.orm
    .update(storefronts)
    .set({ offersVersion: sql`${storefronts.offersVersion} + 1` })
    .where(eq(storefronts.id, id)),
];

/**
 * Does a change of what is offered on a storefront as if it were the only one: `work` reads what is there and writes
 * with the guards, which fail when another change came between; then it is done again on what that left.
 */
export async function alone<T>(
  rt: Runtime,
  storefrontId: string,
  work: (start: Alone) => Promise<T>,
): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    const now = await mustStand(rt, storefrontId);
    try {
      return await work({ now, guards: offersUnchanged(rt, now.storefront) });
    } catch (error) {
      if (!guardFailed(error) || attempt === 20) throw error;
    }
  }
}
