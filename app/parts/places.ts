import { currencyCodes } from "#core/money/currencies";
import { countryCodes, languageCodes } from "#core/places/codes";
import { nameOfCode } from "#core/places/names";
import type { Choice } from "./choose";

const byName = (a: Choice, b: Choice) => a.name.localeCompare(b.name, "en");
const listOf = (kind: "region" | "language" | "currency", codes: readonly string[]) =>
  codes.map((id): Choice => ({ id, name: nameOfCode(kind, id), code: id })).sort(byName);

let countries: Choice[] | undefined;
let languages: Choice[] | undefined;
let currencies: Choice[] | undefined;

/** Countries by name. */
export const countryChoices = () => (countries ??= listOf("region", countryCodes));
/** Languages by name, with those that are `used` though they say more than a language. */
export const languageChoices = (used: readonly string[] = []) => {
  languages ??= listOf("language", languageCodes);
  const more = used.filter((one) => !languageCodes.includes(one));
  return more.length === 0 ? languages : [...listOf("language", more), ...languages];
};
/** Currencies by name. */
export const currencyChoices = () => (currencies ??= listOf("currency", currencyCodes));
