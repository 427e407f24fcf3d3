import { and, eq, sql } from "drizzle-orm";
import type { Statement } from "../database/open";
import { jobs } from "../database/schema";
import { statement } from "../database/statement";
import type { Runtime } from "../runtime";

/** Every kind of background work. */
export type JobKind =
  | "apply-webhooks"
  | "apply-webhook"
  | "deliver-news"
  | "look-up"
  | "operation"
  | "expire-checkout"
  | "let-go"
  | "let-go-payment"
  | "take-token"
  | "capture-due"
  | "take-steps"
  | "undo-surplus"
  | "judge-walk"
  | "rehearse"
  | "check-account"
  | "read-registrations"
  | "follow-reviews"
  | "follow-registrations"
  | "follow-silence"
  | "follow-holds"
  | "follow-troubles"
  | "follow-standings"
  | "read-payouts"
  | "read-disputes"
  | "follow-disputes"
  | "follow-payouts"
  | "tell-findings"
  | "send-receipt"
  | "remind"
  | "forget-instrument"
  | "repeat"
  | "ask-shopper"
  | "close-button"
  | "prune";

export interface NewJob {
  kind: JobKind;
  /** What it is about; asking twice for the same is one job. */
  key: string;
  /** The outside system that it depends on: one that hangs takes no more than its lane's share of the work. */
  lane: string;
  /** When it is to be done, milliseconds since the epoch; now by default. */
  at?: number;
}

const COLUMNS = "id, kind, key, lane, run_at, created_at";

/**
 * The statement that asks for a job. One that is there already is done no later than wished; one that is being done is
 * done once more; one that was given up is taken up again.
 */
export function askFor(rt: Pick<Runtime, "ids" | "now">, { kind, key, lane, at }: NewJob): Statement {
  const now = rt.now();
  return statement(
    `insert into jobs (${COLUMNS}) values (?, ?, ?, ?, ?, ?) on conflict (kind, key) do update set asked = asked + 1,
     run_at = case when lease is null then min(coalesce(run_at, excluded.run_at), excluded.run_at) else run_at end`,
    [rt.ids.next("job"), kind, key, lane, at ?? now, now],
  );
}

/** The statement that sees to it that a job is there; one that is there already keeps its own time. */
export function seeTo(rt: Pick<Runtime, "ids" | "now">, { kind, key, lane, at }: NewJob): Statement {
  const now = rt.now();
  return statement(
    `insert into jobs (${COLUMNS}) values (?, ?, ?, ?, ?, ?) on conflict (kind, key) do nothing`,
    [rt.ids.next("job"), kind, key, lane, at ?? now, now],
  );
}

/** The statement that takes a job off: there is nothing left to do. */
export const takeOff = (kind: JobKind, key: string): Statement =>
  statement("delete from jobs where kind = ? and key = ?", [kind, key]);

/** Has a job done now that waits for its time or was given up. False when there is none. */
export async function doNow(rt: Runtime, id: string): Promise<boolean> {
  const [found] = await rt.db.orm.select({ id: jobs.id }).from(jobs).where(eq(jobs.id, id));
  if (!found) return false;
  await rt.db.write([
    rt.db.orm
      .update(jobs)
      .set({ runAt: rt.now(), createdAt: sql`case when run_at is null then ${rt.now()} else created_at end` })
      .where(and(eq(jobs.id, id), sql`lease is null`)),
  ]);
  rt.nudge();
  return true;
}
