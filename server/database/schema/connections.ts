import { index, integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import type { AccountFinding } from "#core/connect/account";
import type { AccountReading } from "#core/profiles/interpret";
import type { Profile } from "#core/profiles/profile";
import { storefronts } from "./storefronts";
import { id, at, mode } from "./columns";

export const profiles = sqliteTable("profiles", {
  id: id(),
  version: text().notNull(),
  document: text({ mode: "json" }).$type<Profile>().notNull(),
  installedAt: at(),
});

export const connections = sqliteTable("connections", {
  id: id(),
  profileId: text()
    .notNull()
    .references(() => profiles.id),
  storefrontId: text()
    .notNull()
    .references(() => storefronts.id),
  name: text().notNull(),
  live: text().$type<"never" | "live" | "fallen-back">().notNull(),
  createdAt: at(),
});

/** One revision of a connection's keys for a mode. Never edited: payments keep the set they began with. */
export const keySets = sqliteTable(
  "key_sets",
  {
    id: id(),
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    mode: mode(),
    number: integer().notNull(),
    /** Field id → value in the clear for open fields, sealed for secret ones, with a hint to show. */
    values: text({ mode: "json" })
      .$type<Record<string, { value: string; sealed: boolean; hint: string; at: number; digest: string }>>()
      .notNull(),
    createdAt: at(),
  },
  (t) => [uniqueIndex("key_sets_number").on(t.connectionId, t.mode, t.number)],
);

/** A webhook address of ours, unguessable, with the signing secret that belongs to it. */
export const endpoints = sqliteTable(
  "endpoints",
  {
    id: id(),
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    mode: mode(),
    path: text().notNull().unique(),
    secret: text().notNull(),
    secretHint: text().notNull(),
    createdAt: at(),
    retiredAt: integer(),
    registration: text({ mode: "json" }).$type<{ id: string; at: number } | null>(),
    provenAt: integer(),
  },
  (t) => [index("endpoints_connection").on(t.connectionId, t.mode)],
);

/** What a check of keys found. The latest row for a connection and mode counts. */
export const keyChecks = sqliteTable(
  "key_checks",
  {
    id: id(),
    connectionId: text().notNull(),
    mode: mode(),
    keySetId: text().notNull(),
    at: at(),
    account: text({ mode: "json" }).$type<AccountReading | null>(),
    findings: text({ mode: "json" }).$type<AccountFinding[]>().notNull(),
    /** Field id → what is wrong with it, in words, with the provider's code. */
    wrong: text({ mode: "json" }).$type<Record<string, { says: string; code: string | null }>>().notNull(),
    /** Field ids that this check proved. */
    proven: text({ mode: "json" }).$type<string[]>().notNull(),
    /** Set when the provider could not be asked. */
    unanswered: text(),
  },
  (t) => [index("key_checks_connection").on(t.connectionId, t.mode, t.at)],
);
