import { sql } from "drizzle-orm";
import { check, primaryKey, sqliteTable, text } from "drizzle-orm/sqlite-core";
import type { FeeSchedule } from "#core/profiles/profile";
import type { Volume } from "#core/costs/volume";
import { at, notNegative } from "./columns";
import { profiles } from "./profiles";
import { storefronts } from "./storefronts";

/** Providers that a storefront has on its list. */
export const shortlist = sqliteTable(
  "shortlist",
  {
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    profileId: text()
      .notNull()
      .references(() => profiles.id),
    addedAt: at(),
  },
  (t) => [primaryKey({ columns: [t.storefrontId, t.profileId] }), notNegative("shortlist_at", t.addedAt)],
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
  (t) => [
    primaryKey({ columns: [t.storefrontId, t.currency] }),
    check("volumes_currency", sql`length(${t.currency}) = 3`),
  ],
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
    savedAt: at(),
  },
  (t) => [primaryKey({ columns: [t.storefrontId, t.subject] }), notNegative("agreed_fees_at", t.savedAt)],
);
