import { sql } from "drizzle-orm";
import { check, index, integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import { at, id, oneOf } from "./columns";
import { payments } from "./payments";
import { storefronts } from "./storefronts";

/** What a person wrote about a payment, for the others. */
export const paymentNotes = sqliteTable(
  "payment_notes",
  {
    id: id(),
    paymentId: text()
      .notNull()
      .references(() => payments.id),
    person: text().notNull(),
    text: text().notNull(),
    at: at(),
  },
  (t) => [
    index("payment_notes_list").on(t.paymentId, t.at, t.id),
    check("payment_notes_text", sql`${t.text} <> ''`),
  ],
);

export const refundRequestStates = ["open", "agreed", "declined"] as const;

/** A refund that one person wants and another has to agree to. One of a payment is open at a time. */
export const refundRequests = sqliteTable(
  "refund_requests",
  {
    id: id(),
    paymentId: text()
      .notNull()
      .references(() => payments.id),
    /** Minor units of the payment's currency. */
    amount: integer().notNull(),
    reason: text().notNull(),
    person: text().notNull(),
    at: at(),
    state: text().$type<(typeof refundRequestStates)[number]>().notNull(),
    decidedBy: text(),
    decidedAt: integer(),
  },
  (t) => [
    uniqueIndex("refund_requests_open")
      .on(t.paymentId)
      .where(sql`state = 'open'`),
    index("refund_requests_list").on(t.paymentId, t.at, t.id),
    oneOf("refund_requests_state", t.state, refundRequestStates),
    check("refund_requests_amount", sql`${t.amount} > 0`),
    check("refund_requests_other", sql`${t.state} <> 'agreed' or ${t.decidedBy} <> ${t.person}`),
  ],
);

/** Lists whose views are kept. */
export const viewedLists = ["payments", "orders"] as const;

/** A list that people come back to: what narrows it, as it stands in the address. */
export const savedViews = sqliteTable(
  "saved_views",
  {
    id: id(),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    list: text({ enum: viewedLists }).notNull().default("payments"),
    name: text().notNull(),
    query: text().notNull(),
    person: text().notNull(),
    at: at(),
  },
  (t) => [
    uniqueIndex("saved_views_name").on(t.storefrontId, t.list, t.name),
    oneOf("saved_views_list", t.list, viewedLists),
    check("saved_views_name_given", sql`${t.name} <> ''`),
  ],
);
