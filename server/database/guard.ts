import { and, eq, type SQL, sql } from "drizzle-orm";
import { QueryBuilder, type SQLiteColumn, type SQLiteTable } from "drizzle-orm/sqlite-core";
import type { Statement } from "./statement";

const build = new QueryBuilder({ casing: "snake_case" });
/** Whether there is a row, and nothing of it: the columns of a wide table cost more than the question. */
const ONE = sql`1`;

function guardStatement(
  fails: "exists" | "not exists",
  table: SQLiteTable,
  holds: SQL | undefined,
): Statement {
  const { sql: seen, params } = build.select({ one: ONE }).from(table).where(holds).toSQL();
  // The CHECK of this table takes no 0, so the row that a failed condition would add undoes the batch.
  return { toSQL: () => ({ sql: `insert into guards (holds) select 0 where ${fails} (${seen})`, params }) };
}

/**
 * A condition of a write, as a statement of its batch: some row of the table must hold it at the moment the batch is
 * carried out, else all of the batch is undone and `write` rejects with an error that `guardFailed` knows. This is the
 * one way to write under a condition: what was read before may have changed, what a guard names has not.
 */
export const guard = (table: SQLiteTable, holds: SQL | undefined): Statement =>
  guardStatement("not exists", table, holds);

const ofVersion = new WeakMap<SQLiteTable, string>();

/** A guard that holds as long as a row is as it was read: every change of it counts its version up. */
export function guardVersion(
  table: SQLiteTable & { id: SQLiteColumn; version: SQLiteColumn },
  { id, version }: { id: string; version: number },
): Statement {
  // Made once for a table: it is written with nearly everything.
  const text =
    ofVersion.get(table) ?? guard(table, and(eq(table.id, id), eq(table.version, version))).toSQL().sql;
  ofVersion.set(table, text);
  return { toSQL: () => ({ sql: text, params: [id, version] }) };
}

/** The reverse of `guard`: no row of the table may hold it. */
export const guardNone = (table: SQLiteTable, holds: SQL | undefined): Statement =>
  guardStatement("exists", table, holds);

/** The messages and codes of an error and of what caused it, in one text. */
export function messagesOf(error: unknown): string {
  const all: string[] = [];
  for (let one: unknown = error; one instanceof Error; one = one.cause)
    all.push((one as { code?: string }).code ?? "", one.message);
  return all.join(" ");
}

/** Whether a write failed because a guard of it did not hold, and so changed nothing. */
export const guardFailed = (error: unknown): boolean => messagesOf(error).includes("guard_holds");

/** Whether a write failed on a constraint (a guard, unique, not null, check, foreign key), and so changed nothing. */
export const isConflict = (error: unknown): boolean =>
  /SQLITE_CONSTRAINT|constraint failed/i.test(messagesOf(error));

/** Writes under a guard. False: it did not hold, and nothing was written. */
export async function unlessOvertaken(write: () => Promise<unknown>): Promise<boolean> {
  try {
    await write();
    return true;
  } catch (error) {
    if (!guardFailed(error)) throw error;
    return false;
  }
}
