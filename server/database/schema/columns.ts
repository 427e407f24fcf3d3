import { integer, text } from "drizzle-orm/sqlite-core";
import type { Mode } from "#core/mode";

// Times are milliseconds since the epoch; amounts are minor units of the row's currency.
export const id = () => text().primaryKey();
export const at = () => integer().notNull();
export const mode = () => text().$type<Mode>().notNull();
