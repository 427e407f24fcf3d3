import { sql } from "drizzle-orm";
import { index, integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import { type FindingKind, findingKinds } from "#core/findings/kinds";
import type { SaidValues } from "#core/said";
import { at, id, isModeOf, mode, oneOf } from "./columns";
import { payments } from "./payments";
import { storefronts } from "./storefronts";

/** Something that a person should look at: what it is about, since when, and how it ended. */
export const findings = sqliteTable(
  "findings",
  {
    id: id(),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    mode: mode(),
    kind: text().$type<FindingKind>().notNull(),
    /** The id of what it is about: a payment, an account, an offer or a payout. */
    subject: text().notNull(),
    /** The same, where that is a payment, with its order. */
    paymentId: text().references(() => payments.id),
    orderReference: text(),
    /** Tells it from others of its kind about the same. */
    detail: text().notNull(),
    /** What its sentence is filled with. */
    values: text({ mode: "json" }).$type<SaidValues>().notNull(),
    state: text().$type<"open" | "snoozed" | "resolved">().notNull(),
    openedAt: at(),
    snoozedUntil: integer(),
    resolvedAt: integer(),
    /** Who put it off or settled it, and why; nobody: it went away by itself. */
    person: text(),
    reason: text(),
  },
  (t) => [
    uniqueIndex("findings_one").on(t.subject, t.kind, t.storefrontId, t.detail),
    index("findings_payment")
      .on(t.paymentId)
      .where(sql`payment_id is not null`),
    index("findings_list").on(t.storefrontId, t.mode, t.openedAt, t.id),
    index("findings_open")
      .on(t.storefrontId, t.mode, t.openedAt, t.id)
      .where(sql`state <> 'resolved'`),
    isModeOf("findings_mode", t.mode),
    oneOf("findings_kind", t.kind, findingKinds),
    oneOf("findings_state", t.state, ["open", "snoozed", "resolved"]),
  ],
);
