import { count, min, type SQL, sql } from "drizzle-orm";
import { isSilent, usualDelay } from "#core/connections/silence";
import type { Mode } from "#core/mode";
import { payments } from "../database/schema";
import type { Runtime } from "../runtime";
import type { Endpoint } from "../database/rows";

const DAY = 86_400_000;
const HISTORY = 500;

export interface Silence {
  /** How long messages usually take, and how long the oldest payment without one has waited: milliseconds. */
  usual: number;
  waited: number;
  payments: number;
}

/** Payments of the last day, made since the address was proven, that no message has spoken of. */
export const unheardOf = (connectionId: string, mode: Mode, { provenAt }: Endpoint, now: number): SQL =>
  sql`${payments.connectionId} = ${connectionId} and ${payments.mode} = ${mode} and ${payments.origin} <> 'rehearsal'
    and ${payments.providerRef} is not null and ${payments.createdAt} > ${Math.max(now - DAY, provenAt ?? now)}
    and not exists (select 1 from webhooks w where w.payment_id = ${payments.id})`;

/** Payments of the last day that nothing was heard about well past the usual delay; null when there are none. */
export async function silenceOf(
  rt: Runtime,
  connectionId: string,
  mode: Mode,
  endpoint: Endpoint,
): Promise<Silence | null> {
  if (endpoint.provenAt === null) return null;
  const now = rt.now();
  const [history, [unheard]] = await Promise.all([
    rt.db.client.execute({
      sql: `select min(w.received_at) - p.created_at as delay
            from (select id, created_at from payments where connection_id = ? and mode = ? and origin <> 'rehearsal'
                  order by created_at desc limit ${HISTORY}) p
            join webhooks w on w.payment_id = p.id group by p.id`,
      args: [connectionId, mode],
    }),
    rt.db.orm
      .select({ payments: count(), oldest: min(payments.createdAt) })
      .from(payments)
      .where(unheardOf(connectionId, mode, endpoint, now)),
  ]);
  const oldest = unheard?.oldest;
  if (oldest === null || oldest === undefined) return null;
  const usual = usualDelay(history.rows.map((row) => Math.max(0, Number(row.delay))));
  const waited = now - oldest;
  return isSilent(waited, usual) ? { usual, waited, payments: unheard?.payments ?? 0 } : null;
}
