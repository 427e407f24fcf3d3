import { and, eq, isNull, lte, sql } from "drizzle-orm";
import { connections, endpoints, keyChecks, payments, profiles } from "../database/schema";
import type { Runtime } from "../runtime";
import { connectionOf } from "./connections";
import { proveKeys } from "./proving";
import { silenceOf, unheardOf } from "./silence";
import { lookAtRegistrations } from "./webhook";

/** How long an account under review is left alone before the provider is asked again. */
const ASK_AGAIN_AFTER = 10 * 60_000;
/** How long a provider's list of registrations is believed. */
const LIST_AGAIN_AFTER = 60 * 60_000;
/** How long a payment that nothing was heard about is left alone between look-ups. */
const LOOK_AGAIN_AFTER = 15 * 60_000;

const LOT = 20;

/**
 * Asks providers how the reviews of accounts stand that have been applied for and not decided: a webhook may tell it
 * sooner, and a provider that sends none is followed all the same.
 */
export async function followReviews(rt: Runtime): Promise<boolean> {
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
    .limit(LOT);
  for (const { connectionId, mode } of due) {
    const where = await connectionOf(rt, connectionId);
    if (where) await proveKeys(rt, where, mode);
  }
  return due.length === LOT;
}

/**
 * Reads providers' lists of registrations anew, so that one that has gone missing, was doubled or listens to too little
 * is seen without anybody looking.
 */
export async function followRegistrations(rt: Runtime): Promise<boolean> {
  const seen = sql`coalesce(json_extract(${endpoints.registrations}, '$.at'), json_extract(${endpoints.registration}, '$.at'), ${endpoints.provenAt})`;
  const due = await rt.db.orm
    .select({ connectionId: endpoints.connectionId, mode: endpoints.mode })
    .from(endpoints)
    .innerJoin(connections, eq(connections.id, endpoints.connectionId))
    .innerJoin(profiles, eq(profiles.id, connections.profileId))
    .where(
      and(
        isNull(endpoints.retiredAt),
        isNull(connections.disconnectedAt),
        sql`json_extract(${profiles.document}, '$.operations.listWebhooks') is not null`,
        sql`${seen} <= ${rt.now() - LIST_AGAIN_AFTER}`,
      ),
    )
    .orderBy(seen)
    .limit(LOT);
  for (const { connectionId, mode } of due) {
    const where = await connectionOf(rt, connectionId);
    if (where) await lookAtRegistrations(rt, where, mode);
  }
  return false;
}

/**
 * Where an address has fallen silent, look-ups take over: payments of the last day that nothing was heard about are
 * asked about again and again, also those that an answer has settled, since later news of them would be missed.
 */
export async function followSilence(rt: Runtime): Promise<boolean> {
  const proven = await rt.db.orm
    .select({ endpoint: endpoints })
    .from(endpoints)
    .innerJoin(connections, eq(connections.id, endpoints.connectionId))
    .where(
      and(
        isNull(endpoints.retiredAt),
        isNull(connections.disconnectedAt),
        sql`${endpoints.provenAt} is not null`,
      ),
    );
  for (const { endpoint } of proven) {
    const { connectionId, mode } = endpoint;
    if (!(await silenceOf(rt, connectionId, mode, endpoint))) continue;
    const now = rt.now();
    await rt.db.write([
      rt.db.orm
        .update(payments)
        .set({ lookUpAt: now })
        .where(
          and(
            unheardOf(connectionId, mode, endpoint, now),
            isNull(payments.lookUpAt),
            sql`not exists (select 1 from exchanges e where e.payment_id = ${payments.id}
              and e.operation = 'find' and e.at > ${now - LOOK_AGAIN_AFTER})`,
          ),
        ),
    ]);
  }
  return false;
}
