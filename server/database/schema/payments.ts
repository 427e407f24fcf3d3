import { sql } from "drizzle-orm";
import {
  type AnySQLiteColumn,
  check,
  index,
  integer,
  sqliteTable,
  text,
  uniqueIndex,
} from "drizzle-orm/sqlite-core";
import type { FingerprintParts } from "#core/fingerprint";
import type { Keeping } from "#core/instruments";
import type { Order } from "#core/orders/order";
import type { CapturePolicy } from "#core/offers/offer";
import {
  type DeclineReason,
  disputeStates,
  type DisputeState,
  type FactSource,
  factSources,
  type FraudReview,
  type PaymentState,
  paymentStates,
  type Statement,
} from "#core/payments/facts";
import { at, id, isModeOf, mode, notNegative, oneOf } from "./columns";
import { orders } from "./orders";
import { type Origin, origins } from "./origins";
import { connections, keySets } from "./connections";
import { offerRevisions, offers } from "./offers";
import { profileVersions } from "./profiles";
import { storefronts } from "./storefronts";

const checkoutStates = ["open", "paid", "cancelled", "expired"] as const;
export type CheckoutState = (typeof checkoutStates)[number];

/** What a device wallet was asked for a checkout. `over`: it came to nothing. */
export interface DeviceAsk {
  offerId: string;
  connectionId: string;
  keySetId: string;
  /** The profile version it was asked with. */
  versionId?: string;
  ref: string;
  /** The wallet's page on which the shopper decides. */
  address: string;
  at: number;
  /** The total that it was asked for, minor units. */
  asked?: number;
  /** What the shopper sits at. */
  device?: "phone" | "computer";
  over?: true;
}

/** Who a checkout's order is for. In these very words it is found by its index. */
export const orderEmail = sql`lower(json_extract("order", '$.email'))`;

export const checkouts = sqliteTable(
  "checkouts",
  {
    id: id(),
    token: text().notNull().unique(),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    mode: mode(),
    origin: text().$type<Origin>().notNull(),
    orderId: text()
      .notNull()
      .references(() => orders.id),
    reference: text().notNull(),
    order: text({ mode: "json" }).$type<Order>().notNull(),
    state: text().$type<CheckoutState>().notNull(),
    /** The one payment that is under way or has paid. */
    activePaymentId: text().references((): AnySQLiteColumn => payments.id),
    /** The request that the shopper's device was last asked, until a payment comes of it. */
    deviceAsk: text({ mode: "json" }).$type<DeviceAsk>(),
    /** The terms that the shopper agreed to, by their address, and when. */
    agreed: text({ mode: "json" }).$type<{ terms: string; at: number }>(),
    createdAt: at(),
    expiresAt: at(),
    closedAt: integer(),
  },
  (t) => [
    index("checkouts_order").on(t.orderId, t.state),
    index("checkouts_reference").on(t.storefrontId, t.mode, t.reference),
    index("checkouts_email").on(t.storefrontId, orderEmail, t.createdAt),
    isModeOf("checkouts_mode", t.mode),
    oneOf("checkouts_origin", t.origin, origins),
    oneOf("checkouts_state", t.state, checkoutStates),
  ],
);

/** Says of a payment that money was moved with it. In these very words it is found by its index. */
export const MOVED_MONEY =
  "state in ('authorised', 'captured', 'partly-captured', 'partly-refunded', 'refunded')";

export const payments = sqliteTable(
  "payments",
  {
    id: id(),
    checkoutId: text()
      .notNull()
      .references((): AnySQLiteColumn => checkouts.id),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    /** The account that moves its money, with the keys and the profile version that every call about it uses; null: none does. */
    connectionId: text().references(() => connections.id),
    keySetId: text().references(() => keySets.id),
    profileVersionId: text().references(() => profileVersions.id),
    offerId: text()
      .notNull()
      .references(() => offers.id),
    revisionId: text()
      .notNull()
      .references(() => offerRevisions.id),
    methodId: text().notNull(),
    mode: mode(),
    origin: text().$type<Origin>().notNull(),
    /** Our reference at the provider, and the shop's order reference. */
    reference: text().notNull().unique(),
    orderReference: text().notNull(),
    /** The provider's own reference; without a provider what the shopper quotes. */
    providerRef: text(),
    /** Until when it is to be paid, where no provider asks for it. */
    dueAt: integer(),
    instrument: text(),
    amount: integer().notNull(),
    /** What of the amount is for choosing this way of paying, and not for the order; below zero it was taken off. */
    choiceFee: integer().notNull().default(0),
    /** What its shopper agreed to, who wants it kept for the next time; null: nothing is kept. */
    keeping: text({ mode: "json" }).$type<Keeping>(),
    currency: text().notNull(),
    capture: text().$type<CapturePolicy>().notNull(),
    // Projection of the facts; rebuilt from them at every change.
    state: text().$type<PaymentState>().notNull(),
    authorised: integer().notNull(),
    captured: integer().notNull(),
    refunded: integer().notNull(),
    released: integer().notNull().default(0),
    /** Authorised and neither captured nor released; until when, where the provider says so. */
    held: integer().notNull().default(0),
    heldUntil: integer(),
    refunding: integer().notNull().default(0),
    inDispute: integer().notNull().default(0),
    lost: integer().notNull().default(0),
    dispute: text().$type<DisputeState>(),
    /** Until when the dispute can be answered. */
    disputeDue: integer(),
    review: text().$type<FraudReview["state"]>(),
    /** What the provider told that it kept, in the payment's own currency; null: nothing was told. */
    fee: integer(),
    /** What payouts hold of it so far, less what they took back. */
    paidOut: integer().notNull().default(0),
    /** Why it came to nothing, where the provider said so in words that the profile explains. */
    decline: text().$type<DeclineReason>(),
    stage: text(),
    version: integer().notNull(),
    /** Settings the payment ran with, for proofs. */
    parts: text({ mode: "json" }).$type<FingerprintParts>().notNull(),
    archivedAt: integer(),
    createdAt: at(),
    updatedAt: at(),
  },
  (t) => [
    index("payments_list").on(t.storefrontId, t.mode, t.createdAt, t.id),
    index("payments_state").on(t.storefrontId, t.mode, t.state, t.createdAt, t.id),
    index("payments_order").on(t.storefrontId, t.mode, t.orderReference, t.id),
    index("payments_provider_ref").on(t.providerRef),
    index("payments_checkout").on(t.checkoutId, t.createdAt),
    index("payments_keeping")
      .on(t.checkoutId)
      .where(sql`keeping is not null`),
    index("payments_offer").on(t.offerId, t.state),
    index("payments_offer_list").on(t.offerId, t.mode, t.createdAt, t.id),
    // In these very words it is looked for.
    index("payments_not_paid_out")
      .on(t.connectionId, t.mode, t.createdAt)
      .where(sql`captured - refunded - lost > paid_out and origin = 'shop'`),
    index("payments_connection").on(t.connectionId, t.mode, t.createdAt),
    index("payments_connection_list").on(t.storefrontId, t.connectionId, t.mode, t.createdAt, t.id),
    index("payments_amount").on(t.storefrontId, t.mode, t.amount, t.createdAt, t.id),
    index("payments_last_four").on(t.storefrontId, sql`substr(instrument, -4)`, t.createdAt, t.id),
    index("payments_earning")
      .on(t.storefrontId, t.connectionId)
      .where(sql.raw(`mode = 'live' and ${MOVED_MONEY}`)),
    index("payments_held")
      .on(t.storefrontId, t.mode, t.heldUntil, t.id)
      .where(sql`held > 0`),
    index("payments_due")
      .on(t.storefrontId, t.mode, t.dueAt, t.id)
      .where(sql`connection_id is null and state = 'pending'`),
    check(
      "payments_road",
      sql`(${t.connectionId} is null) = (${t.keySetId} is null) and (${t.connectionId} is null) = (${t.profileVersionId} is null)`,
    ),
    isModeOf("payments_mode", t.mode),
    oneOf("payments_origin", t.origin, origins),
    oneOf("payments_state_known", t.state, paymentStates),
    oneOf("payments_capture", t.capture, ["at-once", "later"]),
    oneOf("payments_dispute", t.dispute, disputeStates),
    oneOf("payments_review", t.review, ["open", "passed", "refused"]),
    notNegative("payments_amounts", t.amount, t.authorised, t.captured, t.refunded),
    notNegative("payments_rest", t.released, t.held, t.refunding, t.inDispute, t.lost),
  ],
);

export const facts = sqliteTable(
  "facts",
  {
    number: integer().primaryKey({ autoIncrement: true }),
    paymentId: text()
      .notNull()
      .references(() => payments.id),
    key: text().notNull(),
    source: text().$type<FactSource>().notNull(),
    at: at(),
    recordedAt: at(),
    statement: text({ mode: "json" }).$type<Statement>().notNull(),
    person: text(),
  },
  (t) => [uniqueIndex("facts_key").on(t.paymentId, t.key), oneOf("facts_source", t.source, factSources)],
);
