import { told } from "../told";
import { sql } from "drizzle-orm";
import { index, integer, sqliteTable, text } from "drizzle-orm/sqlite-core";
import { type Lane, lanes } from "#core/score";
import { verificationCodes } from "#core/webhooks/errors";
import { areFlags, id, at, flag, isModeOf, mode, notNegative, oneOf } from "./columns";
import { connections, endpoints } from "./connections";
import { checkouts, payments } from "./payments";
import { storefronts } from "./storefronts";

/** A recorded message between two lanes, secrets masked. */
export const exchanges = sqliteTable(
  "exchanges",
  {
    id: id(),
    at: at(),
    duration: integer(),
    from: text().$type<Lane>().notNull(),
    to: text().$type<Lane>().notNull(),
    label: told().notNull(),
    operation: text(),
    mode: mode(),
    connectionId: text().references(() => connections.id),
    checkoutId: text().references(() => checkouts.id),
    paymentId: text().references(() => payments.id),
    request: text({ mode: "json" }).$type<RecordedMessage>(),
    response: text({ mode: "json" }).$type<RecordedMessage>(),
    /** What came of it, in words, where no answer says it. */
    outcome: told(),
    ok: flag(),
  },
  (t) => [
    index("exchanges_payment").on(t.paymentId),
    index("exchanges_checkout").on(t.checkoutId),
    index("exchanges_connection").on(t.connectionId, t.at, t.id),
    index("exchanges_age").on(t.at),
    oneOf("exchanges_lanes", t.from, lanes),
    oneOf("exchanges_to", t.to, lanes),
    isModeOf("exchanges_mode", t.mode),
    areFlags("exchanges_flags", t.ok),
  ],
);

export interface RecordedMessage {
  method?: string;
  url?: string;
  status?: number;
  headers: Record<string, string>;
  body: string;
}

const webhookVerdicts = ["verified", ...verificationCodes] as const;
export type WebhookVerdict = (typeof webhookVerdicts)[number];

/**
 * What became of a message: waiting to be applied; applied; repeated (applied under the same id before);
 * unknown-payment; not-understood; failing (could not be applied yet, and is tried again); given-up (waits for a
 * person); ping; account; refused (not believed); lost and held (by a rehearsal, on purpose).
 */
export const webhookOutcomes = [
  "waiting",
  "applied",
  "repeated",
  "unknown-payment",
  "not-understood",
  "failing",
  "given-up",
  "ping",
  "account",
  "refused",
  "lost",
  "held",
] as const;
export type WebhookOutcome = (typeof webhookOutcomes)[number];

/** The event of a message that a rehearsal forged, to see that it is refused. */
export const FORGED = "forged by a rehearsal";

export const webhooks = sqliteTable(
  "webhooks",
  {
    number: integer().primaryKey({ autoIncrement: true }),
    endpointId: text()
      .notNull()
      .references(() => endpoints.id),
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    mode: mode(),
    messageId: text(),
    receivedAt: at(),
    headers: text({ mode: "json" }).$type<Record<string, string>>().notNull(),
    body: text().notNull(),
    /** Whether it is believed, or the code of why it is not. */
    verdict: text().$type<WebhookVerdict>().notNull(),
    outcome: text().$type<WebhookOutcome>().notNull(),
    event: text(),
    paymentId: text().references(() => payments.id),
    appliedAt: integer(),
    /** What went wrong when it was last tried to be applied. */
    error: text(),
  },
  (t) => [
    index("webhooks_waiting")
      .on(t.endpointId, t.number)
      .where(sql`outcome = 'waiting'`),
    index("webhooks_age").on(t.receivedAt),
    isModeOf("webhooks_mode", t.mode),
    oneOf("webhooks_verdict", t.verdict, webhookVerdicts),
    oneOf("webhooks_outcome", t.outcome, webhookOutcomes),
    index("webhooks_payment").on(t.paymentId),
    index("webhooks_list").on(t.connectionId, t.mode, t.number),
    index("webhooks_message").on(t.endpointId, t.messageId),
    index("webhooks_refused")
      .on(t.endpointId, t.number)
      .where(sql`verdict <> 'verified'`),
  ],
);

/** News for the shop, delivered until taken. */
export const outbox = sqliteTable(
  "outbox",
  {
    id: id(),
    dedupe: text().notNull().unique(),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    mode: mode(),
    paymentId: text().references(() => payments.id),
    checkoutId: text().references(() => checkouts.id),
    body: text().notNull(),
    createdAt: at(),
    /** Times it was sent. */
    tries: integer().notNull(),
    deliveredAt: integer(),
    /** What came of the last try, in words. */
    lastOutcome: told(),
  },
  (t) => [
    index("outbox_payment").on(t.paymentId),
    index("outbox_events").on(t.storefrontId, t.mode, t.id),
    index("outbox_age").on(t.createdAt),
    isModeOf("outbox_mode", t.mode),
    notNegative("outbox_counts", t.tries),
  ],
);
