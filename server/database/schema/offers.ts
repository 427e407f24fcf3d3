import { integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import type { OfferDocument } from "#core/offers/offer";
import { storefronts } from "./storefronts";
import { connections } from "./connections";
import { id, at } from "./columns";

export const offers = sqliteTable(
  "offers",
  {
    id: id(),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    methodId: text().notNull(),
    position: integer().notNull(),
    off: integer({ mode: "boolean" }).notNull(),
    workingId: text().notNull(),
    liveId: text(),
    createdAt: at(),
  },
  (t) => [uniqueIndex("offers_method").on(t.storefrontId, t.connectionId, t.methodId)],
);

export const offerRevisions = sqliteTable(
  "offer_revisions",
  {
    id: id(),
    offerId: text().notNull(),
    number: integer().notNull(),
    document: text({ mode: "json" }).$type<OfferDocument>().notNull(),
    person: text().notNull(),
    createdAt: at(),
  },
  (t) => [uniqueIndex("offer_revisions_number").on(t.offerId, t.number)],
);
