import { isCountry } from "../places/codes";
import { isCurrency } from "../money/currencies";
import { type Problem, problem, type Reading, type Said, type SaidValues, said } from "../said";
import { type Because, type Candidate, type Cart, decide } from "./decide";
import { isGroup, type Rule } from "./rules";
import { placeIn, type Zone } from "./zones";

/** A shopper with a basket that is kept, to see what each of them is offered. */
export interface Basket {
  name: string;
  /** What is asked for, minor units of `currency`. */
  total: number;
  /** What of it is for goods, without shipping. */
  goods: number;
  currency: string;
  country: string;
  postcode: string;
  group: string;
  kinds: string[];
  delivery: string;
  /** Grams; null: the shop does not say. */
  weight: number | null;
  returning: boolean;
  device: "phone" | "computer";
  /** Tries that were refused so far. */
  tries: number;
}

export const MOST_BASKETS = 200;

/** A basket as the decision reads it, at a moment in milliseconds. */
export function cartOfBasket(basket: Basket, at: number): Cart {
  const { total, goods, currency, country, postcode, group } = basket;
  const { kinds, delivery, weight, returning, device, tries } = basket;
  const place = { country, ...(postcode && { postcode }) };
  return {
    total: { amount: total, currency },
    ...{ goods, country, group, language: "" },
    asked: {
      ...{ at, tries, device, returning, kinds, shipTo: place, billTo: place },
      ...(delivery && { delivery }),
      ...(weight !== null && { weight }),
    },
  };
}

/** What storefront and offers allow a basket to hold. */
export interface BasketTerms {
  currencies: readonly string[];
  groups: readonly string[];
}

const isText = (value: unknown, most: number): value is string =>
  typeof value === "string" && value.length <= most;
const isCount = (value: unknown, most: number): value is number =>
  Number.isSafeInteger(value) && (value as number) >= 0 && (value as number) <= most;

/** Reads a basket from outside, or says by field what is wrong. */
export function readBasket(input: unknown, { currencies, groups }: BasketTerms): Reading<Basket> {
  const raw = (typeof input === "object" && input !== null ? input : {}) as Partial<Basket>;
  const problems: Problem[] = [];
  const refuse = (path: keyof Basket, code: string, values: SaidValues = {}) =>
    problems.push(problem(path, code, values));
  const name = isText(raw.name, 200) ? raw.name.trim() : "";
  if (name === "" || name.length > 60) refuse("name", "baskets.name-needed");
  if (!isCount(raw.total, Number.MAX_SAFE_INTEGER)) refuse("total", "baskets.no-total");
  else if (!isCount(raw.goods, raw.total)) refuse("goods", "baskets.goods-within-total");
  if (!isText(raw.currency, 3) || !isCurrency(raw.currency) || !currencies.includes(raw.currency))
    refuse("currency", "baskets.not-of-storefront");
  if (!isText(raw.country, 2) || !isCountry(raw.country)) refuse("country", "baskets.no-country");
  if (!isText(raw.group, 40) || !groups.includes(raw.group)) refuse("group", "baskets.not-of-storefront");
  if (!isText(raw.postcode, 20)) refuse("postcode", "baskets.malformed");
  if (!isText(raw.delivery, 60)) refuse("delivery", "baskets.malformed");
  if (!Array.isArray(raw.kinds) || raw.kinds.length > 50 || !raw.kinds.every((one) => isText(one, 60)))
    refuse("kinds", "baskets.malformed");
  if (raw.weight !== null && !isCount(raw.weight, 100_000_000)) refuse("weight", "baskets.malformed");
  if (typeof raw.returning !== "boolean") refuse("returning", "baskets.malformed");
  if (raw.device !== "phone" && raw.device !== "computer") refuse("device", "baskets.malformed");
  if (!isCount(raw.tries, 100)) refuse("tries", "baskets.malformed");
  if (problems.length > 0) return { ok: false, problems };
  const { total, goods, currency, country, postcode, group } = raw as Basket;
  const { kinds, delivery, weight, returning, device, tries } = raw as Basket;
  return {
    ok: true,
    value: {
      ...{ name, total, goods, currency, country, postcode, group },
      ...{ kinds, delivery, weight, returning, device, tries },
    },
  };
}

/** What an offer does for a basket: null where it is shown, else why it is withheld. */
export type Cell = readonly Because[] | null;

/** Every basket against every offer: a row for each basket, in it what becomes of each offer, by its id. */
export function tableOf(
  candidates: readonly Candidate[],
  baskets: readonly Basket[],
  at: number,
): Map<string, Cell>[] {
  return baskets.map((basket) => {
    const { shown, withheld } = decide(candidates, cartOfBasket(basket, at));
    return new Map<string, Cell>([
      ...shown.map(({ id }) => [id, null] as const),
      ...withheld.map(({ id, because }) => [id, because] as const),
    ]);
  });
}

/** A basket that would be worth keeping, and why. */
export interface Proposal {
  basket: Omit<Basket, "name">;
  says: Said;
}

const everyRule = ({ document }: Candidate): Rule[] =>
  (document.rules?.rules ?? []).flatMap((one) => (isGroup(one) ? one.rules : [one]));

/**
 * Baskets at each side of what the offers draw a line at: limits of the total and of the weight, zones, kinds of goods,
 * ways of delivery. `usual` is a basket that has none of this; `label` names an offer.
 */
export function proposeBaskets(
  candidates: readonly Candidate[],
  usual: Omit<Basket, "name">,
  zones: readonly Zone[],
  label: (id: string) => string,
): Proposal[] {
  const proposals: Proposal[] = [{ basket: usual, says: said("baskets.usual") }];
  const propose = (change: Partial<Basket>, says: Said) =>
    proposals.push({ basket: { ...usual, ...change }, says });
  const shipping = usual.total - usual.goods;
  for (const candidate of candidates) {
    const offer = label(candidate.id);
    const ofGoods = candidate.document.limitsOf === "goods";
    for (const [currency, { least, greatest }] of Object.entries(candidate.document.limits)) {
      const at = (judged: number, says: Said) => {
        const total = ofGoods ? judged + shipping : judged;
        if (judged >= 0) propose({ total, goods: Math.max(0, total - shipping), currency }, says);
      };
      if (least !== null) {
        at(least - 1, said("baskets.below-least", { offer }));
        at(least, said("baskets.at-least", { offer }));
      }
      if (greatest !== null) {
        at(greatest, said("baskets.at-greatest", { offer }));
        at(greatest + 1, said("baskets.above-greatest", { offer }));
      }
    }
    for (const rule of everyRule(candidate)) {
      if (rule.on === "goods")
        for (const kind of rule.kinds) propose({ kinds: [kind] }, said("baskets.goods", { kind }));
      if (rule.on === "delivery")
        for (const delivery of rule.methods) propose({ delivery }, said("baskets.delivery", { delivery }));
      if (rule.on === "weight") {
        if (rule.least !== null && rule.least > 0)
          propose({ weight: rule.least - 1 }, said("baskets.lighter", { offer }));
        if (rule.greatest !== null) {
          propose({ weight: rule.greatest }, said("baskets.as-heavy", { offer }));
          propose({ weight: rule.greatest + 1 }, said("baskets.heavier", { offer }));
        }
      }
      if (rule.on === "tries") propose({ tries: rule.most + 1 }, said("baskets.tried", { offer }));
      if (rule.on === "device") propose({ device: "phone" }, said("baskets.phone"));
      if (rule.on === "shopper") propose({ returning: true }, said("baskets.returning"));
    }
  }
  for (const zone of zones) {
    const place = placeIn(zone);
    if (place) propose({ postcode: "", ...place }, said("baskets.zone", { zone: zone.name }));
  }
  const seen = new Set<string>();
  return proposals.filter(({ basket }) => {
    const key = JSON.stringify(basket);
    return !seen.has(key) && Boolean(seen.add(key));
  });
}
