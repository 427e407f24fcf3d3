import { customType } from "drizzle-orm/sqlite-core";
import { type Said, type Told, verbatim } from "#core/said";

/** A sentence's code with its values, where that is what was kept; null for plain words, whatever they look like. */
function saidIn(text: string): Said | null {
  if (!text.startsWith('{"code":')) return null;
  try {
    const { code, values } = JSON.parse(text) as Partial<Said>;
    return typeof code === "string" && typeof values === "object" && values !== null
      ? { code, values }
      : null;
  } catch {
    return null;
  }
}

/**
 * A column for something told: a sentence's code with its values, as JSON; or plain words, as they came. Words of
 * somebody else that look like a code of ours are kept as their words, so that nobody can speak in our name.
 */
export const told = customType<{ data: Told; driverData: string }>({
  dataType: () => "text",
  toDriver: (value) =>
    typeof value === "string" && saidIn(value) === null
      ? value
      : JSON.stringify(typeof value === "string" ? verbatim(value) : value),
  fromDriver: (text) => saidIn(text) ?? text,
});
