import { said, type Problem, problem } from "../said";
import type { Profile, ProfileMethod } from "./profile";
import type { OrderInScope } from "./request";

/** What of an order a provider can do without, and is told all the same; and what only a shop can say. */
export interface Telling {
  /** The order's lines with shipping and tax, instead of the total alone. */
  lines?: boolean;
  email?: boolean;
  /** Where it goes and from where it is paid. */
  address?: boolean;
  /** Who the shopper is, in the shop's own words, where they are signed in. */
  shopper?: boolean;
  /** What the shop is called on the provider's pages. */
  brand?: string;
  /** Named pairs of the shop's own. */
  notes?: Record<string, string>;
}

export const LONGEST_BRAND = 40;
export const MOST_NOTES = 10;
const NOTE = { name: 30, value: 120 };

/** What of an order a provider may be told or not. */
export const toldParts = ["lines", "email", "address", "shopper"] as const;
export type ToldPart = (typeof toldParts)[number];

type Needs = ProfileMethod["needs"];

/** Whether something is told: where the offer says so, and always where the method cannot do without it. */
export const isTold = (telling: Telling | undefined, needs: Needs, what: ToldPart): boolean =>
  telling?.[what] ?? needs?.includes(what) ?? false;

/** An order as a provider is told it: with no more than the offer says and the method needs. */
export function asTold(order: OrderInScope, telling: Telling | undefined, needs: Needs): OrderInScope {
  const { lines, email, shipTo, billTo, shopper, ...rest } = order;
  const tells = (what: ToldPart) => isTold(telling, needs, what);
  return {
    ...rest,
    lines: tells("lines") ? lines : [],
    email: tells("email") ? email : "",
    ...(tells("address") && { ...(shipTo && { shipTo }), ...(billTo && { billTo }) }),
    ...(tells("shopper") && shopper !== undefined && { shopper }),
  };
}

/** What a shop says of itself, as an expression sees it; what is not said is not there. */
export const ownWordsTold = (
  telling: Telling | undefined,
): { brand?: string; notes?: Record<string, string> } => ({
  ...(telling?.brand && { brand: telling.brand }),
  ...(telling?.notes && Object.keys(telling.notes).length > 0 && { notes: telling.notes }),
});

/** What a profile can tell beyond what it must: known by what its order of a payment is made of. */
export function canBeTold({ operations }: Pick<Profile, "operations">): Record<keyof Telling, boolean> {
  const source = operations.create?.request.body ?? "";
  const mentions = (name: RegExp) => name.test(source);
  return {
    lines: mentions(/\border\.lines\b/),
    email: mentions(/\border\.email\b/),
    address: mentions(/\border\.(shipTo|billTo)\b/),
    shopper: mentions(/\border\.shopper\b/),
    brand: mentions(/\bbrand\b/),
    notes: mentions(/\bnotes\b/),
  };
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** Whether a value from outside has the shape of what is told. */
export function isTelling(value: unknown): value is Telling {
  if (!isObject(value)) return false;
  const { brand, notes } = value;
  return (
    toldParts.every((part) => value[part] === undefined || typeof value[part] === "boolean") &&
    (brand === undefined || typeof brand === "string") &&
    (notes === undefined || (isObject(notes) && Object.values(notes).every((one) => typeof one === "string")))
  );
}

/** What is wrong with what is told, at the fields that say it. */
export function tellingProblems(telling: Telling, needs: Needs): Problem[] {
  const { brand = "", notes = {} } = telling;
  const problems = toldParts
    .filter((part) => telling[part] === false && needs?.includes(part))
    .map((part) => problem(`telling.${part}`, `offer.${part}-needed`));
  if (brand.length > LONGEST_BRAND)
    problems.push(problem("telling.brand", "offer.brand-too-long", { most: LONGEST_BRAND }));
  const pairs = Object.entries(notes);
  if (pairs.length > MOST_NOTES)
    problems.push(problem("telling.notes", "offer.too-many-notes", { most: MOST_NOTES }));
  const odd = pairs.find(
    ([name, value]) =>
      !/^[a-z][a-z0-9_-]*$/i.test(name) || name.length > NOTE.name || value.length > NOTE.value,
  );
  if (odd)
    problems.push({
      path: "telling.notes",
      ...said("offer.odd-note", { name: odd[0].slice(0, NOTE.name), most: NOTE.value }),
    });
  return problems;
}

/**
 * The locale that a provider's pages know and that is nearest to a shopper's language (BCP 47): the same, the same language,
 * another of that language, else the first it names. Where it names none it is told the shopper's own.
 */
export function nearestLocale({ locales }: Pick<Profile, "locales">, language: string): string {
  if (!locales || locales.length === 0) return language;
  const base = (tag: string) => tag.split("-")[0]?.toLowerCase();
  return (
    locales.find((one) => one.toLowerCase() === language.toLowerCase()) ??
    locales.find((one) => one.toLowerCase() === base(language)) ??
    locales.find((one) => base(one) === base(language)) ??
    locales[0] ??
    language
  );
}
