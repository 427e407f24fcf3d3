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
import { type Way, ways } from "#core/ways/way";
import type { OfferDocument } from "#core/offers/offer";
import { storefronts } from "./storefronts";
import { connections } from "./connections";
import { id, areFlags, at, flag, notNegative, oneOf } from "./columns";

export const offers = sqliteTable(
  "offers",
  {
    id: id(),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    way: text().$type<Way>().notNull().default("provider"),
    /** None where no provider moves the money. */
    connectionId: text().references(() => connections.id),
    /** The profile's method, or the kind of an offer without a provider. */
    methodId: text().notNull(),
    position: integer().notNull(),
    /** Switched off at once, each side by itself. */
    offInTest: flag(),
    offInLive: flag(),
    workingId: text()
      .notNull()
      .references((): AnySQLiteColumn => offerRevisions.id),
    /** What live runs, as it was last cut over; null: nothing. */
    liveId: text().references((): AnySQLiteColumn => offerRevisions.id),
    /** The offer of another storefront whose settings hold here, but for what is set here otherwise. */
    followsId: text().references((): AnySQLiteColumn => offers.id),
    createdAt: at(),
    /** Set once it was taken off the storefront; its payments stay, and can be captured and refunded. */
    removedAt: integer(),
  },
  (t) => [
    uniqueIndex("offers_method")
      .on(t.storefrontId, t.connectionId, t.methodId)
      .where(sql`removed_at is null`),
    index("offers_connection").on(t.connectionId),
    index("offers_follows").on(t.followsId),
    oneOf("offers_way", t.way, ways),
    check("offers_connection", sql`(${t.way} = 'offline') = (${t.connectionId} is null)`),
    areFlags("offers_off", t.offInTest, t.offInLive),
  ],
);

export const offerRevisions = sqliteTable(
  "offer_revisions",
  {
    id: id(),
    offerId: text()
      .notNull()
      .references((): AnySQLiteColumn => offers.id),
    number: integer().notNull(),
    document: text({ mode: "json" }).$type<OfferDocument>().notNull(),
    person: text().notNull(),
    createdAt: at(),
  },
  (t) => [
    uniqueIndex("offer_revisions_number").on(t.offerId, t.number),
    notNegative("offer_revisions_counts", t.number),
  ],
);
