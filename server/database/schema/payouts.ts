import { sql } from "drizzle-orm";
import { index, integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import { entryKinds, type EntryKind, type PayoutState, payoutStates } from "#core/profiles/profile";
import type { Told } from "#core/said";
import { areFlags, at, flag, id, isModeOf, mode, notNegative, oneOf } from "./columns";
import { connections } from "./connections";
import { payments } from "./payments";

/** What a provider paid out to the merchant; an amount below nothing was taken. */
export const payouts = sqliteTable(
  "payouts",
  {
    id: id(),
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    mode: mode(),
    /** The provider's name for it. */
    providerId: text().notNull(),
    currency: text().notNull(),
    amount: integer().notNull(),
    state: text().$type<PayoutState>().notNull(),
    /** The provider's word for its state where no profile explains it; it counts as announced until one does. */
    word: text(),
    /** When it was paid, and when it is on the account. */
    paidAt: at(),
    arrivesAt: integer(),
    /** Where the reading of its entries goes on; null: at its beginning, or it is read. */
    readFrom: text(),
    /** Whether all of its entries are here. */
    isRead: flag(),
    entries: integer().notNull().default(0),
    /** What its entries come to. */
    sum: integer().notNull().default(0),
    /** Whether a person should look at it: it came back, or its entries do not come to what was paid. */
    odd: flag(),
    /** The state that its payments have been told of. */
    told: text().$type<PayoutState>(),
    seenAt: at(),
  },
  (t) => [
    uniqueIndex("payouts_one").on(t.connectionId, t.mode, t.providerId),
    index("payouts_list").on(t.mode, t.paidAt, t.id),
    index("payouts_odd")
      .on(t.connectionId)
      .where(sql`odd = 1`),
    isModeOf("payouts_mode", t.mode),
    oneOf("payouts_state", t.state, payoutStates),
    areFlags("payouts_flags", t.isRead, t.odd),
    notNegative("payouts_counts", t.entries),
  ],
);

/** One entry of a payout: `amount` of `currency` as the shopper paid it, `fee` and `net` of the payout's currency. */
export const payoutEntries = sqliteTable(
  "payout_entries",
  {
    id: id(),
    payoutId: text()
      .notNull()
      .references(() => payouts.id),
    providerId: text().notNull(),
    kind: text().$type<EntryKind>().notNull(),
    /** The provider's own word for it. */
    word: text().notNull(),
    /** The payment it is about; null: it is about none, or none that was made here. */
    paymentId: text().references(() => payments.id),
    ref: text(),
    reference: text(),
    currency: text().notNull(),
    amount: integer().notNull(),
    fee: integer().notNull(),
    net: integer().notNull(),
    at: integer(),
  },
  (t) => [
    uniqueIndex("payout_entries_one").on(t.payoutId, t.providerId),
    index("payout_entries_order").on(t.payoutId, sql`coalesce(at, 0)`, t.id),
    index("payout_entries_payment")
      .on(t.paymentId)
      .where(sql`payment_id is not null`),
    oneOf("payout_entries_kind", t.kind, entryKinds),
  ],
);

/** When an account was last asked for its payouts. */
export const payoutReadings = sqliteTable("payout_readings", {
  /** The connection and the mode. */
  id: id(),
  askedAt: at(),
  /** What spoke against it; null: it was answered. */
  outcome: text({ mode: "json" }).$type<Told>(),
});
