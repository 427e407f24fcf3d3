import { sql } from "drizzle-orm";
import { index, integer, sqliteTable, text } from "drizzle-orm/sqlite-core";
import type { Lane } from "#core/score";
import { id, at, mode } from "./columns";

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
    operation: text(),
    mode: mode(),
    connectionId: text(),
    checkoutId: text(),
    paymentId: text(),
    request: text({ mode: "json" }).$type<RecordedMessage>(),
    response: text({ mode: "json" }).$type<RecordedMessage>(),
    outcome: text(),
    ok: integer({ mode: "boolean" }).notNull(),
  },
  (t) => [
    index("exchanges_payment").on(t.paymentId),
    index("exchanges_checkout").on(t.checkoutId),
    index("exchanges_connection").on(t.connectionId, t.at, t.id),
  ],
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
