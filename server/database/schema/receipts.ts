import { index, integer, sqliteTable, text } from "drizzle-orm/sqlite-core";
import type { Told } from "#core/said";
import { receiptKinds, type ReceiptKind } from "#core/receipts/receipts";
import { at, id, isModeOf, mode, notNegative, oneOf } from "./columns";
import { payments } from "./payments";
import { storefronts } from "./storefronts";

/** A letter to a shopper about a payment. Its id says what it is about, so that each is written once. */
export const receipts = sqliteTable(
  "receipts",
  {
    id: id(),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    mode: mode(),
    paymentId: text()
      .notNull()
      .references(() => payments.id),
    kind: text().$type<ReceiptKind>().notNull(),
    /** What was sent back, minor units of the payment's currency; zero for what is about no refund. */
    refunded: integer().notNull(),
    email: text().notNull(),
    /** How often it has left the house; each time under an id of its own. */
    sent: integer().notNull().default(0),
    sentAt: integer(),
    /** Who asked for it to be sent once more. */
    person: text(),
    /** Why it could not be sent the last time it was tried. */
    trouble: text({ mode: "json" }).$type<Told>(),
    createdAt: at(),
  },
  (t) => [
    index("receipts_payment").on(t.paymentId, t.createdAt),
    isModeOf("receipts_mode", t.mode),
    oneOf("receipts_kind", t.kind, receiptKinds),
    notNegative("receipts_counts", t.refunded, t.sent),
  ],
);
