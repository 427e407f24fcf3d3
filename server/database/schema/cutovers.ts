import { index, sqliteTable, text } from "drizzle-orm/sqlite-core";
import type { OfferChange } from "#core/offers/changes";
import type { Gate } from "#core/cutover/gates";
import { type Movement, movements } from "#core/cutover/lever";
import type { Snapshot } from "#core/cutover/snapshot";
import { connections } from "./connections";
import { id, at, oneOf } from "./columns";
import { storefronts } from "./storefronts";

/** Every movement of a lever, with what stood at the gates, what changed and what live ran before. */
export const cutovers = sqliteTable(
  "cutovers",
  {
    id: id(),
    connectionId: text()
      .notNull()
      .references(() => connections.id),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    kind: text().$type<Movement>().notNull(),
    at: at(),
    person: text().notNull(),
    gates: text({ mode: "json" }).$type<Gate[]>().notNull(),
    changes: text({ mode: "json" }).$type<OfferChange[]>().notNull(),
    /** What the storefront's live side ran before, to compare with and to restore. */
    snapshot: text({ mode: "json" }).$type<Snapshot>().notNull(),
    /** Why, where a person had to say so. */
    reason: text(),
  },
  (t) => [
    index("cutovers_list").on(t.storefrontId, t.at, t.id),
    index("cutovers_pair").on(t.storefrontId, t.connectionId, t.kind, t.at, t.id),
    oneOf("cutovers_kind", t.kind, movements),
  ],
);
