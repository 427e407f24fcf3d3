import { sql } from "drizzle-orm";
import { index, integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import type { FingerprintParts } from "#core/fingerprint";
import type { Order } from "#core/order/order";
import type { FactSource, PaymentState, Statement } from "#core/payments/facts";
import { id, at, mode } from "./columns";

/** What a device wallet was asked for a checkout. `over`: it came to nothing. */
export interface DeviceAsk {
  offerId: string;
  connectionId: string;
  keySetId: string;
  ref: string;
  /** The wallet's page on which the shopper decides. */
  address: string;
  at: number;
  over?: true;
}

export const checkouts = sqliteTable(
  "checkouts",
  {
    id: id(),
    token: text().notNull().unique(),
    storefrontId: text().notNull(),
    mode: mode(),
    origin: text().$type<"shop" | "walk" | "rehearsal">().notNull(),
    reference: text().notNull(),
    order: text({ mode: "json" }).$type<Order>().notNull(),
    state: text().$type<"open" | "paid" | "cancelled" | "expired">().notNull(),
    /** The one payment that is under way or has paid. */
    activePaymentId: text(),
    /** The request that the shopper's device was last asked, until a payment comes of it. */
    deviceAsk: text({ mode: "json" }).$type<DeviceAsk>(),
    createdAt: at(),
    expiresAt: at(),
    closedAt: integer(),
  },
  (t) => [
    index("checkouts_device")
      .on(t.id)
      .where(sql`device_ask is not null and state = 'open'`),
    index("checkouts_open")
      .on(t.expiresAt)
      .where(sql`state = 'open'`),
    index("checkouts_reference").on(t.storefrontId, t.mode, t.reference),
  ],
);

export const payments = sqliteTable(
  "payments",
  {
    id: id(),
    checkoutId: text().notNull(),
    storefrontId: text().notNull(),
    connectionId: text().notNull(),
    keySetId: text().notNull(),
    offerId: text().notNull(),
    revisionId: text().notNull(),
    methodId: text().notNull(),
    mode: mode(),
    origin: text().$type<"shop" | "walk" | "rehearsal">().notNull(),
    /** Our reference at the provider, and the shop's order reference. */
    reference: text().notNull().unique(),
    orderReference: text().notNull(),
    providerRef: text(),
    instrument: text(),
    amount: integer().notNull(),
    currency: text().notNull(),
    capture: text().$type<"at-once" | "later">().notNull(),
    // Projection of the facts; rebuilt from them at every change.
    state: text().$type<PaymentState>().notNull(),
    authorised: integer().notNull(),
    captured: integer().notNull(),
    refunded: integer().notNull(),
    stage: text(),
    attention: text(),
    version: integer().notNull(),
    /** Settings the payment ran with, for proofs. */
    parts: text({ mode: "json" }).$type<FingerprintParts>().notNull(),
    archivedAt: integer(),
    /** When the provider is to be asked next, while the outcome is open. */
    lookUpAt: integer(),
    lookUps: integer().notNull().default(0),
    createdAt: at(),
    updatedAt: at(),
  },
  (t) => [
    index("payments_list").on(t.storefrontId, t.mode, t.createdAt, t.id),
    index("payments_state").on(t.storefrontId, t.mode, t.state, t.createdAt, t.id),
    index("payments_order").on(t.storefrontId, t.mode, t.orderReference, t.createdAt, t.id),
    index("payments_provider_ref").on(t.providerRef),
    index("payments_checkout").on(t.checkoutId),
    index("payments_connection").on(t.connectionId, t.mode, t.createdAt),
    index("payments_attention")
      .on(t.attention)
      .where(sql`attention is not null`),
    index("payments_look_up")
      .on(t.lookUpAt)
      .where(sql`look_up_at is not null`),
  ],
);

export const facts = sqliteTable(
  "facts",
  {
    number: integer().primaryKey({ autoIncrement: true }),
    paymentId: text().notNull(),
    key: text().notNull(),
    source: text().$type<FactSource>().notNull(),
    at: at(),
    recordedAt: at(),
    statement: text({ mode: "json" }).$type<Statement>().notNull(),
    person: text(),
  },
  (t) => [uniqueIndex("facts_key").on(t.paymentId, t.key)],
);
