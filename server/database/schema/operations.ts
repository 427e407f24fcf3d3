import { sql } from "drizzle-orm";
import { index, integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import {
  type AskOutcome,
  askOutcomes,
  type LookOutcome,
  lookOutcomes,
  type Moved,
  type OperationKind,
  operationKinds,
  type OperationState,
  operationStates,
} from "#core/operations/operation";
import type { ByLines } from "#core/orders/by-lines";
import { told } from "../told";
import { areFlags, at, flag, id, notNegative, oneOf } from "./columns";
import { payments } from "./payments";

/** One intent towards a provider, from the press to the end that is known of it. */
export const paymentOperations = sqliteTable(
  "payment_operations",
  {
    id: id(),
    paymentId: text()
      .notNull()
      .references(() => payments.id),
    kind: text().$type<OperationKind>().notNull(),
    /** Minor units of the payment's currency. */
    amount: integer().notNull(),
    /** Of a capture: whether nothing more is to be taken. */
    final: flag().default(false),
    /** Tells one press from another: the same press moves money once. */
    once: text().notNull(),
    /** Minted once for the intent; every asking carries it. */
    idempotencyKey: text().notNull().unique(),
    person: text().notNull(),
    reason: text(),
    /** Which part of the order it was about, where the shop said so. */
    byLines: text({ mode: "json" }).$type<ByLines>(),
    state: text().$type<OperationState>().notNull(),
    /** What had moved when it was asked for. */
    before: text({ mode: "json" }).$type<Moved>().notNull(),
    asks: integer().notNull().default(0),
    asked: text().$type<AskOutcome>(),
    looks: integer().notNull().default(0),
    looked: text().$type<LookOutcome>(),
    /** Milliseconds that the provider wants to be left alone. */
    retryAfter: integer(),
    /** What the provider said against it: its code, and its words. */
    code: text(),
    says: told(),
    at: at(),
    endedAt: integer(),
  },
  (t) => [
    uniqueIndex("payment_operations_once").on(t.paymentId, t.once),
    uniqueIndex("payment_operations_one_under_way")
      .on(t.paymentId)
      .where(sql`state in ('asked', 'unknown', 'question')`),
    index("payment_operations_unknown")
      .on(t.at)
      .where(sql`state in ('unknown', 'question')`),
    oneOf("payment_operations_kind", t.kind, operationKinds),
    oneOf("payment_operations_state", t.state, operationStates),
    oneOf("payment_operations_asked", t.asked, askOutcomes),
    oneOf("payment_operations_looked", t.looked, lookOutcomes),
    notNegative("payment_operations_counts", t.amount, t.asks, t.looks),
    areFlags("payment_operations_flags", t.final),
  ],
);
