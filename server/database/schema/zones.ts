import { sql } from "drizzle-orm";
import { index, integer, primaryKey, sqliteTable, text } from "drizzle-orm/sqlite-core";
import { areFlags, at, flag, id, notNegative } from "./columns";

const texts = () => text({ mode: "json" }).$type<string[]>().notNull();

/** Named sets of places that rules of offers name, see `core/offers/zones`. */
export const zones = sqliteTable("zones", {
  id: id(),
  name: text().notNull().unique(),
  countries: texts(),
  regions: texts(),
  postcodes: texts(),
});

/** What each zone was, every time it was kept; zones that were removed stay here, and can be brought back. */
export const zoneRevisions = sqliteTable(
  "zone_revisions",
  {
    /** Not a reference: the zone may be removed. */
    zoneId: text().notNull(),
    number: integer().notNull(),
    name: text().notNull(),
    countries: texts(),
    regions: texts(),
    postcodes: texts(),
    /** Whether it was removed with this; what it was stands beside. */
    removed: flag(),
    person: text().notNull(),
    createdAt: at(),
  },
  (t) => [
    primaryKey({ columns: [t.zoneId, t.number] }),
    index("zone_revisions_last")
      .on(t.createdAt)
      .where(sql`removed = 1`),
    areFlags("zone_revisions_removed", t.removed),
    notNegative("zone_revisions_counts", t.number),
  ],
);
