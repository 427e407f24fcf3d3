import { index, integer, primaryKey, sqliteTable, text } from "drizzle-orm/sqlite-core";
import { type MoneyTerms, usualTerms } from "#core/storefronts/money-terms";
import { areFlags, id, at, isModeOf, mode, notNegative } from "./columns";

export interface StorefrontGroup {
  id: string;
  name: string;
}

export const storefronts = sqliteTable(
  "storefronts",
  {
    id: id(),
    name: text().notNull(),
    domain: text().notNull(),
    https: integer({ mode: "boolean" }).notNull(),
    country: text().notNull(),
    languages: text({ mode: "json" }).$type<string[]>().notNull(),
    currencies: text({ mode: "json" }).$type<string[]>().notNull(),
    groups: text({ mode: "json" }).$type<StorefrontGroup[]>().notNull(),
    /** Schemes of the shop's apps, to which shoppers may be sent back. */
    apps: text({ mode: "json" }).$type<string[]>().notNull().default([]),
    stages: text({ mode: "json" }).$type<string[]>().notNull(),
    /** What an owner has set about money. */
    money: text({ mode: "json" }).$type<MoneyTerms>().notNull().default(usualTerms),
    /** Counts changes of what is offered here, so that two made at once are not held against the same old state. */
    offersVersion: integer().notNull().default(0),
    createdAt: at(),
  },
  (t) => [
    index("storefronts_list").on(t.createdAt, t.id),
    areFlags("storefronts_flags", t.https),
    notNegative("storefronts_counts", t.offersVersion),
  ],
);

export const apiKeys = sqliteTable(
  "api_keys",
  {
    id: id(),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    mode: mode(),
    keyHash: text().notNull().unique(),
    hint: text().notNull(),
    createdAt: at(),
    usedAt: integer(),
    revokedAt: integer(),
  },
  (t) => [
    index("api_keys_storefront").on(t.storefrontId, t.mode, t.createdAt),
    isModeOf("api_keys_mode", t.mode),
  ],
);

/** Where a storefront hears news, for each mode. The secret is the shop's, sealed. */
export const newsAddresses = sqliteTable(
  "news_addresses",
  {
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    mode: mode(),
    address: text().notNull(),
    secret: text().notNull(),
    updatedAt: at(),
  },
  (t) => [primaryKey({ columns: [t.storefrontId, t.mode] }), isModeOf("news_addresses_mode", t.mode)],
);

/** What a POST with an Idempotency-Key was answered. */
export const apiAnswers = sqliteTable(
  "api_answers",
  {
    apiKeyId: text()
      .notNull()
      .references(() => apiKeys.id),
    key: text().notNull(),
    requestHash: text().notNull(),
    status: integer().notNull(),
    body: text().notNull(),
    at: at(),
  },
  (t) => [
    primaryKey({ columns: [t.apiKeyId, t.key] }),
    index("api_answers_age").on(t.at),
    notNegative("api_answers_status", t.status),
  ],
);
