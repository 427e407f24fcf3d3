import { type Problem, problem } from "../said";

/** What can come of a shopper's wish to pay, of which the shop may have something to say. */
export const outcomes = [
  "paid",
  "waiting",
  "cancelled",
  "declined",
  "failed",
  "expired",
  "refunded",
] as const;
export type Outcome = (typeof outcomes)[number];

/** What the shop says after each outcome, in addition to what is said anyway, by language. */
export type Afterwards = Record<string, Partial<Record<Outcome, string>>>;

/** What stands for something of the order in such a text: `{order}`, its number; `{total}`; `{shop}`, its name. */
export const places = ["order", "total", "shop"] as const;
export type Place = (typeof places)[number];

export const LONGEST = 300;
const PLACE = /\{([^{}]*)\}/g;
const isPlace = (name: string): name is Place => places.some((one) => one === name);

/** What is wrong with texts that came from outside, each at its place. */
export function afterwardsProblems(input: unknown, languages: readonly string[]): Problem[] {
  if (typeof input !== "object" || input === null || Array.isArray(input))
    return [problem("afterwards", "afterwards.malformed")];
  return Object.entries(input).flatMap(([language, texts]: [string, unknown]): Problem[] => {
    const at = `afterwards.${language}`;
    // What is said in a language that the storefront has no more is said to nobody.
    if (!languages.includes(language)) return [];
    if (typeof texts !== "object" || texts === null) return [problem(at, "afterwards.malformed")];
    return Object.entries(texts).flatMap(([outcome, text]: [string, unknown]): Problem[] => {
      const path = `${at}.${outcome}`;
      if (!outcomes.some((one) => one === outcome) || typeof text !== "string")
        return [problem(path, "afterwards.malformed")];
      if (text.length > LONGEST) return [problem(path, "afterwards.too-long", { most: LONGEST })];
      const odd = [...text.matchAll(PLACE)].map(([, name = ""]) => name).find((name) => !isPlace(name));
      return odd === undefined ? [] : [problem(path, "afterwards.no-place", { place: odd.slice(0, 30) })];
    });
  });
}

/** What the shop says after an outcome, in the shopper's language, with its places filled; null where it says nothing. */
export function saidAfter(
  afterwards: Afterwards | undefined,
  language: string,
  outcome: Outcome,
  values: Readonly<Record<Place, string>>,
): string | null {
  const texts = afterwards?.[language] ?? afterwards?.[language.split("-")[0] ?? language];
  const text = texts?.[outcome]?.trim();
  return text ? text.replace(PLACE, (whole, name: string) => (isPlace(name) ? values[name] : whole)) : null;
}
