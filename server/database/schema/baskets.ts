import { sqliteTable, text, unique } from "drizzle-orm/sqlite-core";
import type { Basket } from "#core/offers/baskets";
import { at, id } from "./columns";
import { storefronts } from "./storefronts";

/** Shoppers with their baskets that are kept, to see what each is offered. */
export const baskets = sqliteTable(
  "baskets",
  {
    id: id(),
    storefrontId: text()
      .notNull()
      .references(() => storefronts.id),
    name: text().notNull(),
    basket: text({ mode: "json" }).$type<Omit<Basket, "name">>().notNull(),
    createdAt: at(),
  },
  (t) => [unique("baskets_name").on(t.storefrontId, t.name)],
);
