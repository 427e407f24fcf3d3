import { sql } from "drizzle-orm";
import { index, integer, primaryKey, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import type { AccountFinding } from "#core/connect/account";
import type { Change } from "#core/cutover/changes";
import type { Gate } from "#core/cutover/gates";
import type { FingerprintParts } from "#core/fingerprint";
import type { Mode } from "#core/mode";
import type { OfferDocument } from "#core/offers/offer";
import type { Order } from "#core/order/order";
import type { FactSource, PaymentState, Statement } from "#core/payments/facts";
import type { Role } from "#core/people/roles";
import type { AccountReading } from "#core/profiles/interpret";
import type { Profile } from "#core/profiles/profile";
import type { CaseId, Verdict } from "#core/rehearsal/cases";
import type { Lane } from "#core/score";

// Times are milliseconds since the epoch; amounts are minor units of the row's currency.
const id = () => text().primaryKey();
const at = () => integer().notNull();
const mode = () => text().$type<Mode>().notNull();

export const people = sqliteTable("people", {
  id: id(),
  email: text().notNull().unique(),
  name: text().notNull(),
  role: text().$type<Role>().notNull(),
  passwordHash: text().notNull(),
  createdAt: at(),
});

export const sessions = sqliteTable("sessions", {
  tokenHash: text().primaryKey(),
  personId: text()
    .notNull()
    .references(() => people.id),
  createdAt: at(),
  seenAt: at(),
  expiresAt: at(),
});

/** Failed sign-ins for one e-mail address or one network address. */
export const signInFailures = sqliteTable("sign_in_failures", {
  key: text().primaryKey(),
  count: integer().notNull(),
  lastAt: at(),
});

/** One-time addresses at which a person of a role is made. */
export const invitations = sqliteTable("invitations", {
  tokenHash: text().primaryKey(),
  role: text().$type<Role>().notNull(),
  createdAt: at(),
  expiresAt: at(),
  usedAt: integer(),
});

/** Changes of settings, each entry carrying the hash of the one before. */
export const audit = sqliteTable("audit", {
  number: integer().primaryKey(),
  at: at(),
  person: text().notNull(),
  action: text().notNull(),
  subject: text().notNull(),
  detail: text({ mode: "json" }).$type<Record<string, unknown>>().notNull(),
  previous: text().notNull(),
  hash: text().notNull().unique(),
});

export interface StorefrontGroup {
  id: string;
  name: string;
}

export const storefronts = sqliteTable("storefronts", {
  id: id(),
  name: text().notNull(),
  domain: text().notNull(),
  https: integer({ mode: "boolean" }).notNull(),
  country: text().notNull(),
  languages: text({ mode: "json" }).$type<string[]>().notNull(),
  currencies: text({ mode: "json" }).$type<string[]>().notNull(),
  groups: text({ mode: "json" }).$type<StorefrontGroup[]>().notNull(),
  stages: text({ mode: "json" }).$type<string[]>().notNull(),
  createdAt: at(),
});

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
  (t) => [index("api_keys_storefront").on(t.storefrontId, t.mode)],
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
  (t) => [primaryKey({ columns: [t.storefrontId, t.mode] })],
);

/** What a POST with an Idempotency-Key was answered. */
export const apiAnswers = sqliteTable(
  "api_answers",
  {
    apiKeyId: text().notNull(),
    key: text().notNull(),
    requestHash: text().notNull(),
    status: integer().notNull(),
    body: text().notNull(),
    at: at(),
  },
  (t) => [primaryKey({ columns: [t.apiKeyId, t.key] })],
);

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

export const checkouts = sqliteTable(
  "checkouts",
  {
    id: id(),
    token: text().notNull().unique(),
    storefrontId: text().notNull(),
    mode: mode(),
    origin: text().$type<"shop" | "walk" | "rehearsal">().notNull(),
    reference: text().notNull(),
    order: text({ mode: "json" }).$type<Order>().notNull(),
    state: text().$type<"open" | "paid" | "cancelled" | "expired">().notNull(),
    /** The one payment that is under way or has paid. */
    activePaymentId: text(),
    createdAt: at(),
    expiresAt: at(),
    closedAt: integer(),
  },
  (t) => [
    index("checkouts_open")
      .on(t.expiresAt)
      .where(sql`state = 'open'`),
    index("checkouts_reference").on(t.storefrontId, t.mode, t.reference),
  ],
);

export const payments = sqliteTable(
  "payments",
  {
    id: id(),
    checkoutId: text().notNull(),
    storefrontId: text().notNull(),
    connectionId: text().notNull(),
    keySetId: text().notNull(),
    offerId: text().notNull(),
    revisionId: text().notNull(),
    methodId: text().notNull(),
    mode: mode(),
    origin: text().$type<"shop" | "walk" | "rehearsal">().notNull(),
    /** Our reference at the provider, and the shop's order reference. */
    reference: text().notNull().unique(),
    orderReference: text().notNull(),
    providerRef: text(),
    instrument: text(),
    amount: integer().notNull(),
    currency: text().notNull(),
    capture: text().$type<"at-once" | "later">().notNull(),
    // Projection of the facts; rebuilt from them at every change.
    state: text().$type<PaymentState>().notNull(),
    authorised: integer().notNull(),
    captured: integer().notNull(),
    refunded: integer().notNull(),
    stage: text(),
    attention: text(),
    version: integer().notNull(),
    /** Settings the payment ran with, for proofs. */
    parts: text({ mode: "json" }).$type<FingerprintParts>().notNull(),
    archivedAt: integer(),
    /** When the provider is to be asked next, while the outcome is open. */
    lookUpAt: integer(),
    lookUps: integer().notNull().default(0),
    createdAt: at(),
    updatedAt: at(),
  },
  (t) => [
    index("payments_list").on(t.storefrontId, t.mode, t.createdAt, t.id),
    index("payments_state").on(t.storefrontId, t.mode, t.state, t.createdAt, t.id),
    index("payments_order").on(t.storefrontId, t.mode, t.orderReference, t.createdAt, t.id),
    index("payments_provider_ref").on(t.providerRef),
    index("payments_checkout").on(t.checkoutId),
    index("payments_attention")
      .on(t.attention)
      .where(sql`attention is not null`),
    index("payments_look_up")
      .on(t.lookUpAt)
      .where(sql`look_up_at is not null`),
  ],
);

export const facts = sqliteTable(
  "facts",
  {
    number: integer().primaryKey({ autoIncrement: true }),
    paymentId: text().notNull(),
    key: text().notNull(),
    source: text().$type<FactSource>().notNull(),
    at: at(),
    recordedAt: at(),
    statement: text({ mode: "json" }).$type<Statement>().notNull(),
    person: text(),
  },
  (t) => [uniqueIndex("facts_key").on(t.paymentId, t.key)],
);

/** A recorded message between two lanes, secrets masked. */
export const exchanges = sqliteTable(
  "exchanges",
  {
    id: id(),
    at: at(),
    duration: integer(),
    from: text().$type<Lane>().notNull(),
    to: text().$type<Lane>().notNull(),
    label: text().notNull(),
    mode: mode(),
    connectionId: text(),
    checkoutId: text(),
    paymentId: text(),
    request: text({ mode: "json" }).$type<RecordedMessage>(),
    response: text({ mode: "json" }).$type<RecordedMessage>(),
    outcome: text(),
    ok: integer({ mode: "boolean" }).notNull(),
  },
  (t) => [index("exchanges_payment").on(t.paymentId), index("exchanges_checkout").on(t.checkoutId)],
);

export interface RecordedMessage {
  method?: string;
  url?: string;
  status?: number;
  headers: Record<string, string>;
  body: string;
}

export const webhooks = sqliteTable(
  "webhooks",
  {
    number: integer().primaryKey({ autoIncrement: true }),
    endpointId: text().notNull(),
    connectionId: text().notNull(),
    mode: mode(),
    messageId: text(),
    receivedAt: at(),
    headers: text({ mode: "json" }).$type<Record<string, string>>().notNull(),
    body: text().notNull(),
    /** `verified`, or the code of why it was refused. */
    verdict: text().notNull(),
    /** What became of it: waiting, applied, repeated, unknown-payment, not-understood, ping, lost, held. */
    outcome: text().notNull(),
    event: text(),
    paymentId: text(),
    appliedAt: integer(),
    tries: integer().notNull().default(0),
  },
  (t) => [
    index("webhooks_waiting")
      .on(t.number)
      .where(sql`outcome = 'waiting'`),
    index("webhooks_payment").on(t.paymentId),
    index("webhooks_list").on(t.connectionId, t.mode, t.number),
    index("webhooks_message").on(t.endpointId, t.messageId),
    index("webhooks_refused")
      .on(t.endpointId, t.number)
      .where(sql`verdict <> 'verified'`),
  ],
);

/** What a rehearsal does to the next webhooks about one reference. Test mode only. */
export const rimFaults = sqliteTable(
  "rim_faults",
  {
    reference: text().primaryKey(),
    connectionId: text().notNull(),
    kind: text().$type<"lose-webhook" | "double-webhook" | "reorder-webhooks">().notNull(),
    until: at(),
  },
  (t) => [index("rim_faults_connection").on(t.connectionId)],
);

/** News for the shop, delivered until taken. */
export const outbox = sqliteTable(
  "outbox",
  {
    id: id(),
    dedupe: text().notNull().unique(),
    storefrontId: text().notNull(),
    mode: mode(),
    paymentId: text(),
    checkoutId: text(),
    body: text().notNull(),
    createdAt: at(),
    tries: integer().notNull(),
    nextAt: integer(),
    leasedUntil: integer(),
    deliveredAt: integer(),
    lastOutcome: text(),
  },
  (t) => [
    index("outbox_payment").on(t.paymentId),
    index("outbox_due")
      .on(t.nextAt)
      .where(sql`next_at is not null`),
  ],
);

export const rehearsals = sqliteTable(
  "rehearsals",
  {
    id: id(),
    connectionId: text().notNull(),
    offerId: text().notNull(),
    person: text().notNull(),
    startedAt: at(),
    endedAt: integer(),
    stopAt: integer(),
    leasedUntil: integer(),
    cases: text({ mode: "json" }).$type<CaseId[]>().notNull(),
  },
  (t) => [
    uniqueIndex("rehearsals_one_at_a_time")
      .on(t.offerId)
      .where(sql`ended_at is null`),
  ],
);

export const proofs = sqliteTable(
  "proofs",
  {
    id: id(),
    connectionId: text().notNull(),
    offerId: text().notNull(),
    caseId: text().$type<CaseId>().notNull(),
    how: text().$type<"rehearsed" | "walked">().notNull(),
    rehearsalId: text(),
    state: text().$type<"running" | "passed" | "failed" | "stopped">().notNull(),
    startedAt: at(),
    endedAt: integer(),
    verdicts: text({ mode: "json" }).$type<Verdict[]>().notNull(),
    error: text(),
    paymentId: text(),
    parts: text({ mode: "json" }).$type<FingerprintParts>().notNull(),
  },
  (t) => [
    index("proofs_case").on(t.offerId, t.caseId, t.startedAt),
    uniqueIndex("proofs_walked").on(t.paymentId, t.how),
  ],
);

/** Every movement of the lever, with what stood at the gates and what changed. */
export const cutovers = sqliteTable(
  "cutovers",
  {
    id: id(),
    connectionId: text().notNull(),
    storefrontId: text().notNull(),
    kind: text().$type<"cut-over" | "fall-back">().notNull(),
    at: at(),
    person: text().notNull(),
    gates: text({ mode: "json" }).$type<Gate[]>().notNull(),
    changes: text({ mode: "json" }).$type<Change[]>().notNull(),
    /** What live ran before, to restore from: offers with their live revision, and the connection's state. */
    snapshot: text({ mode: "json" }).$type<Record<string, unknown>>().notNull(),
  },
  (t) => [index("cutovers_connection").on(t.connectionId, t.at)],
);
