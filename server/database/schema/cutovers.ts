import { index, sqliteTable, text } from "drizzle-orm/sqlite-core";
import type { Change } from "#core/cutover/changes";
import type { Gate } from "#core/cutover/gates";
import { id, at } from "./columns";

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
