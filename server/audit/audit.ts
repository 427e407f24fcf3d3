import { desc, lt } from "drizzle-orm";
import { fingerprint } from "#core/fingerprint";
import { isConflict, messagesOf } from "../database/guard";
import type { Statement } from "../database/open";
import { audit } from "../database/schema";
import type { Runtime } from "../runtime";

/** A change of settings, for the trail. `detail` must hold no secret. */
export interface AuditEntry {
  person: string;
  action: string;
  subject: string;
  detail?: Record<string, unknown>;
}

const GENESIS = "0".repeat(64);

/**
 * Writes the statements and the audit entry as one transaction. The entry carries the hash of the one before;
 * when another process was quicker with its number, everything is tried again.
 */
export async function changeSettings(
  rt: Runtime,
  entry: AuditEntry,
  statements: readonly Statement[],
): Promise<void> {
  for (let attempt = 1; ; attempt++) {
    const [last] = await rt.db.orm.select().from(audit).orderBy(desc(audit.number)).limit(1);
    const row = {
      number: (last?.number ?? 0) + 1,
      at: rt.now(),
      person: entry.person,
      action: entry.action,
      subject: entry.subject,
      detail: entry.detail ?? {},
      previous: last?.hash ?? GENESIS,
    };
    const insert = rt.db.orm.insert(audit).values({ ...row, hash: fingerprint(row) });
    try {
      return await rt.db.write([...statements, insert]);
    } catch (error) {
      const raced = isConflict(error) && /audit\.(number|hash)/.test(messagesOf(error));
      if (!raced || attempt === 20) throw error;
    }
  }
}

/** The number of the first entry whose hash does not fit, or null when the trail is whole. */
export async function auditBreak(rt: Runtime): Promise<number | null> {
  let previous = GENESIS;
  for (const { hash, ...row } of await rt.db.orm.select().from(audit).orderBy(audit.number)) {
    if (row.previous !== previous || fingerprint(row) !== hash) return row.number;
    previous = hash;
  }
  return null;
}

/** The newest entries first. */
export const recentAudit = (rt: Runtime, limit = 50) =>
  rt.db.orm.select().from(audit).orderBy(desc(audit.number)).limit(limit);

const PAGE = 40;

/** A page of the trail, the newest first; `before` is the number it ends before, `next` that of the next page. */
export async function listAudit(rt: Runtime, before: number | null) {
  const rows = await rt.db.orm
    .select()
    .from(audit)
    .where(before === null ? undefined : lt(audit.number, before))
    .orderBy(desc(audit.number))
    .limit(PAGE + 1);
  const page = rows.slice(0, PAGE);
  return { rows: page, next: rows.length > PAGE ? (page.at(-1)?.number ?? null) : null };
}
