import { sqliteTable, text } from "drizzle-orm/sqlite-core";
import { id } from "./columns";

/** Named sets of places that rules of offers name, see `core/offers/zones`. */
export const zones = sqliteTable("zones", {
  id: id(),
  name: text().notNull().unique(),
  countries: text({ mode: "json" }).$type<string[]>().notNull(),
  regions: text({ mode: "json" }).$type<string[]>().notNull(),
  postcodes: text({ mode: "json" }).$type<string[]>().notNull(),
});
