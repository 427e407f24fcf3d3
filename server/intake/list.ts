import { and, eq, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import type { Webhook } from "../database/rows";
import { connectionStorefronts, payments, webhooks } from "../database/schema";
import { askFor } from "../jobs/jobs";
import type { Runtime } from "../runtime";
import { applicableAgain } from "./apply";

const PAGE = 30;
export const MOST_EXPORTED = 10_000;

/** What messages came to, by the words a list can be narrowed with. */
const results = {
  well: "w.verdict = 'verified' and w.outcome in ('applied', 'repeated', 'ping', 'account')",
  refused: "w.verdict <> 'verified'",
  left: "w.verdict = 'verified' and w.outcome in ('unknown-payment', 'not-understood', 'failing', 'given-up')",
};
export type WebhookResult = keyof typeof results;
export const isWebhookResult = (value: unknown): value is WebhookResult =>
  typeof value === "string" && Object.hasOwn(results, value);

export interface WebhookFilter {
  connection?: string | null;
  result?: WebhookResult | null;
  most?: number;
}

/** A message with the order that it is about. */
export type ListedWebhook = Webhook & { order: string | null };

/** Webhooks received for a storefront's connections, newest first, with the next page's cursor. */
export async function listWebhooks(
  rt: Runtime,
  storefrontId: string,
  mode: Mode,
  before: number | null,
  { connection = null, result = null, most = PAGE }: WebhookFilter = {},
): Promise<{ rows: ListedWebhook[]; next: number | null }> {
  const narrowed = sql.raw(result ? ` and ${results[result]}` : "");
  // The newest of each connection by its own index; they are put together here, so that nothing is sorted there.
  const rows = await rt.db.orm
    .select({ webhook: webhooks, order: payments.orderReference })
    .from(connectionStorefronts)
    .innerJoin(
      webhooks,
      sql`${webhooks.number} in (select w.number from webhooks w
        where w.connection_id = ${connectionStorefronts.connectionId} and w.mode = ${mode}
        and w.number < ${before ?? Number.MAX_SAFE_INTEGER}${narrowed} order by w.number desc limit ${most + 1})`,
    )
    .leftJoin(payments, eq(payments.id, webhooks.paymentId))
    .where(
      and(
        eq(connectionStorefronts.storefrontId, storefrontId),
        ...(connection ? [eq(connectionStorefronts.connectionId, connection)] : []),
      ),
    );
  const sorted = rows
    .map((row): ListedWebhook => ({ ...row.webhook, order: row.order }))
    .sort((a, b) => b.number - a.number);
  return {
    rows: sorted.slice(0, most),
    next: sorted.length > most ? (sorted[most - 1]?.number ?? null) : null,
  };
}

/** Has a message applied again that could not be. False when it is none of the storefront's, or nothing is left to do. */
export async function applyNow(rt: Runtime, storefrontId: string, number: number): Promise<boolean> {
  const [row] = await rt.db.orm
    .select({ webhook: webhooks })
    .from(webhooks)
    .innerJoin(connectionStorefronts, eq(connectionStorefronts.connectionId, webhooks.connectionId))
    .where(and(eq(webhooks.number, number), eq(connectionStorefronts.storefrontId, storefrontId)))
    .limit(1);
  if (!row || row.webhook.verdict !== "verified" || !applicableAgain.includes(row.webhook.outcome))
    return false;
  await rt.db.write([
    askFor(rt, { kind: "apply-webhook", key: String(number), lane: row.webhook.connectionId }),
  ]);
  rt.nudge();
  return true;
}
