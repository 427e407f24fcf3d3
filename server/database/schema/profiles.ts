import { index, integer, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import type { Profile } from "#core/profiles/profile";
import { at, id, notNegative, oneOf } from "./columns";

/** Providers that are installed. What is known of one stands in its versions. */
export const profiles = sqliteTable("profiles", { id: id(), createdAt: at() }, (t) => [
  notNegative("profiles_at", t.createdAt),
]);

/** One version of a profile's document. Never edited: connections and payments pin the one they run with. */
export const profileVersions = sqliteTable(
  "profile_versions",
  {
    id: id(),
    profileId: text()
      .notNull()
      .references(() => profiles.id),
    /** In the order they were installed. */
    number: integer().notNull(),
    /** As the document calls itself. */
    version: text().notNull(),
    /** `shipped`: came with the application. `file`: an administrator installed it, and it goes before those. */
    source: text().$type<"shipped" | "file">().notNull(),
    document: text({ mode: "json" }).$type<Profile>().notNull(),
    installedAt: at(),
  },
  (t) => [
    uniqueIndex("profile_versions_number").on(t.profileId, t.number),
    index("profile_versions_current").on(t.profileId, t.source, t.number),
    oneOf("profile_versions_source", t.source, ["shipped", "file"]),
  ],
);
