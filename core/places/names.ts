export type Named = "region" | "language" | "currency";

const kept = new Map<string, Intl.DisplayNames>();

/** What a country, language or currency is called in a language (CLDR, as the runtime knows it); else its code. */
export function nameOfCode(kind: Named, code: string, language = "en"): string {
  const key = `${language} ${kind}`;
  const names = kept.get(key) ?? new Intl.DisplayNames([language], { type: kind, fallback: "code" });
  kept.set(key, names);
  try {
    return names.of(code) ?? code;
  } catch {
    // A code that is malformed has no name.
    return code;
  }
}

/** The names of several, in the order given, as one reads them: “Germany, Austria and Switzerland”. */
export const namesOfCodes = (kind: Named, codes: readonly string[], language = "en"): string =>
  new Intl.ListFormat(language, { type: "conjunction" }).format(
    codes.map((code) => nameOfCode(kind, code, language)),
  );

const withArticle =
  /^(United |Netherlands|Philippines|Bahamas|Gambia|Maldives|Comoros)|(Islands|Republic|Territor(y|ies))$/;

/** A country's name as it stands within a sentence: English puts an article before some. */
export function countryWithin(code: string, language = "en"): string {
  const name = nameOfCode("region", code, language);
  return language === "en" && withArticle.test(name) ? `the ${name}` : name;
}

/** Several of them, as one reads them. */
export const countriesWithin = (codes: readonly string[], language = "en"): string =>
  new Intl.ListFormat(language, { type: "conjunction" }).format(
    codes.map((code) => countryWithin(code, language)),
  );
