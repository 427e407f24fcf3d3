import { blob, integer, primaryKey, sqliteTable, text } from "drizzle-orm/sqlite-core";
import type { Look } from "#core/looks/look";
import { at, id, notNegative } from "./columns";
import { storefronts } from "./storefronts";

/** How a storefront's pages for shoppers look: as it is being worked on, which test shows, and as live shows it. */
export const looks = sqliteTable("looks", {
  storefrontId: text()
    .primaryKey()
    .references(() => storefronts.id),
  working: text({ mode: "json" }).$type<Look>().notNull(),
  live: text({ mode: "json" }).$type<Look>(),
  updatedAt: at(),
});

/** Every look that was worked on, as it was kept; the newest is the one worked on now. */
export const lookRevisions = sqliteTable(
  "look_revisions",
  {
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    number: integer().notNull(),
    look: text({ mode: "json" }).$type<Look>().notNull(),
    person: text().notNull(),
    createdAt: at(),
  },
  (t) => [
    primaryKey({ columns: [t.storefrontId, t.number] }),
    notNegative("look_revisions_counts", t.number),
  ],
);

/** Pictures that people handed in, drawn anew as PNG and kept by the SHA-256 of that. */
export const pictures = sqliteTable(
  "pictures",
  {
    id: id(),
    bytes: blob({ mode: "buffer" }).notNull(),
    width: integer().notNull(),
    height: integer().notNull(),
    createdAt: at(),
  },
  (t) => [notNegative("pictures_size", t.width, t.height)],
);
