import { and, eq } from "drizzle-orm";
import type { Statement } from "../database/open";
import type { Checkout } from "../database/rows";
import { checkouts } from "../database/schema";
import type { Runtime } from "../runtime";

/** The statement that has a checkout wait for longer. */
export const outlive = (rt: Runtime, checkout: Checkout, until: number): Statement =>
  rt.db.orm
    .update(checkouts)
    .set({ expiresAt: until })
    .where(and(eq(checkouts.id, checkout.id), eq(checkouts.state, "open")));
