import { FormatError, IntlMessageFormat } from "intl-messageformat";
import { type Money, moneyText } from "#core/money/money";
import { countryWithin, nameOfCode } from "#core/places/names";
import type { Problem, Said, SaidValue, Told } from "#core/said";

/** The sentences of one subject in one language, in ICU MessageFormat, by what follows the dot in their code. */
export type Sentences = Readonly<Record<string, string>>;

/** What a loader hands on with everything that is to be told in words: each code has become its sentence. */
export type Spoken<T> = T extends string | number | boolean | bigint | null | undefined
  ? T
  : T extends Problem
    ? SpokenProblem
    : T extends Said
      ? string
      : T extends Date | Money | ((...args: never[]) => unknown)
        ? T
        : T extends object
          ? { [K in keyof T]: Spoken<T[K]> }
          : T;

/** What is wrong, in words, and where. */
export interface SpokenProblem {
  path: string;
  says: string;
}

export interface Speaker {
  tell: (told: Told) => string;
  say: (said: Said) => string;
  spoken: <T>(value: T) => Spoken<T>;
}

const isSaid = (value: object): value is Said =>
  typeof (value as Said).code === "string" &&
  typeof (value as Said).values === "object" &&
  (value as Said).values !== null;
const isMoney = (value: object): value is Money =>
  typeof (value as Money).amount === "number" && typeof (value as Money).currency === "string";

/**
 * Says what core and server have to say, in one language. `catalogues` hold sentences by subject, the part of a code
 * before its first dot; `locale` is the way in which amounts and numbers are written. That each code has
 * its sentence is checked at the build.
 */
export function speaker(
  language: string,
  catalogues: Readonly<Record<string, Sentences>>,
  locale = language,
): Speaker {
  const formats = new Map<string, IntlMessageFormat>();
  // A day within a sentence is in its language, and English here is that of Europe.
  const ofDays = language === "en" ? "en-GB" : language;
  const days = new Intl.DateTimeFormat(ofDays, { day: "numeric", month: "long", timeZone: "UTC" });
  const lists = new Intl.ListFormat(language, { type: "unit", style: "short" });

  function formatOf(code: string): IntlMessageFormat | null {
    const known = formats.get(code);
    if (known) return known;
    const dot = code.indexOf(".");
    const sentence = catalogues[code.slice(0, dot)]?.[code.slice(dot + 1)];
    if (sentence === undefined) return null;
    const format = new IntlMessageFormat(sentence, locale);
    formats.set(code, format);
    return format;
  }

  function written(value: SaidValue): string | number {
    if (typeof value !== "object") return value;
    if (Array.isArray(value)) return lists.format(value.map((one: SaidValue) => String(written(one))));
    if ("country" in value) return countryWithin(value.country, language);
    if ("language" in value) return nameOfCode("language", value.language, language);
    if ("day" in value) return days.format(Date.parse(value.day));
    if (isMoney(value)) return moneyText(value, locale);
    return say(value as Said);
  }

  function say({ code, values }: Said): string {
    if (code === "sentences") return (values.parts as Told[]).map(tell).join(" ");
    if (code === "verbatim") return String(values.words);
    const places = Object.fromEntries(Object.entries(values).map(([name, value]) => [name, written(value)]));
    try {
      const format = formatOf(code);
      if (format) return String(format.format(places));
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
    }
    // What an earlier version kept may have lost its sentence, or lack a value of today's: it is shown, not dropped.
    return [code, ...Object.values(places)].join(" ");
  }

  const tell = (told: Told) => (typeof told === "string" ? told : say(told));

  function spoken(value: unknown): unknown {
    if (typeof value !== "object" || value === null || value instanceof Date) return value;
    if (Array.isArray(value)) return value.map(spoken);
    // A promise, a map or the like is handed on as it is.
    if (Object.getPrototypeOf(value) !== Object.prototype) return value;
    if (isSaid(value)) return "path" in value ? { path: value.path, says: say(value) } : say(value);
    return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, spoken(inner)]));
  }

  return { say, tell, spoken: spoken as Speaker["spoken"] };
}

/** Speakers of the same catalogues for each way of writing, made once. */
export function speakers(
  language: string,
  catalogues: Readonly<Record<string, Sentences>>,
): (locale: string) => Speaker {
  const known = new Map<string, Speaker>();
  return (locale) => {
    const speaking = known.get(locale) ?? speaker(language, catalogues, locale);
    known.set(locale, speaking);
    return speaking;
  };
}
