import { sql } from "drizzle-orm";
import { index, integer, primaryKey, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import type { Consent } from "#core/instruments";
import type { DeclineReason } from "#core/payments/facts";
import {
  type Ending,
  endings,
  type PeriodState,
  periodStates,
  type SubscriptionState,
  subscriptionStates,
} from "#core/subscriptions/course";
import type { SubscriptionEvent } from "#core/subscriptions/event";
import type { Customer } from "#core/subscriptions/order";
import type { Schedule } from "#core/subscriptions/schedule";
import type { Terms } from "#core/subscriptions/agreed";
import { at, flag, id, areFlags, isModeOf, mode, notNegative, oneOf } from "./columns";
import { instruments } from "./instruments";
import { offers } from "./offers";
import { type Origin, origins } from "./origins";
import { checkouts } from "./payments";
import { storefronts } from "./storefronts";

/** What shoppers have agreed to pay again and again: see `core/subscriptions`. */
export const subscriptions = sqliteTable(
  "subscriptions",
  {
    id: id(),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    mode: mode(),
    origin: text().$type<Origin>().notNull(),
    /** The shop's own number of it. */
    reference: text().notNull(),
    /** Whose it is, in the shop's own words; empty once they were erased. */
    shopper: text().notNull(),
    customer: text({ mode: "json" }).$type<Customer>().notNull(),
    terms: text({ mode: "json" }).$type<Terms>().notNull(),
    quantity: integer().notNull(),
    /** What every regular period comes to, minor units of the currency; both follow from the terms, for lists and sums. */
    amount: integer().notNull(),
    currency: text().notNull(),
    state: text().$type<SubscriptionState>().notNull(),
    /** Why it is over. */
    ending: text().$type<Ending>(),
    /** The offer and the kept instrument that it is charged by, once the shopper has paid with them. */
    offerId: text().references(() => offers.id),
    // A shopper who is erased leaves none behind.
    instrumentId: text().references(() => instruments.id, { onDelete: "set null" }),
    /** The instrument that the shop knows of: with another it is told of the change. Null until it has run once. */
    toldInstrument: text(),
    /** The instrument of which was told that it ends before it is charged next. */
    toldEnds: text(),
    /** What the shopper agreed to, in which words and when. */
    mandate: text({ mode: "json" }).$type<Consent>(),
    schedule: text({ mode: "json" }).$type<Schedule>(),
    /** The number of the period that is charged next, when that is due, and how many regular ones were charged. */
    next: integer().notNull(),
    nextDue: integer(),
    charged: integer().notNull(),
    /** Whether it ends when the next period would begin. */
    ends: flag(),
    version: integer().notNull(),
    createdAt: at(),
    updatedAt: at(),
    endedAt: integer(),
  },
  (t) => [
    uniqueIndex("subscriptions_reference").on(t.storefrontId, t.mode, t.origin, t.reference),
    index("subscriptions_list").on(t.storefrontId, t.mode, t.createdAt, t.id),
    index("subscriptions_state").on(t.storefrontId, t.mode, t.state, t.createdAt, t.id),
    index("subscriptions_due")
      .on(t.storefrontId, t.mode, t.nextDue)
      .where(sql`next_due is not null`),
    index("subscriptions_shopper").on(t.shopper, t.mode, t.storefrontId),
    index("subscriptions_instrument")
      .on(t.instrumentId)
      .where(sql`instrument_id is not null`),
    isModeOf("subscriptions_mode", t.mode),
    oneOf("subscriptions_origin", t.origin, origins),
    oneOf("subscriptions_states", t.state, subscriptionStates),
    oneOf("subscriptions_ending", t.ending, endings),
    areFlags("subscriptions_flags", t.ends),
    notNegative("subscriptions_counts", t.quantity, t.amount, t.next, t.charged),
  ],
);

/** One period of a subscription that was charged, or left out. It is there once, whoever comes to charge it. */
export const subscriptionPeriods = sqliteTable(
  "subscription_periods",
  {
    subscriptionId: text()
      .notNull()
      .references(() => subscriptions.id),
    number: integer().notNull(),
    /** Its first day and the first of the next. */
    first: text().notNull(),
    until: text().notNull(),
    dueAt: at(),
    /** Minor units of the currency in the subscription's terms. */
    amount: integer().notNull(),
    state: text().$type<PeriodState>().notNull(),
    checkoutId: text().references(() => checkouts.id),
    tries: integer().notNull().default(0),
    triedAt: integer(),
    asks: integer().notNull().default(0),
    /** The last of its payments that was refused, and why. */
    refusedPaymentId: text(),
    reason: text().$type<DeclineReason>(),
    settledAt: integer(),
  },
  (t) => [
    primaryKey({ columns: [t.subscriptionId, t.number] }),
    uniqueIndex("subscription_periods_checkout").on(t.checkoutId),
    index("subscription_periods_due").on(t.dueAt),
    oneOf("subscription_periods_state", t.state, periodStates),
    notNegative("subscription_periods_counts", t.number, t.amount, t.tries, t.asks),
  ],
);

/** What happened to a subscription, and by whom; never edited. */
export const subscriptionEvents = sqliteTable(
  "subscription_events",
  {
    id: integer().primaryKey({ autoIncrement: true }),
    subscriptionId: text()
      .notNull()
      .references(() => subscriptions.id),
    at: at(),
    /** A person here, `shop`, `shopper` or `zahlung`. */
    by: text().notNull(),
    event: text({ mode: "json" }).$type<SubscriptionEvent>().notNull(),
  },
  (t) => [index("subscription_events_of").on(t.subscriptionId, t.id)],
);
