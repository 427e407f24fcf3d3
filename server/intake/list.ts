import { and, desc, eq, inArray, lt } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { connectionStorefronts, webhooks } from "../database/schema";
import type { Runtime } from "../runtime";

const PAGE = 40;

/** Webhooks received for a storefront's connections, newest first, with the next page's cursor. */
export async function listWebhooks(rt: Runtime, storefrontId: string, mode: Mode, before: number | null) {
  const own = rt.db.orm
    .select({ id: connectionStorefronts.connectionId })
    .from(connectionStorefronts)
    .where(eq(connectionStorefronts.storefrontId, storefrontId));
  const conditions = [inArray(webhooks.connectionId, own), eq(webhooks.mode, mode)];
  if (before) conditions.push(lt(webhooks.number, before));
  const rows = await rt.db.orm
    .select()
    .from(webhooks)
    .where(and(...conditions))
    .orderBy(desc(webhooks.number))
    .limit(PAGE + 1);
  return { rows: rows.slice(0, PAGE), next: rows.length > PAGE ? (rows[PAGE - 1]?.number ?? null) : null };
}
