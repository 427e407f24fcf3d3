import { told } from "../told";
import { sql } from "drizzle-orm";
import { check, index, integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import type { FingerprintParts } from "#core/fingerprint";
import type { CaseId } from "#core/rehearsal/cases";
import type { Verdict } from "#core/rehearsal/judge";
import { type WebhookFault, webhookFaults } from "#core/rehearsal/script";
import { id, at, oneOf } from "./columns";
import { connections } from "./connections";
import { offers } from "./offers";
import { payments } from "./payments";

/** What a rehearsal does to the next webhooks about one reference. Test mode only. */
export const rimFaults = sqliteTable(
  "rim_faults",
  {
    reference: text().primaryKey(),
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    kind: text().$type<WebhookFault>().notNull(),
    until: at(),
  },
  (t) => [index("rim_faults_connection").on(t.connectionId), oneOf("rim_faults_kind", t.kind, webhookFaults)],
);

export const rehearsals = sqliteTable(
  "rehearsals",
  {
    id: id(),
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    offerId: text()
      .notNull()
      .references(() => offers.id),
    person: text().notNull(),
    startedAt: at(),
    endedAt: integer(),
    stopAt: integer(),
    cases: text({ mode: "json" }).$type<CaseId[]>().notNull(),
  },
  (t) => [
    uniqueIndex("rehearsals_one_at_a_time")
      .on(t.offerId)
      .where(sql`ended_at is null`),
    check("rehearsals_times", sql`${t.endedAt} is null or ${t.endedAt} >= ${t.startedAt}`),
  ],
);

const proofWays = ["rehearsed", "walked"] as const;
const proofStates = ["running", "passed", "failed", "stopped"] as const;

export const proofs = sqliteTable(
  "proofs",
  {
    id: id(),
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    offerId: text()
      .notNull()
      .references(() => offers.id),
    caseId: text().$type<CaseId>().notNull(),
    how: text().$type<(typeof proofWays)[number]>().notNull(),
    rehearsalId: text().references(() => rehearsals.id),
    state: text().$type<(typeof proofStates)[number]>().notNull(),
    startedAt: at(),
    endedAt: integer(),
    verdicts: text({ mode: "json" }).$type<Verdict[]>().notNull(),
    error: told(),
    paymentId: text().references(() => payments.id),
    parts: text({ mode: "json" }).$type<FingerprintParts>().notNull(),
  },
  (t) => [
    index("proofs_case").on(t.offerId, t.caseId, t.startedAt),
    uniqueIndex("proofs_walked").on(t.paymentId, t.how),
    index("proofs_rehearsal").on(t.rehearsalId),
    // Cases grow with every version; which there are is the type's to hold.
    check("proofs_case", sql`${t.caseId} <> ''`),
    oneOf("proofs_how", t.how, proofWays),
    oneOf("proofs_state", t.state, proofStates),
  ],
);
