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
