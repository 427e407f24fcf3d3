import * as yup from "yup";
import { type Problem, problem, type Said, type SaidValues, said } from "../said";
import { isWithin, type Place, type Zone } from "./zones";

/** One condition under which an offer is shown. `is: false` turns it round. */
export type Rule =
  | { on: "zone"; zones: string[]; at: "ship" | "bill"; is: boolean }
  /** Whether some of the order's lines, or all of them, are goods of these kinds. */
  | { on: "goods"; kinds: string[]; share: "some" | "all"; is: boolean }
  | { on: "delivery"; methods: string[]; is: boolean }
  /** Grams; null: no limit. */
  | { on: "weight"; least: number | null; greatest: number | null }
  /** ISO 8601 days (1 is Monday) and hours of a time zone; `until` before `from` runs over midnight. */
  | { on: "time"; days: number[]; from: string; until: string; zone: string }
  | { on: "shopper"; is: "first" | "returning" }
  /** Failed tries to pay the same order so far. */
  | { on: "tries"; most: number }
  | { on: "device"; is: "phone" | "computer" };
export type RuleKind = Rule["on"];

/** Rules that must all hold, or of which one must. */
export interface RuleGroup {
  match: "all" | "any";
  rules: Rule[];
}
/** Groups stand one in the other, once. */
export interface Rules {
  match: "all" | "any";
  rules: (Rule | RuleGroup)[];
}

/** What of an order and its shopper rules ask about; what is left out, the shop does not say. */
export interface Asked {
  shipTo?: Place;
  billTo?: Place;
  /** The kind of each line's goods; empty where the shop names none. */
  kinds?: readonly string[];
  delivery?: string;
  /** Grams. */
  weight?: number;
  returning?: boolean;
  tries?: number;
  device?: "phone" | "computer";
  /** Milliseconds since the epoch. */
  at: number;
}

export const MOST_RULES = 100;
export const isGroup = (one: Rule | RuleGroup): one is RuleGroup => "match" in one;
const groupsIn = (rules: readonly (Rule | RuleGroup)[]) => rules.filter((one) => isGroup(one));
const single = (rules: readonly (Rule | RuleGroup)[]) => rules.flatMap((one) => (isGroup(one) ? [] : [one]));

const HOUR = /^([01]\d|2[0-3]):[0-5]\d$/;
const texts = yup.array(yup.string().strict().trim().min(1).max(60).required()).min(1).max(200).required();
const grams = yup.number().strict().integer().min(0).max(100_000_000).nullable().defined();
const shapes: Record<RuleKind, yup.Schema> = {
  zone: yup.object({
    zones: texts,
    at: yup.string().oneOf(["ship", "bill"]).required(),
    is: yup.boolean().strict().required(),
  }),
  goods: yup.object({
    kinds: texts,
    share: yup.string().oneOf(["some", "all"]).required(),
    is: yup.boolean().strict().required(),
  }),
  delivery: yup.object({ methods: texts, is: yup.boolean().strict().required() }),
  weight: yup.object({ least: grams, greatest: grams }),
  time: yup.object({
    days: yup.array(yup.number().strict().integer().min(1).max(7).required()).min(1).max(7).required(),
    from: yup.string().matches(HOUR).required(),
    until: yup.string().matches(HOUR).required(),
    zone: yup
      .string()
      .max(60)
      .test("zone", (value) => isTimeZone(value ?? ""))
      .required(),
  }),
  shopper: yup.object({ is: yup.string().oneOf(["first", "returning"]).required() }),
  tries: yup.object({ most: yup.number().strict().integer().min(0).max(100).required() }),
  device: yup.object({ is: yup.string().oneOf(["phone", "computer"]).required() }),
};
export const ruleKinds = Object.keys(shapes) as RuleKind[];

/** Whether a name is one of an IANA time zone that is known here. */
export function isTimeZone(timeZone: string): boolean {
  try {
    return new Intl.DateTimeFormat("en", { timeZone }).resolvedOptions().timeZone !== "";
  } catch {
    return false;
  }
}

/** What is wrong with rules that came from outside, at its place; zones must be among the known. */
export function ruleProblems(input: unknown, zones: readonly string[]): Problem[] {
  const problems: Problem[] = [];
  const refuse = (path: string, code: string, values: SaidValues = {}) =>
    problems.push(problem(path, code, values));
  const isRecord = (value: unknown): value is Record<string, unknown> =>
    typeof value === "object" && value !== null && !Array.isArray(value);
  const group = (value: unknown, path: string, depth: number): number => {
    const rules = isRecord(value) ? value.rules : undefined;
    if (
      !isRecord(value) ||
      !Array.isArray(rules) ||
      !["all", "any"].includes(String(value.match)) ||
      depth > 2
    ) {
      refuse(path, "rules.malformed");
      return 0;
    }
    return rules.slice(0, MOST_RULES + 1).reduce((sum: number, one: unknown, i) => {
      const at = `${path}.${i}`;
      if (isRecord(one) && "match" in one) {
        // A group of nothing would always hold.
        if (Array.isArray(one.rules) && one.rules.length === 0) refuse(at, "rules.unfinished");
        return sum + group(one, at, depth + 1);
      }
      const kind = ruleKinds.find((on) => isRecord(one) && one.on === on);
      if (!kind || !shapes[kind].isValidSync(one)) refuse(at, "rules.unfinished");
      else
        for (const zone of kind === "zone" ? (one as { zones: string[] }).zones : [])
          if (!zones.includes(zone)) refuse(at, "rules.zone-gone");
      return sum + 1;
    }, 0);
  };
  if (group(input, "rules", 1) > MOST_RULES) refuse("rules", "rules.too-many", { most: MOST_RULES });
  return problems;
}

type Zones = readonly Zone[];
/** Whether a rule holds for what is asked. What the shop does not say is as if it were not so. */
export function holds(rule: Rule, asked: Asked, zones: Zones): boolean {
  switch (rule.on) {
    case "zone":
      return isInZones(rule, rule.at === "ship" ? asked.shipTo : asked.billTo, zones) === rule.is;
    case "goods":
      return hasGoods(rule, asked.kinds ?? []) === rule.is;
    case "delivery":
      return (asked.delivery !== undefined && rule.methods.includes(asked.delivery)) === rule.is;
    case "weight": {
      const { weight } = asked;
      if (weight === undefined) return false;
      return weight >= (rule.least ?? 0) && weight <= (rule.greatest ?? Infinity);
    }
    case "time":
      return isTime(rule, asked.at);
    case "shopper":
      return asked.returning !== undefined && asked.returning === (rule.is === "returning");
    case "tries":
      return (asked.tries ?? 0) <= rule.most;
    case "device":
      return asked.device === rule.is;
  }
}

function isInZones(rule: Extract<Rule, { on: "zone" }>, place: Place | undefined, zones: Zones): boolean {
  return place !== undefined && zones.some((zone) => rule.zones.includes(zone.id) && isWithin(zone, place));
}

function hasGoods(rule: Extract<Rule, { on: "goods" }>, kinds: readonly string[]): boolean {
  const among = (kind: string) => rule.kinds.includes(kind);
  return rule.share === "some" ? kinds.some(among) : kinds.length > 0 && kinds.every(among);
}

const dayNames = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"];

interface Clock {
  format: Intl.DateTimeFormat;
  /** The minute that it was last read at, and what it showed: many rules ask at the same moment. */
  minute: number;
  day: number;
  now: string;
}
const clocks = new Map<string, Clock>();

/** The ISO 8601 day and the hour that clocks of a zone show. Making a clock takes far longer than reading it. */
function readClock(timeZone: string, at: number): Clock {
  const minute = Math.floor(at / 60_000);
  const known = clocks.get(timeZone);
  if (known?.minute === minute) return known;
  const format =
    known?.format ??
    new Intl.DateTimeFormat("en-GB", {
      ...{ timeZone, weekday: "short", hour: "2-digit", minute: "2-digit", hourCycle: "h23" },
    });
  const parts = format.formatToParts(at);
  const of = (type: string) => parts.find((part) => part.type === type)?.value ?? "";
  const clock: Clock = {
    ...{ format, minute, now: `${of("hour")}:${of("minute")}` },
    day: dayNames.indexOf(of("weekday").toLowerCase()) + 1,
  };
  clocks.set(timeZone, clock);
  return clock;
}

/** By the clocks of the rule's zone. A night belongs to the day that it began on. */
function isTime({ days, from, until, zone }: Extract<Rule, { on: "time" }>, at: number): boolean {
  const { day, now } = readClock(zone, at);
  if (from < until) return days.includes(day) && now >= from && now < until;
  const before = day === 1 ? 7 : day - 1;
  return (days.includes(day) && now >= from) || (days.includes(before) && now < until);
}

/** Why rules do not hold: a code, what to say, and what would change it. Empty: they hold. */
export interface RuleReason {
  code: RuleKind | "none-of";
  says: Said;
  change: Said;
}

export function reasonsOf({ match, rules }: Rules, asked: Asked, zones: Zones): RuleReason[] {
  const found: RuleReason[] = [];
  for (const one of rules) {
    const reasons = isGroup(one) ? reasonsOf(one, asked, zones) : null;
    const isHeld = reasons ? reasons.length === 0 : holds(one as Rule, asked, zones);
    if (isHeld && match === "any") return [];
    if (reasons) found.push(...reasons);
    else if (!isHeld) found.push(reasonOf(one as Rule, zones));
  }
  const [first] = found;
  if (match === "all" || !first) return found;
  const says = said("rules.none-of", { rules: found.map((one) => one.says) });
  return [{ code: "none-of", says, change: first.change }];
}

const isNot = (rule: Rule): boolean => "is" in rule && rule.is === false;

/** Why a rule does not hold says nothing of the cart: it is put together once, and not for each that looks. */
const reasonsKept = new WeakMap<Rule, { zones: Zones; reason: RuleReason }>();

function reasonOf(rule: Rule, zones: Zones): RuleReason {
  const kept = reasonsKept.get(rule);
  if (kept?.zones === zones) return kept.reason;
  const reason: RuleReason = {
    code: rule.on,
    says: said("rules.only", { rule: ruleSays(rule, zones), is: isNot(rule) ? "no" : "yes" }),
    change: said(`rules.change-${rule.on}`),
  };
  reasonsKept.set(rule, { zones, reason });
  return reason;
}

/** A rule as people read it, to go behind "only". */
export function ruleSays(rule: Rule, zones: Zones): Said {
  const is = isNot(rule) ? "no" : "yes";
  switch (rule.on) {
    case "zone": {
      const names = rule.zones.map((id) => zones.find((zone) => zone.id === id)?.name ?? id);
      return said("rules.zone", { zones: names, at: rule.at, is });
    }
    case "goods":
      return said("rules.goods", { kinds: rule.kinds, share: rule.share, is });
    case "delivery":
      return said("rules.delivery", { methods: rule.methods, is });
    case "weight":
      return said("rules.weight", {
        least: rule.least === null ? -1 : rule.least / 1000,
        greatest: rule.greatest === null ? -1 : rule.greatest / 1000,
      });
    case "time": {
      const days = rule.days.map((day) => said(`rules.on-${dayNames[day - 1] ?? "mon"}`));
      return said("rules.time", { days, from: rule.from, until: rule.until, zone: rule.zone });
    }
    case "shopper":
      return said("rules.shopper", { is: rule.is });
    case "tries":
      return said("rules.tries", { most: rule.most });
    case "device":
      return said("rules.device", { is: rule.is });
  }
}

/** All rules as one sentence. */
export function rulesSay({ match, rules }: Rules, zones: Zones): Said {
  const each = rules.map((one) => (isGroup(one) ? rulesSay(one, zones) : ruleSays(one, zones)));
  return match === "all" ? said("rules.all-of", { rules: each }) : said("rules.any-of", { rules: each });
}

/** Whether rules name a zone. */
export const namesZone = ({ rules }: Rules | RuleGroup, zone: string): boolean =>
  rules.some((one) => (isGroup(one) ? namesZone(one, zone) : one.on === "zone" && one.zones.includes(zone)));

/** Two rules of one group, all of which must hold, that never hold together; null where none are seen. */
export function neverTogether({ match, rules }: Rules | RuleGroup): [Rule, Rule] | null {
  const inner = groupsIn(rules).map((one) => neverTogether(one));
  const found =
    match === "all"
      ? inner.find((one) => one !== null)
      : inner.length === rules.length && inner.every(Boolean)
        ? inner[0]
        : null;
  if (found) return found;
  if (match === "any") return null;
  const flat = single(rules);
  for (const [i, one] of flat.entries())
    for (const other of flat.slice(i)) if (areContrary(one, other)) return [one, other];
  return null;
}

function areContrary(one: Rule, other: Rule): boolean {
  if (one.on === "weight" && other.on === "weight")
    return (
      Math.max(one.least ?? 0, other.least ?? 0) >
      Math.min(one.greatest ?? Infinity, other.greatest ?? Infinity)
    );
  if (one === other) return false;
  if ((one.on === "shopper" && other.on === "shopper") || (one.on === "device" && other.on === "device"))
    return one.is !== other.is;
  if (one.on === "delivery" && other.on === "delivery")
    return areApart(one, other, one.methods, other.methods);
  if (one.on === "zone" && other.on === "zone")
    return (
      one.at === other.at &&
      one.is !== other.is &&
      one.zones.every((id) => other.zones.includes(id)) &&
      one.is
    );
  if (one.on === "goods" && other.on === "goods" && one.share === "all" && other.share === "all")
    return areApart(one, other, one.kinds, other.kinds);
  return false;
}

/** Of two lists of which just one can be met: both wanted and nothing in common, or all that is wanted is ruled out. */
function areApart(
  one: { is: boolean },
  other: { is: boolean },
  mine: readonly string[],
  theirs: readonly string[],
): boolean {
  if (one.is && other.is) return !mine.some((value) => theirs.includes(value));
  if (one.is !== other.is) {
    const [wanted, barred] = one.is ? [mine, theirs] : [theirs, mine];
    return wanted.every((value) => barred.includes(value));
  }
  return false;
}
