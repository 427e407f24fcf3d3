import { sql } from "drizzle-orm";
import { index, integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import type { Priced } from "#core/buttons/delivery";
import type { SessionAddress, SessionReading } from "#core/profiles/answers";
import { type Over, overs, type SessionState, sessionStates } from "#core/buttons/course";
import type { PassCart } from "#core/buttons/pass-cart";
import { at, id, isModeOf, mode, notNegative, oneOf } from "./columns";
import { connections, keySets } from "./connections";
import { offers } from "./offers";
import { type Origin, origins } from "./origins";
import { checkouts } from "./payments";
import { storefronts } from "./storefronts";

/** The newest page of a shop that stood with a button in test: what a rehearsal asks the shop about. */
export const testPages = sqliteTable("test_pages", {
  storefrontId: text()
    .primaryKey()
    .references(() => storefronts.id),
  basket: text().notNull(),
  cart: text({ mode: "json" }).$type<PassCart>().notNull(),
  answersAt: text().notNull(),
  at: at(),
});

/** Purchases that shoppers began by a button on the shop's own pages: see `core/buttons`. */
export const buttonSessions = sqliteTable(
  "button_sessions",
  {
    id: id(),
    /** By what the shopper's browser names it, and by what the wallet does. */
    token: text().notNull().unique(),
    askToken: text().notNull().unique(),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    mode: mode(),
    origin: text().$type<Origin>().notNull(),
    offerId: text()
      .notNull()
      .references(() => offers.id),
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    keySetId: text()
      .notNull()
      .references(() => keySets.id),
    versionId: text().notNull(),
    /** The provider's id of it, and the page on which the shopper goes on. */
    ref: text(),
    address: text(),
    /** The shop's own name of what is bought: one order comes of it, whatever is pressed. */
    basket: text().notNull(),
    cart: text({ mode: "json" }).$type<PassCart>().notNull(),
    /** Where the shop answers, where the shopper comes back to, and where they look once more, if that is at the shop. */
    answersAt: text().notNull(),
    returnAddress: text().notNull(),
    lookAddress: text(),
    state: text().$type<SessionState>().notNull(),
    because: text().$type<Over>(),
    /** What the shop says of it, in the shopper's words. */
    says: text(),
    /** Where it goes, as far as the wallet has said. */
    place: text({ mode: "json" }).$type<SessionAddress>(),
    contact: text({ mode: "json" }).$type<SessionReading["contact"]>(),
    /** What the shop said that it comes to there, and which delivery was chosen. */
    priced: text({ mode: "json" }).$type<Priced>(),
    delivery: text(),
    /** What the wallet was told last, minor units, and what of it is for choosing this way of paying. */
    total: integer().notNull(),
    charge: integer().notNull(),
    /** Until when whoever makes the order is waited for. */
    claimedUntil: integer(),
    /** Whether the shop was asked to make the order, so that it has to hear if nothing comes of it. */
    askedAt: integer(),
    checkoutId: text().references(() => checkouts.id),
    createdAt: at(),
    expiresAt: at(),
  },
  (t) => [
    isModeOf("button_sessions_mode", t.mode),
    oneOf("button_sessions_origin", t.origin, origins),
    oneOf("button_sessions_state", t.state, sessionStates),
    oneOf("button_sessions_because", t.because, overs),
    notNegative("button_sessions_sums", t.total),
    index("button_sessions_age").on(t.expiresAt),
    // One basket is ordered once.
    uniqueIndex("button_sessions_once")
      .on(t.storefrontId, t.mode, t.basket)
      .where(sql`state in ('ordering', 'ordered')`),
  ],
);
