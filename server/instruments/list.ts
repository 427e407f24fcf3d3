import { and, desc, eq, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { instruments, payments, subscriptions } from "../database/schema";
import { walk } from "../database/walk";
import type { Runtime } from "../runtime";

export interface KeptFilter {
  mode: Mode;
  /** The shop's own name of a shopper; empty: everybody's. */
  shopper: string;
  /** The id of the last one seen. */
  after: string | null;
}

const PAGE = 25;

/**
 * A page of what shoppers of a storefront have kept there and had forgotten since, the newest first; `next` leads to the
 * one after it. What rehearsals keep, and what was an erased shopper's, is not among it.
 */
export async function listKept(
  rt: Runtime,
  storefrontId: string,
  { mode, shopper, after }: KeptFilter,
  limit = PAGE,
) {
  const path = {
    table: instruments,
    by: [instruments.createdAt, instruments.id],
    within: and(
      eq(instruments.storefrontId, storefrontId),
      eq(instruments.mode, mode),
      shopper === "" ? undefined : eq(instruments.shopper, shopper),
    ),
    after,
  };
  const rows = await walk(rt, path, limit + 1, (stretch, left) =>
    rt.db.orm
      .select({ instrument: instruments })
      .from(instruments)
      .innerJoin(payments, eq(payments.id, instruments.paymentId))
      .where(and(sql`${instruments.shopper} <> ''`, eq(payments.origin, "shop"), stretch))
      .orderBy(desc(instruments.createdAt), desc(instruments.id))
      .limit(left),
  );
  const page = rows.slice(0, limit).map(({ instrument }) => instrument);
  return { rows: page, next: rows.length > limit ? (page.at(-1)?.id ?? null) : null };
}

/** One thing that was kept on a storefront, with the payment that it was kept with and the subscriptions that it is charged for. */
export async function keptHere(rt: Runtime, storefrontId: string, id: string) {
  const [found] = await rt.db.orm
    .select({
      instrument: instruments,
      payment: { id: payments.id, orderReference: payments.orderReference },
    })
    .from(instruments)
    .innerJoin(payments, eq(payments.id, instruments.paymentId))
    .where(and(eq(instruments.id, id), eq(instruments.storefrontId, storefrontId)));
  if (!found) return null;
  const charged = await rt.db.orm
    .select()
    .from(subscriptions)
    .where(
      and(
        eq(subscriptions.instrumentId, id),
        eq(subscriptions.shopper, found.instrument.shopper),
        sql`${subscriptions.state} <> 'ended'`,
      ),
    )
    .orderBy(desc(subscriptions.createdAt))
    .limit(50);
  return { ...found, subscriptions: charged };
}
