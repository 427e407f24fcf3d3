import { sql } from "drizzle-orm";
import { check, integer, sqliteTable, text } from "drizzle-orm/sqlite-core";
import { at, id } from "./columns";

/** Takes no row: a guard that fails would add one, and is stopped by the CHECK. See `database/guard.ts`. */
export const guards = sqliteTable("guards", { holds: integer().notNull() }, (t) => [
  check("guard_holds", sql`${t.holds} = 1`),
]);

/** Commits to a server, so that one whose answer was lost is known again. See `database/writes.ts`. */
export const writeMarks = sqliteTable("write_marks", { id: id(), at: at() }, (t) => [
  check("write_marks_at", sql`${t.at} > 0`),
]);

/**
 * One row, counted up by triggers: `version` at every change of what decides what storefronts offer (settings, offers,
 * levers, keys and their checks, profiles), `proven` at every change of what was proven (webhook addresses, test results,
 * rehearsals). What is kept in memory of a storefront is kept under these.
 */
export const standingVersion = sqliteTable(
  "standing_version",
  { id: integer().primaryKey(), version: integer().notNull(), proven: integer().notNull() },
  (t) => [check("standing_version_one", sql`${t.id} = 1`)],
);

/** One row: a word sealed with the master key, by which a start with another key is known. See `keyring.ts`. */
export const keyring = sqliteTable(
  "keyring",
  { id: integer().primaryKey(), sealed: text().notNull() },
  (t) => [check("keyring_one", sql`${t.id} = 1`)],
);
