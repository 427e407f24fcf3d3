import { isCurrency } from "../money/currencies";
import { type Problem, problem } from "../said";
import { type Rhythm, rhythmUnits } from "./schedule";

/** What a plan costs before its regular price begins: so many days for a price of their own, which may be nothing. */
export interface Trial {
  days: number;
  /** Minor units by currency; a currency that is not named has it for nothing. */
  prices: Record<string, number>;
}

/**
 * A day of the month on which every regular period begins, and whether the part before it is charged by its days. A trial
 * goes on until the first such day after its own.
 */
export interface FixedDay {
  day: number;
  prorated: boolean;
}

/** Tax in a plan's prices, or on top of them, in hundredths of a percent. */
export interface PlanTax {
  share: number;
  included: boolean;
}

/** What a shopper can subscribe to: what it costs in each currency, and how often. */
export interface Plan {
  /** The shop's own name for it, which it asks for. */
  id: string;
  /** As shoppers read it, by language. */
  names: Record<string, string>;
  rhythm: Rhythm;
  /** How many regular periods are charged; null: until it is ended. */
  times: number | null;
  /** Minor units by currency, for one piece and period. */
  prices: Record<string, number>;
  /** What is charged once, at the beginning; a currency that is not named pays none. */
  setUp: Record<string, number>;
  /** What that is called on an order, by language; nothing where nothing is charged for it. */
  setUpNames: Record<string, string>;
  trial: Trial | null;
  fixedDay: FixedDay | null;
  tax: PlanTax | null;
}

/** What becomes of a charge that is refused, in days after it was due. */
export interface Trying {
  /** When it is charged again; in order, none of them on the day itself. */
  tries: number[];
  /** When the shopper is asked by mail for something else to pay with; 0: at once. */
  asks: number[];
  /** When the subscription ends unless it was paid; null: it waits for somebody. */
  ends: number | null;
}

/** What an offer says of payments that repeat. */
export interface Repeats {
  plans: Plan[];
  trying: Trying;
  /** IANA name of the zone by whose days is charged. */
  timeZone: string;
}

export const MOST_PLANS = 20;
/** No try, letter or end lies further away; the refused period could otherwise outlast the next one. */
export const LONGEST_TRYING = 60;
const MOST_TRIES = 8;
const WHOLE = 10_000;

/** What a new offer of repeating payments does with a charge that is refused. */
export const usualTrying: Trying = { tries: [1, 3, 7], asks: [0, 5], ends: 14 };

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);
const isWhole = (value: unknown, least: number, most: number): value is number =>
  Number.isSafeInteger(value) && (value as number) >= least && (value as number) <= most;
const areSums = (value: unknown): value is Record<string, number> =>
  isObject(value) && Object.values(value).every((one) => isWhole(one, 0, Number.MAX_SAFE_INTEGER));
const isList = (value: unknown, most: number, holds: (one: unknown) => boolean): boolean =>
  Array.isArray(value) && value.length <= most && value.every(holds);

const isRhythm = (value: unknown): boolean =>
  isObject(value) && rhythmUnits.some((one) => one === value.unit) && isWhole(value.count, 1, 400);
const isTrial = (value: unknown): boolean =>
  value === null || (isObject(value) && isWhole(value.days, 1, 730) && areSums(value.prices));
const isFixedDay = (value: unknown): boolean =>
  value === null || (isObject(value) && isWhole(value.day, 1, 31) && typeof value.prorated === "boolean");
const isTax = (value: unknown): boolean =>
  value === null ||
  (isObject(value) && isWhole(value.share, 0, WHOLE) && typeof value.included === "boolean");

const areNames = (value: unknown): value is Record<string, string> =>
  isObject(value) && Object.values(value).every((one) => typeof one === "string" && one.length <= 80);

function isPlan(value: unknown): value is Plan {
  if (!isObject(value)) return false;
  const { id, names, rhythm, times, prices, setUp, setUpNames, trial, fixedDay, tax } = value;
  return (
    typeof id === "string" &&
    id.length <= 40 &&
    areNames(names) &&
    areNames(setUpNames) &&
    isRhythm(rhythm) &&
    (times === null || isWhole(times, 1, 1_000)) &&
    areSums(prices) &&
    areSums(setUp) &&
    isTrial(trial) &&
    isFixedDay(fixedDay) &&
    isTax(tax)
  );
}

const isDays = (least: number) => (one: unknown) => isWhole(one, least, LONGEST_TRYING);

/** Whether a value from outside has the shape of what an offer says of repeating payments. */
export function isRepeats(value: unknown): value is Repeats {
  if (!isObject(value) || !isObject(value.trying) || typeof value.timeZone !== "string") return false;
  const { tries, asks, ends } = value.trying;
  return (
    isList(value.plans, MOST_PLANS, isPlan) &&
    isList(tries, MOST_TRIES, isDays(1)) &&
    isList(asks, MOST_TRIES, isDays(0)) &&
    (ends === null || isWhole(ends, 1, LONGEST_TRYING))
  );
}

/** What an offer's repeating payments are held against. */
export interface RepeatTerms {
  /** Whether the method can be charged without the shopper. */
  repeats: boolean;
  /** Whether it takes a payment of nothing, so that a trial may be free. */
  verifies?: boolean;
  languages: readonly string[];
  currencies: readonly string[];
  isTimeZone: (name: string) => boolean;
}

/** What is wrong with what an offer says of repeating payments, at the fields that say it. */
export function repeatProblems({ plans, trying, timeZone }: Repeats, terms: RepeatTerms): Problem[] {
  if (!terms.repeats) return [problem("repeats", "repeats.not-with-this")];
  return [
    ...(terms.isTimeZone(timeZone) ? [] : [problem("repeats.timeZone", "repeats.no-zone")]),
    ...plans.flatMap((plan, i) => [
      ...planProblems(plan, terms).map((one) => ({ ...one, path: `repeats.plans.${i}.${one.path}` })),
      ...(plans.findIndex(({ id }) => id === plan.id) < i
        ? [problem(`repeats.plans.${i}.id`, "repeats.id-twice")]
        : []),
    ]),
    ...tryingProblems(trying),
  ];
}

function planProblems(plan: Plan, { verifies, languages, currencies }: RepeatTerms): Problem[] {
  const { id, names, prices, setUp, setUpNames, trial, fixedDay, rhythm } = plan;
  const problems: Problem[] = [];
  if (!/^[a-z0-9][a-z0-9-]*$/.test(id)) problems.push(problem("id", "repeats.bad-id"));
  for (const language of languages)
    if (!names[language]?.trim())
      problems.push(problem(`names.${language}`, "repeats.no-name", { language: { language } }));
  const costs = Object.values(setUp).some((sum) => sum > 0);
  for (const language of costs ? languages : [])
    if (!setUpNames[language]?.trim())
      problems.push(problem(`setUpNames.${language}`, "repeats.no-set-up-name", { language: { language } }));
  const priced = Object.keys(prices);
  if (priced.length === 0) problems.push(problem("prices", "repeats.no-price"));
  for (const currency of [
    ...new Set([...priced, ...Object.keys(setUp), ...Object.keys(trial?.prices ?? {})]),
  ])
    if (!isCurrency(currency) || !currencies.includes(currency))
      problems.push(problem("prices", "repeats.not-sold-in", { currency }));
  for (const currency of priced) {
    if (prices[currency] === 0) problems.push(problem(`prices.${currency}`, "repeats.costs-nothing"));
    // The shopper agrees to be charged by paying something, unless the method verifies without.
    else if (!verifies && trial && !trial.prices[currency] && !setUp[currency])
      problems.push(problem(`trial.prices.${currency}`, "repeats.nothing-to-begin-with", { currency }));
  }
  if (fixedDay && rhythm.unit !== "month") problems.push(problem("fixedDay", "repeats.day-of-months"));
  return problems;
}

function tryingProblems({ tries, asks, ends }: Trying): Problem[] {
  const rises = (days: readonly number[]) => days.every((day, i) => i === 0 || day > (days[i - 1] ?? 0));
  const problems: Problem[] = [];
  if (!rises(tries)) problems.push(problem("repeats.trying.tries", "repeats.not-in-order"));
  if (!rises(asks)) problems.push(problem("repeats.trying.asks", "repeats.not-in-order"));
  if (ends !== null && [...tries, ...asks].some((day) => day >= ends))
    problems.push(problem("repeats.trying.ends", "repeats.after-the-end"));
  return problems;
}
