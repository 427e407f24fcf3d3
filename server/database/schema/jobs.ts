import { told } from "../told";
import { sql } from "drizzle-orm";
import { index, integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import { at, id, notNegative } from "./columns";

/** Something to do in the background, once however often it is asked for: see `server/jobs`. */
export const jobs = sqliteTable(
  "jobs",
  {
    id: id(),
    kind: text().notNull(),
    /** What it is about; unique in its kind. */
    key: text().notNull(),
    /** Jobs of one lane depend on the same outside system: one that hangs takes no more than its lane's share. */
    lane: text().notNull(),
    /** When it is to be done next. While it is being done: until when whoever has it is believed to be at it. Null: it was given up, and waits for a person. */
    runAt: integer(),
    /** Whoever has taken it. */
    lease: text(),
    /** Failed tries since the last success. */
    tries: integer().notNull().default(0),
    /** Counts how often it was asked for, so that a wish that comes while it is being done is not lost. */
    asked: integer().notNull().default(0),
    progress: text({ mode: "json" }).$type<Record<string, unknown>>(),
    /** What went wrong last, in words. */
    error: told(),
    createdAt: at(),
    triedAt: integer(),
  },
  (t) => [
    uniqueIndex("jobs_key").on(t.kind, t.key),
    index("jobs_of_lane")
      .on(t.kind, t.lane, t.runAt)
      .where(sql`run_at is not null`),
    index("jobs_lease")
      .on(t.lease)
      .where(sql`lease is not null`),
    index("jobs_failing")
      .on(t.createdAt, t.id)
      .where(sql`tries > 0`),
    notNegative("jobs_counts", t.tries, t.asked),
  ],
);
