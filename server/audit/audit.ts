import { setImmediate as turn, setTimeout as wait } from "node:timers/promises";
import { and, desc, gt, lt, or, sql } from "drizzle-orm";
import { fingerprint } from "#core/fingerprint";
import { isConflict, messagesOf } from "../database/guard";
import type { Statement } from "../database/open";
import { audit } from "../database/schema";
import type { Shelf } from "../memory";
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
 * Writes the statements and the audit entry, or several, as one transaction. Each entry carries the hash of the one before;
 * when another process was quicker with its number, everything is tried again.
 */
export async function changeSettings(
  rt: Runtime,
  entries: AuditEntry | readonly AuditEntry[],
  statements: readonly Statement[],
): Promise<void> {
  const all = [entries].flat();
  for (let attempt = 1; ; attempt++) {
    const [last] = await rt.db.orm.select().from(audit).orderBy(desc(audit.number)).limit(1);
    let { number, hash: previous } = last ?? { number: 0, hash: GENESIS };
    const inserts = all.map(({ person, action, subject, detail = {} }) => {
      const row = { number: (number += 1), at: rt.now(), person, action, subject, detail, previous };
      previous = fingerprint(row);
      return rt.db.orm.insert(audit).values({ ...row, hash: previous });
    });
    try {
      return await rt.db.write([...statements, ...inserts]);
    } catch (error) {
      const raced = isConflict(error) && /audit\.(number|hash)/.test(messagesOf(error));
      if (!raced || attempt === 20) throw error;
    }
  }
}

/** So many entries are held against their hashes before others have their turn. */
const WALKED_AT_ONCE = 500;

/** The number of the first entry whose hash does not fit, or null when the trail is whole. */
export async function auditBreak(rt: Runtime): Promise<number | null> {
  let [previous, number] = [GENESIS, 0];
  for (;;) {
    const rows = await rt.db.orm
      .select()
      .from(audit)
      .where(gt(audit.number, number))
      .orderBy(audit.number)
      .limit(WALKED_AT_ONCE);
    for (const { hash, ...row } of rows) {
      if (row.previous !== previous || fingerprint(row) !== hash) return row.number;
      previous = hash;
      number = row.number;
    }
    if (rows.length < WALKED_AT_ONCE) return null;
    await turn();
  }
}

const chain: Shelf<{ broken: number | null }> = { name: "audit chain" };
/** A walk is remembered for so many times as long as it took. */
const REMEMBERED = 20;

/** Whether the trail is whole, or where it breaks; null while that takes longer than whoever asks waits, milliseconds. */
export async function chainNow(rt: Runtime, patience = 400): Promise<{ broken: number | null } | null> {
  const walk = rt.memory.recallUntil(chain, "", rt.now(), async () => {
    const began = performance.now();
    const broken = await auditBreak(rt);
    return { value: { broken }, until: rt.now() + (performance.now() - began) * REMEMBERED };
  });
  return Promise.race([walk, wait(patience, null)]);
}

/** Entries by who made them, what they did, and of what: whatever holds the text. */
const holding = (text: string) => {
  if (text === "") return undefined;
  const like = `%${text.replace(/[\\%_]/g, "\\$&")}%`;
  return or(
    ...[audit.person, audit.action, audit.subject].map((column) => sql`${column} like ${like} escape '\\'`),
  );
};

/** The newest entries first. */
export const recentAudit = (rt: Runtime, limit = 50, text = "") =>
  rt.db.orm.select().from(audit).where(holding(text)).orderBy(desc(audit.number)).limit(limit);

const PAGE = 40;

/** A page of the trail, the newest first; `before` is the number it ends before, `next` that of the next page. */
export async function listAudit(rt: Runtime, before: number | null, text = "") {
  const rows = await rt.db.orm
    .select()
    .from(audit)
    .where(and(before === null ? undefined : lt(audit.number, before), holding(text)))
    .orderBy(desc(audit.number))
    .limit(PAGE + 1);
  const page = rows.slice(0, PAGE);
  return { rows: page, next: rows.length > PAGE ? (page.at(-1)?.number ?? null) : null };
}
