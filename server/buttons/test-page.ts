import type { PassCart } from "#core/buttons/pass-cart";
import { sql } from "drizzle-orm";
import { testPages } from "../database/schema";
import type { Runtime } from "../runtime";

/** Keeps what a page of a shop sells by a button in test, so that a rehearsal can ask the shop about it: the newest is enough. */
export async function keepTestPage(
  rt: Runtime,
  page: { storefrontId: string; basket: string; cart: PassCart; answersAt: string },
): Promise<void> {
  await rt.db.write([
    rt.db.orm
      .insert(testPages)
      .values({ ...page, at: rt.now() })
      .onConflictDoUpdate({
        target: testPages.storefrontId,
        set: {
          basket: sql`excluded.basket`,
          cart: sql`excluded.cart`,
          answersAt: sql`excluded.answers_at`,
          at: sql`excluded.at`,
        },
      }),
  ]);
}
