import { customType } from "drizzle-orm/sqlite-core";
import type { Told } from "#core/said";

/** A column for something told: a sentence's code with its values, as JSON; or plain words, as they came. */
export const told = customType<{ data: Told; driverData: string }>({
  dataType: () => "text",
  toDriver: (value) => (typeof value === "string" ? value : JSON.stringify(value)),
  fromDriver: (text) => (text.startsWith('{"code":') ? (JSON.parse(text) as Told) : text),
});
