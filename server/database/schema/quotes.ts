import { index, integer, sqliteTable, text } from "drizzle-orm/sqlite-core";
import type { Quoted } from "#core/offers/notices";
import { notNegative } from "./columns";
import { connections } from "./connections";

/**
 * What providers quote, so that it is asked for once by all processes together: by account, way of paying, amount and shopper's
 * country and language.
 */
export const quotes = sqliteTable(
  "quotes",
  {
    key: text().primaryKey(),
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    /** Null until it was answered for the first time. */
    quoted: text({ mode: "json" }).$type<Quoted>(),
    /** Until when that holds; milliseconds since the epoch. */
    until: integer().notNull(),
    /** Until when whoever asks now has it to themselves. */
    askedUntil: integer().notNull(),
  },
  (t) => [index("quotes_until").on(t.until), notNegative("quotes_times", t.until, t.askedUntil)],
);
