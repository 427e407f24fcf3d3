import { sql } from "drizzle-orm";
import { index, integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import {
  type Consent,
  type InstrumentState,
  instrumentStates,
  type KeepScope,
  keepScopes,
} from "#core/instruments";
import { at, id, isModeOf, mode, oneOf } from "./columns";
import { connections } from "./connections";
import { offers } from "./offers";
import { payments } from "./payments";
import { storefronts } from "./storefronts";

/** What shoppers have kept with a provider for the next time. What it is stays there: here are its name and how it is asked for. */
export const instruments = sqliteTable(
  "instruments",
  {
    id: id(),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    mode: mode(),
    offerId: text()
      .notNull()
      .references(() => offers.id),
    methodId: text().notNull(),
    /** The payment that it was kept with. */
    paymentId: text()
      .notNull()
      .references(() => payments.id),
    /** Whose it is, in the shop's own words. */
    shopper: text().notNull(),
    scope: text().$type<KeepScope>().notNull(),
    /** The provider's id of it, sealed; and its digest, so that the same is known again. Both go when it is forgotten over there. */
    sealed: text(),
    digest: text().notNull(),
    /** The card network's reference of the payment in which its shopper agreed to be charged without being there. */
    networkReference: text(),
    name: text().notNull(),
    /** What its shopper calls it; empty: by its name alone. */
    called: text().notNull().default(""),
    until: integer(),
    consent: text({ mode: "json" }).$type<Consent>().notNull(),
    state: text().$type<InstrumentState>().notNull(),
    /** When its shopper chose it to be shown first; of several the last. */
    chosenAt: integer(),
    usedAt: integer(),
    forgottenAt: integer(),
    createdAt: at(),
  },
  (t) => [
    uniqueIndex("instruments_one").on(t.connectionId, t.mode, t.shopper, t.digest),
    index("instruments_shopper")
      .on(t.shopper, t.mode, t.storefrontId)
      .where(sql`state = 'kept'`),
    index("instruments_list").on(t.storefrontId, t.mode, t.createdAt, t.id),
    index("instruments_list_shopper").on(t.storefrontId, t.mode, t.shopper, t.createdAt, t.id),
    isModeOf("instruments_mode", t.mode),
    oneOf("instruments_scope", t.scope, keepScopes),
    oneOf("instruments_state", t.state, instrumentStates),
  ],
);
