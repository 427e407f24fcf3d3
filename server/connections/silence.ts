import { isSilent, usualDelay } from "#core/connect/silence";
import type { Mode } from "#core/mode";
import type { Runtime } from "../runtime";
import type { Endpoint } from "./connections";

const DAY = 86_400_000;
const HISTORY = 500;

export interface Silence {
  /** How long messages usually take, and how long the oldest payment without one has waited: milliseconds. */
  usual: number;
  waited: number;
  payments: number;
}

/** Payments of the last day that nothing was heard about well past the usual delay; null when there are none. */
export async function silenceOf(
  rt: Runtime,
  connectionId: string,
  mode: Mode,
  endpoint: Endpoint,
): Promise<Silence | null> {
  if (endpoint.provenAt === null) return null;
  const now = rt.now();
  const [history, unheard] = await Promise.all([
    rt.db.client.execute({
      sql: `select min(w.received_at) - p.created_at as delay
            from (select id, created_at from payments where connection_id = ? and mode = ? and origin <> 'rehearsal'
                  order by created_at desc limit ${HISTORY}) p
            join webhooks w on w.payment_id = p.id group by p.id`,
      args: [connectionId, mode],
    }),
    rt.db.client.execute({
      sql: `select count(*) as payments, min(created_at) as oldest from payments p
            where connection_id = ? and mode = ? and origin <> 'rehearsal' and provider_ref is not null and created_at > ?
            and not exists (select 1 from webhooks w where w.payment_id = p.id)`,
      args: [connectionId, mode, Math.max(now - DAY, endpoint.provenAt)],
    }),
  ]);
  const oldest = unheard.rows[0]?.oldest;
  if (oldest === null || oldest === undefined) return null;
  const usual = usualDelay(history.rows.map((row) => Math.max(0, Number(row.delay))));
  const waited = now - Number(oldest);
  return isSilent(waited, usual) ? { usual, waited, payments: Number(unheard.rows[0]?.payments) } : null;
}
