import { and, eq } from "drizzle-orm";
import type { Checkout } from "../database/rows";
import { checkouts } from "../database/schema";
import type { Runtime } from "../runtime";

/** Notes that a shopper agreed to the terms at an address, and when. */
export async function agreeTo(rt: Runtime, { id }: Checkout, terms: string): Promise<void> {
  await rt.db.write([
    rt.db.orm
      .update(checkouts)
      .set({ agreed: { terms, at: rt.now() } })
      .where(and(eq(checkouts.id, id), eq(checkouts.state, "open"))),
  ]);
}
