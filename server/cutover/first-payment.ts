import { sql } from "drizzle-orm";
import type { Payment } from "../database/rows";
import { connectionStorefronts, MOVED_MONEY, payments } from "../database/schema";
import type { Runtime } from "../runtime";

export type FirstPayment = Pick<Payment, "id" | "amount" | "currency" | "state">;

/**
 * The first live payment that moved money since each connection was last cut over on a storefront, by connection; one
 * that has had none yet is not among them.
 */
export async function firstLivePayments(
  rt: Runtime,
  storefrontId: string,
): Promise<Map<string, FirstPayment>> {
  const { id, amount, currency, state } = payments;
  const rows = await rt.db.orm
    .select({ connectionId: connectionStorefronts.connectionId, payment: { id, amount, currency, state } })
    .from(connectionStorefronts)
    .innerJoin(
      payments,
      sql`${payments.id} = (select p.id from payments p
        where p.storefront_id = ${connectionStorefronts.storefrontId} and p.mode = 'live'
        and p.created_at >= (select max(c.at) from cutovers c where c.storefront_id = ${connectionStorefronts.storefrontId}
          and c.connection_id = ${connectionStorefronts.connectionId} and c.kind = 'cut-over')
        and p.offer_id in (select o.id from offers o where o.connection_id = ${connectionStorefronts.connectionId})
        and ${sql.raw(MOVED_MONEY)}
        order by p.created_at limit 1)`,
    )
    .where(sql`${connectionStorefronts.storefrontId} = ${storefrontId}`);
  return new Map(rows.map((row) => [row.connectionId, row.payment]));
}
