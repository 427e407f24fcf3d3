import { type SQL, sql } from "drizzle-orm";
import { check, integer, type SQLiteColumn, text } from "drizzle-orm/sqlite-core";
import { type Mode, modes } from "#core/mode";

// Times are milliseconds since the epoch; amounts are minor units of the row's currency.
export const id = () => text().primaryKey();
export const at = () => integer().notNull();
export const mode = () => text().$type<Mode>().notNull();
export const flag = () => integer({ mode: "boolean" }).notNull();

/** A CHECK that a column holds one of these, or nothing where it may. */
export const oneOf = (name: string, column: SQLiteColumn, values: readonly string[]) =>
  check(name, sql`${column} in (${sql.raw(values.map((one) => `'${one}'`).join(", "))})`);

/** A CHECK that a column is test or live. */
export const isModeOf = (name: string, column: SQLiteColumn) => oneOf(name, column, modes);

/** A CHECK that flags are 0 or 1. */
export const areFlags = (name: string, ...columns: SQLiteColumn[]) =>
  check(name, every(columns.map((column) => sql`${column} in (0, 1)`)));

/** A CHECK that amounts and counts are not below zero. */
export const notNegative = (name: string, ...columns: SQLiteColumn[]) =>
  check(name, every(columns.map((column) => sql`${column} >= 0`)));

const every = (conditions: SQL[]): SQL => sql.join(conditions, sql` and `);
