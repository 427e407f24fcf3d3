import type { OrderLine } from "../orders/order";
import type { Terms } from "./agreed";
import type { Plan, PlanTax, Trying } from "./plan";
import { type Day, daysAfter, daysBetween, nextDayOfMonth, periodBefore, type Schedule } from "./schedule";

/** A plan's terms in a currency and language; null where it has no price in it. */
export function termsOf(
  plan: Plan,
  { currency, language }: { currency: string; language: string },
  { trying, timeZone }: { trying: Trying; timeZone: string },
): Terms | null {
  const price = plan.prices[currency];
  if (price === undefined) return null;
  const { id, names, rhythm, times, setUp, setUpNames, trial, fixedDay, tax } = plan;
  return {
    plan: id,
    name: inLanguage(names, language) ?? id,
    ...{ currency, rhythm, times, price, setUp: setUp[currency] ?? 0 },
    setUpName: inLanguage(setUpNames, language) ?? id,
    trial: trial && { days: trial.days, price: trial.prices[currency] ?? 0 },
    ...{ fixedDay, tax, trying, timeZone },
  };
}

const inLanguage = (names: Record<string, string>, language: string): string | undefined =>
  names[language] ?? names[language.split("-")[0] ?? ""] ?? Object.values(names)[0];

/** Whether two offers ask the same of a shopper for a plan. What becomes of refused charges is not of the shopper's making. */
export function agree(a: Terms, b: Terms): boolean {
  const bare = ({ trying: _trying, ...rest }: Terms) => JSON.stringify(rest);
  return bare(a) === bare(b);
}

/** How the periods of a subscription that begins on a day, at a minute of it, follow each other; the first has the number 0. */
export function scheduleFrom(terms: Terms, begins: { day: Day; minute: number }): Schedule {
  const { rhythm, timeZone, trial, fixedDay } = terms;
  const base = { rhythm, timeZone, minute: begins.minute };
  const earliest = trial ? daysAfter(begins.day, trial.days) : begins.day;
  const anchor = fixedDay ? nextDayOfMonth(earliest, fixedDay.day) : earliest;
  const anchorNumber = anchor === begins.day ? 0 : 1;
  return { ...base, anchor, anchorNumber, ...(fixedDay && { dayOfMonth: fixedDay.day }) };
}

/** What a period comes to: its lines, the tax in or on them, and the sum, minor units. */
export interface Sum {
  lines: OrderLine[];
  tax: number;
  taxIncluded: boolean;
  total: number;
}

/** In whole numbers, rounded to the nearest, halves up. */
const shareOf = (amount: number, share: number, whole: number): number =>
  Number((BigInt(amount) * BigInt(share) * 2n + BigInt(whole)) / (BigInt(whole) * 2n));

const WHOLE = 10_000;

function summed(lines: OrderLine[], tax: PlanTax | null): Sum {
  const goods = lines.reduce((sum, { total }) => sum + total, 0);
  if (!tax) return { lines, tax: 0, taxIncluded: true, total: goods };
  if (tax.included) {
    return { lines, tax: shareOf(goods, tax.share, WHOLE + tax.share), taxIncluded: true, total: goods };
  }
  const on = shareOf(goods, tax.share, WHOLE);
  return { lines, tax: on, taxIncluded: false, total: goods + on };
}

const line = (name: string, unit: number, quantity: number): OrderLine[] =>
  unit === 0 ? [] : [{ name, quantity, unit, total: unit * quantity }];

/** What every regular period comes to. */
export const regularSum = ({ name, price, tax }: Terms, quantity: number): Sum =>
  summed(line(name, price, quantity), tax);

/**
 * What is paid at the beginning: the trial, the part of a period before its fixed day, or the first period whole, and what
 * setting up costs, which is charged once for all pieces.
 */
export function firstSum(terms: Terms, quantity: number, begins: Day): Sum {
  const { name, price, setUp, setUpName, trial, fixedDay, tax } = terms;
  const fixed = fixedDay ? nextDayOfMonth(begins, fixedDay.day) : begins;
  const partial = trial === null && fixed !== begins && fixedDay?.prorated === true;
  const unit = trial ? trial.price : partial ? partOf(terms, begins, fixed) : price;
  const paid = [...line(name, unit, quantity), ...line(setUpName, setUp, 1)];
  // Whoever begins for nothing sees what it is that they begin.
  return summed(paid.length > 0 ? paid : [{ name, quantity, unit: 0, total: 0 }], tax);
}

/** What the days before a fixed day come to, of a period that ends on it. */
function partOf({ price, rhythm, fixedDay }: Terms, begins: Day, fixed: Day): number {
  // The whole period that it is a part of: the shortest that ends on the fixed day and holds the beginning.
  const whole = daysBetween(periodBefore(fixed, rhythm, fixedDay?.day ?? 1), fixed);
  const part = Math.min(whole, daysBetween(begins, fixed));
  // Something has to be paid at the beginning.
  return Math.max(1, shareOf(price, part, whole));
}
