import { sql } from "drizzle-orm";
import { index, integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import type { FingerprintParts } from "#core/fingerprint";
import type { CaseId, Verdict } from "#core/rehearsal/cases";
import { id, at } from "./columns";

/** What a rehearsal does to the next webhooks about one reference. Test mode only. */
export const rimFaults = sqliteTable(
  "rim_faults",
  {
    reference: text().primaryKey(),
    connectionId: text().notNull(),
    kind: text().$type<"lose-webhook" | "double-webhook" | "reorder-webhooks">().notNull(),
    until: at(),
  },
  (t) => [index("rim_faults_connection").on(t.connectionId)],
);

export const rehearsals = sqliteTable(
  "rehearsals",
  {
    id: id(),
    connectionId: text().notNull(),
    offerId: text().notNull(),
    person: text().notNull(),
    startedAt: at(),
    endedAt: integer(),
    stopAt: integer(),
    leasedUntil: integer(),
    cases: text({ mode: "json" }).$type<CaseId[]>().notNull(),
  },
  (t) => [
    uniqueIndex("rehearsals_one_at_a_time")
      .on(t.offerId)
      .where(sql`ended_at is null`),
  ],
);

export const proofs = sqliteTable(
  "proofs",
  {
    id: id(),
    connectionId: text().notNull(),
    offerId: text().notNull(),
    caseId: text().$type<CaseId>().notNull(),
    how: text().$type<"rehearsed" | "walked">().notNull(),
    rehearsalId: text(),
    state: text().$type<"running" | "passed" | "failed" | "stopped">().notNull(),
    startedAt: at(),
    endedAt: integer(),
    verdicts: text({ mode: "json" }).$type<Verdict[]>().notNull(),
    error: text(),
    paymentId: text(),
    parts: text({ mode: "json" }).$type<FingerprintParts>().notNull(),
  },
  (t) => [
    index("proofs_case").on(t.offerId, t.caseId, t.startedAt),
    uniqueIndex("proofs_walked").on(t.paymentId, t.how),
  ],
);
