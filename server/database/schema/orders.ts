import { index, integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import { type OrderPart, type OrderState, orderStates } from "#core/orders/paid";
import { at, id, isModeOf, mode, notNegative, oneOf } from "./columns";
import { type Origin, origins } from "./origins";
import { storefronts } from "./storefronts";

/** What a shop wants to be paid for, by its own reference; amounts in minor units of the currency. */
export const orders = sqliteTable(
  "orders",
  {
    id: id(),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    mode: mode(),
    origin: text().$type<Origin>().notNull(),
    reference: text().notNull(),
    currency: text().notNull(),
    due: integer().notNull(),
    held: integer().notNull().default(0),
    paid: integer().notNull().default(0),
    refunded: integer().notNull().default(0),
    state: text().$type<OrderState>().notNull(),
    /** The payment that pays it; of several parts the one that came last. */
    payingPaymentId: text(),
    /** What each payment that is taken for it does for it. */
    parts: text({ mode: "json" }).$type<Record<string, OrderPart>>().notNull().default({}),
    stage: text(),
    /** Grows with each change, so that of two pieces of news the newer can be told. */
    version: integer().notNull(),
    createdAt: at(),
    updatedAt: at(),
    /** Of a test order: when the shop was told to close it. */
    archivedAt: integer(),
  },
  (t) => [
    uniqueIndex("orders_reference").on(t.storefrontId, t.mode, t.origin, t.reference),
    index("orders_list").on(t.storefrontId, t.mode, t.createdAt, t.id),
    isModeOf("orders_mode", t.mode),
    oneOf("orders_origin", t.origin, origins),
    oneOf("orders_state", t.state, orderStates),
    notNegative("orders_amounts", t.due, t.held, t.paid, t.refunded),
  ],
);
