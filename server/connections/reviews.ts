import { and, eq, isNull, lte, sql } from "drizzle-orm";
import { connections, keyChecks } from "../database/schema";
import type { Runtime } from "../runtime";
import { connectionOf } from "./connections";
import { proveKeys } from "./keys";

/** How long an account under review is left alone before the provider is asked again. */
const ASK_AGAIN_AFTER = 10 * 60_000;

/**
 * Asks providers how the reviews of accounts stand that have been applied for and not decided: a webhook may tell it
 * sooner, and a provider that sends none is followed all the same. Returns how many were asked about.
 */
export async function followReviews(rt: Runtime): Promise<number> {
  const due = await rt.db.orm
    .select({ connectionId: keyChecks.connectionId, mode: keyChecks.mode })
    .from(keyChecks)
    .innerJoin(connections, eq(connections.id, keyChecks.connectionId))
    .where(
      and(
        isNull(connections.disconnectedAt),
        sql`${keyChecks.review} in ('applied', 'in-review')`,
        lte(keyChecks.at, rt.now() - ASK_AGAIN_AFTER),
        sql`not exists (select 1 from key_checks later where later.connection_id = ${keyChecks.connectionId}
          and later.mode = ${keyChecks.mode} and (later.at, later.id) > (${keyChecks.at}, ${keyChecks.id}))`,
      ),
    )
    .limit(20);
  for (const { connectionId, mode } of due) {
    const where = await connectionOf(rt, connectionId);
    if (where) await proveKeys(rt, where, mode);
  }
  return due.length;
}
