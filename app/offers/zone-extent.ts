import type { Zone } from "#core/offers/zones";
import { namesOfCodes } from "#core/places/names";

type Places = Pick<Zone, "countries" | "regions" | "postcodes">;

/** What lies in a zone, in a line. */
export const extentWords = ({ countries, regions, postcodes }: Places): string =>
  [namesOfCodes("region", countries), regions.join(", "), postcodes.join(", ")].filter(Boolean).join("; ");

const areTexts = (value: unknown): value is string[] =>
  Array.isArray(value) && value.every((one) => typeof one === "string");

/** A zone as a form hands it back. */
export function extentIn(text: unknown): Omit<Zone, "id"> | null {
  try {
    const { name, countries, regions, postcodes } = (JSON.parse(String(text)) ?? {}) as Record<
      string,
      unknown
    >;
    return typeof name === "string" && areTexts(countries) && areTexts(regions) && areTexts(postcodes)
      ? { name, countries, regions, postcodes }
      : null;
  } catch {
    return null;
  }
}

/** A zone for a form to hand back, see `extentIn`. */
export const extentText = ({ name, countries, regions, postcodes }: Omit<Zone, "id">): string =>
  JSON.stringify({ name, countries, regions, postcodes });
