import { integer, sqliteTable, text } from "drizzle-orm/sqlite-core";
import { told } from "../told";
import { notNegative } from "./columns";
import { storefronts } from "./storefronts";

/** To whom a storefront's findings are told: by e-mail, by a signed message, or both. */
export const notices = sqliteTable(
  "notices",
  {
    storefrontId: text()
      .primaryKey()
      .references(() => storefronts.id),
    email: text(),
    address: text(),
    /** What messages to the address are signed with; sealed. */
    secret: text(),
    /** Findings that were opened until then have been told. */
    toldUntil: integer().notNull().default(0),
    sentAt: integer(),
    /** What came of the last try. */
    outcome: told(),
  },
  (t) => [notNegative("notices_told", t.toldUntil)],
);
