import { and, eq, isNull, lte, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { connections, endpoints, keyChecks, payments } from "../database/schema";
import { askFor, type JobKind, seeTo } from "../jobs/jobs";
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

const LOT = 200;

type Column = { connectionId: string; mode: Mode };

/** A job for each column of a connection: what hangs or fails there is tried again by itself. */
const jobsFor = (rt: Runtime, kind: JobKind, columns: readonly Column[]) =>
  rt.db.write(
    columns.map(({ connectionId, mode }) =>
      seeTo(rt, { kind, key: `${connectionId} ${mode}`, lane: connectionId }),
    ),
  );

/** The connection and mode that a job of a column is about; null when it is gone. */
export async function columnBy(rt: Runtime, key: string) {
  const [id = "", mode] = key.split(" ");
  const where = await connectionOf(rt, id);
  return where && (mode === "test" || mode === "live") ? { where, mode: mode as Mode } : null;
}

/**
 * Finds accounts whose reviews have been applied for and not decided: a webhook may tell it sooner, and a provider that
 * sends none is followed all the same.
 */
export async function followReviews(rt: Runtime): Promise<void> {
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
  await jobsFor(rt, "check-account", due);
}

/** Asks a provider how the review of an account stands. */
export async function checkAccount(rt: Runtime, key: string): Promise<void> {
  const column = await columnBy(rt, key);
  if (column) await proveKeys(rt, column.where, column.mode);
}

/**
 * Finds lists of registrations to be read anew, so that one that has gone missing, was doubled or listens to too little
 * is seen without anybody looking.
 */
export async function followRegistrations(rt: Runtime): Promise<void> {
  const seen = sql`coalesce(json_extract(${endpoints.registrations}, '$.at'), json_extract(${endpoints.registration}, '$.at'), ${endpoints.provenAt})`;
  const due = await rt.db.orm
    .select({ connectionId: endpoints.connectionId, mode: endpoints.mode })
    .from(endpoints)
    .innerJoin(connections, eq(connections.id, endpoints.connectionId))
    .where(
      and(
        isNull(endpoints.retiredAt),
        isNull(connections.disconnectedAt),
        sql`${seen} <= ${rt.now() - LIST_AGAIN_AFTER}`,
      ),
    )
    .limit(LOT);
  await jobsFor(rt, "read-registrations", due);
}

/** Reads a provider's list of registrations, where it has one. */
export async function readRegistrationsAgain(rt: Runtime, key: string): Promise<void> {
  const column = await columnBy(rt, key);
  if (column) await lookAtRegistrations(rt, column.where, column.mode);
}

/**
 * Where an address has fallen silent, look-ups take over: payments of the last day that nothing was heard about are
 * asked about again and again, also those that an answer has settled, since later news of them would be missed.
 */
export async function followSilence(rt: Runtime): Promise<void> {
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
    const unheard = await rt.db.orm
      .select({ id: payments.id })
      .from(payments)
      .where(
        and(
          unheardOf(connectionId, mode, endpoint, now),
          sql`not exists (select 1 from exchanges e where e.payment_id = ${payments.id}
            and e.operation = 'find' and e.at > ${now - LOOK_AGAIN_AFTER})`,
        ),
      )
      .limit(LOT);
    await rt.db.write(unheard.map(({ id }) => askFor(rt, { kind: "look-up", key: id, lane: connectionId })));
  }
}
