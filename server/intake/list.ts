import { and, eq, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import type { Webhook } from "../database/rows";
import { connectionStorefronts, webhooks } from "../database/schema";
import { askFor } from "../jobs/jobs";
import type { Runtime } from "../runtime";
import { applicableAgain } from "./apply";

const PAGE = 40;

/** Webhooks received for a storefront's connections, newest first, with the next page's cursor. */
export async function listWebhooks(
  rt: Runtime,
  storefrontId: string,
  mode: Mode,
  before: number | null,
): Promise<{ rows: Webhook[]; next: number | null }> {
  // The newest of each connection by its own index; they are put together here, so that nothing is sorted there.
  const rows = await rt.db.orm
    .select({ webhook: webhooks })
    .from(connectionStorefronts)
    .innerJoin(
      webhooks,
      sql`${webhooks.number} in (select w.number from webhooks w
        where w.connection_id = ${connectionStorefronts.connectionId} and w.mode = ${mode}
        and w.number < ${before ?? Number.MAX_SAFE_INTEGER} order by w.number desc limit ${PAGE + 1})`,
    )
    .where(sql`${connectionStorefronts.storefrontId} = ${storefrontId}`);
  const sorted = rows.map((row) => row.webhook).sort((a, b) => b.number - a.number);
  return {
    rows: sorted.slice(0, PAGE),
    next: sorted.length > PAGE ? (sorted[PAGE - 1]?.number ?? null) : null,
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
