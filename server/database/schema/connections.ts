import type { Told } from "#core/said";
import { told } from "../told";
import { sql } from "drizzle-orm";
import { check, index, integer, primaryKey, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import type { AccountFinding } from "#core/connections/account";
import type { AccountReading } from "#core/profiles/answers";
import type { Registrations } from "#core/connections/registrations";
import type { FileFinding } from "#core/connections/domain-file";
import { type LeverState, leverStates } from "#core/cutover/lever";
import { type AccountState, accountStates } from "#core/profiles/profile";
import { storefronts } from "./storefronts";
import { profiles, profileVersions } from "./profiles";
import { id, at, isModeOf, mode, notNegative, oneOf } from "./columns";

export const connections = sqliteTable(
  "connections",
  {
    id: id(),
    profileId: text()
      .notNull()
      .references(() => profiles.id),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    /** What the shop calls it, to tell accounts at one provider apart. */
    name: text().notNull(),
    /** The profile version that the test side runs: the working one. */
    testVersionId: text()
      .notNull()
      .references(() => profileVersions.id),
    /** The one that the live side runs, as it was last cut over; null before: then it runs the working one. */
    liveVersionId: text().references(() => profileVersions.id),
    /** The account that live payments are made with while it is live anywhere; keys of another wait for a person. */
    liveAccount: text(),
    createdAt: at(),
    /** Set once it was disconnected: it offers nothing any more; what was paid through it stays. */
    disconnectedAt: integer(),
  },
  (t) => [
    index("connections_profile").on(t.profileId),
    check("connections_name", sql`length(${t.name}) > 0`),
  ],
);

/** The storefronts that a connection serves, each with the lever of the pair: what one does never moves another. */
export const connectionStorefronts = sqliteTable(
  "connection_storefronts",
  {
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    since: at(),
    live: text().$type<LeverState>().notNull().default("never"),
    /** The profile version that live runs here. */
    versionId: text().references(() => profileVersions.id),
    /** When the lever was last moved. */
    movedAt: integer(),
  },
  (t) => [
    primaryKey({ columns: [t.connectionId, t.storefrontId] }),
    index("connection_storefronts_storefront").on(t.storefrontId),
    oneOf("connection_storefronts_live", t.live, leverStates),
  ],
);

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
    /** Set once newer keys took over for good: its secrets are forgotten, and its payments go on with the newer ones. */
    retiredAt: integer(),
  },
  (t) => [
    uniqueIndex("key_sets_number").on(t.connectionId, t.mode, t.number),
    isModeOf("key_sets_mode", t.mode),
    notNegative("key_sets_counts", t.number),
  ],
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
    /** What the provider's own list of registrations was last seen to hold. */
    registrations: text({ mode: "json" }).$type<Registrations>(),
    provenAt: integer(),
    /** When the newest believed message arrived. */
    heardAt: integer(),
  },
  (t) => [index("endpoints_connection").on(t.connectionId, t.mode), isModeOf("endpoints_mode", t.mode)],
);

/** What a check of keys found. The latest row for a connection and mode counts. */
export const keyChecks = sqliteTable(
  "key_checks",
  {
    id: id(),
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    mode: mode(),
    keySetId: text()
      .notNull()
      .references(() => keySets.id),
    at: at(),
    account: text({ mode: "json" }).$type<AccountReading | null>(),
    findings: text({ mode: "json" }).$type<AccountFinding[]>().notNull(),
    /** Field id → what is wrong with it, in words, with the provider's code. */
    wrong: text({ mode: "json" }).$type<Record<string, { says: Told; code: string | null }>>().notNull(),
    /** Field ids that this check proved. */
    proven: text({ mode: "json" }).$type<string[]>().notNull(),
    /** Right id → whether the key has it; null where the provider gave no clear answer. */
    rights: text({ mode: "json" }).$type<Record<string, boolean | null>>().notNull().default({}),
    review: text().$type<AccountState>(),
    /** Set when the provider could not be asked. */
    unanswered: told(),
  },
  (t) => [
    index("key_checks_connection").on(t.connectionId, t.mode, t.at),
    index("key_checks_set").on(t.keySetId),
    isModeOf("key_checks_mode", t.mode),
    oneOf("key_checks_review", t.review, accountStates),
  ],
);

const linkOutcomes = ["linked", "denied", "failed"] as const;
export type LinkOutcome = (typeof linkOutcomes)[number];

/** A link under way, or what came of it. The verifier is sealed and forgotten once used. */
export const links = sqliteTable(
  "links",
  {
    id: id(),
    state: text().notNull().unique(),
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    mode: mode(),
    person: text().notNull(),
    verifier: text(),
    startedAt: at(),
    endedAt: integer(),
    outcome: text().$type<LinkOutcome>(),
    says: told(),
  },
  (t) => [
    index("links_connection").on(t.connectionId, t.mode, t.startedAt),
    isModeOf("links_mode", t.mode),
    oneOf("links_outcome", t.outcome, linkOutcomes),
  ],
);

/** The domain file of a connection and mode as the administrator brought it, and what the last look found. */
export const domainFiles = sqliteTable(
  "domain_files",
  {
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    mode: mode(),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    name: text().notNull(),
    body: text().notNull(),
    takenAt: at(),
    lookedAt: integer(),
    findings: text({ mode: "json" }).$type<FileFinding[]>(),
    provider: text({ mode: "json" }).$type<{ ok: boolean; says: Told }>(),
  },
  (t) => [
    primaryKey({ columns: [t.connectionId, t.mode, t.storefrontId] }),
    isModeOf("domain_files_mode", t.mode),
  ],
);

/** Accounts whose provider does not answer, since when; gone when it does again. */
export const connectionTroubles = sqliteTable(
  "connection_troubles",
  {
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    mode: mode(),
    since: at(),
  },
  (t) => [primaryKey({ columns: [t.connectionId, t.mode] }), isModeOf("connection_troubles_mode", t.mode)],
);
