import { and, desc, eq, inArray, lt, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { changeSettings } from "../audit/audit";
import { keySets, payments } from "../database/schema";
import type { Runtime } from "../runtime";
import type { KeySet } from "../database/rows";
import type { ConnectionWithProfile } from "./connections";
import { type KeySide, keySideOf } from "./key-sides";

/** Earlier keys that were replaced and are still kept, because they may be valid at the provider. */
export interface Earlier {
  /** Field id → last letters of the value that was replaced. */
  hints: Record<string, string>;
  replacedAt: number;
  /** When a payment was last begun with them. */
  usedAt: number | null;
}

/** The earlier keys of a mode once newer ones are proven and in use; null when there is nothing to retire. */
export async function earlierKeys(
  rt: Runtime,
  { connection, profile }: ConnectionWithProfile,
  mode: Mode,
  { paying, sets }: KeySide,
): Promise<Earlier | null> {
  if (!paying) return null;
  const older = await everInUse(rt, olderThan(paying.keySet, sets));
  const secret = profile.fields.filter((field) => field.secret).map((field) => field.id);
  const hints: Record<string, string> = {};
  for (const set of older)
    for (const id of secret) {
      const [old, now] = [set.values[id], paying.keySet.values[id]];
      if (old && now && old.digest !== now.digest) hints[id] ??= old.hint;
    }
  if (Object.keys(hints).length === 0) return null;
  const [used] = await rt.db.orm
    .select({ at: payments.createdAt })
    .from(payments)
    .innerJoin(keySets, eq(keySets.id, payments.keySetId))
    .where(
      and(
        eq(payments.connectionId, connection.id),
        eq(payments.mode, mode),
        lt(keySets.number, paying.keySet.number),
      ),
    )
    .orderBy(desc(payments.createdAt))
    .limit(1);
  return { hints, replacedAt: paying.keySet.createdAt, usedAt: used?.at ?? null };
}

/** Those of some keys that a call ever proved, as any that pays was; others were mistakes of typing. */
async function everInUse(rt: Runtime, older: KeySet[]): Promise<KeySet[]> {
  if (older.length === 0) return older;
  const rows = await rt.db.orm
    .select({ id: keySets.id })
    .from(keySets)
    .where(
      and(
        inArray(
          keySets.id,
          older.map((set) => set.id),
        ),
        sql`exists (select 1 from key_checks c where c.key_set_id = ${keySets.id} and json_array_length(c.proven) > 0)`,
      ),
    );
  const used = new Set(rows.map((row) => row.id));
  return older.filter((set) => used.has(set.id));
}

const olderThan = (than: KeySet, sets: readonly KeySet[]): KeySet[] =>
  sets.filter((set) => set.number < than.number && set.retiredAt === null);

/**
 * Retires the keys that newer, proven ones have replaced: their values are forgotten, and payments that began with
 * them go on with the newer ones. False when there are no proven newer ones.
 */
export async function retireKeys(
  rt: Runtime,
  person: string,
  where: ConnectionWithProfile,
  mode: Mode,
): Promise<boolean> {
  const { connection } = where;
  const { paying, sets } = await keySideOf(rt, where, mode);
  if (!paying) return false;
  const older = olderThan(paying.keySet, sets);
  if (older.length === 0) return false;
  await changeSettings(
    rt,
    {
      person,
      action: "earlier keys retired",
      subject: connection.id,
      detail: { mode, revisions: older.map((one) => one.number) },
    },
    older.map((set) =>
      rt.db.orm
        .update(keySets)
        .set({ retiredAt: rt.now(), values: forgotten(set.values) })
        .where(eq(keySets.id, set.id)),
    ),
  );
  return true;
}

/** Hints and fingerprints stay, so that the same key is known again; the values go. */
const forgotten = (values: KeySet["values"]): KeySet["values"] =>
  Object.fromEntries(Object.entries(values).map(([id, entry]) => [id, { ...entry, value: "" }]));
