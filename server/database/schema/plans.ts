import { integer, primaryKey, sqliteTable, text } from "drizzle-orm/sqlite-core";
import type { FeeSchedule } from "#core/profiles/profile";
import type { Volume } from "#core/fees/volume";
import { at } from "./columns";
import { storefronts } from "./storefronts";

/** Providers that a storefront has on its list. */
export const shortlist = sqliteTable(
  "shortlist",
  {
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    profileId: text().notNull(),
    addedAt: at(),
  },
  (t) => [primaryKey({ columns: [t.storefrontId, t.profileId] })],
);

/** What a storefront sells in a month, as far as costs depend on it. */
export const volumes = sqliteTable(
  "volumes",
  {
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    currency: text().notNull(),
    document: text({ mode: "json" }).$type<Volume>().notNull(),
    savedAt: at(),
  },
  (t) => [primaryKey({ columns: [t.storefrontId, t.currency] })],
);

/** Fees that were agreed on, instead of those in the profile: for a connection, or for a provider not yet connected. */
export const agreedFees = sqliteTable(
  "agreed_fees",
  {
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    /** A connection's id, or the profile's while there is none. */
    subject: text().notNull(),
    document: text({ mode: "json" }).$type<FeeSchedule>().notNull(),
    savedAt: integer().notNull(),
  },
  (t) => [primaryKey({ columns: [t.storefrontId, t.subject] })],
);
