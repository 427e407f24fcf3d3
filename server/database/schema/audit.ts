import { sql } from "drizzle-orm";
import { check, integer, sqliteTable, text } from "drizzle-orm/sqlite-core";
import { at } from "./columns";

/** Changes of settings, each entry carrying the hash of the one before. */
export const audit = sqliteTable(
  "audit",
  {
    number: integer().primaryKey(),
    at: at(),
    person: text().notNull(),
    action: text().notNull(),
    subject: text().notNull(),
    detail: text({ mode: "json" }).$type<Record<string, unknown>>().notNull(),
    previous: text().notNull(),
    hash: text().notNull().unique(),
  },
  (t) => [check("audit_hashes", sql`length(${t.previous}) = 64 and length(${t.hash}) = 64`)],
);
