import type { Money } from "../money/money";

// What an offer says about money that is held: whether a person looks at it first, and when it is captured by itself.

/** Which orders a person looks at before their money is captured. Amounts are minor units by ISO 4217 code. */
export interface HoldBack {
  from: Record<string, number>;
  /** Countries that an order goes to, or whose shopper pays. */
  countries: string[];
}

/** Why an order is held back: its total, or a country. */
export type HeldBecause = { by: "total"; from: Money } | { by: "country"; country: string };

/** Why an order waits for a person; null: it does not. */
export function heldBecause(
  holdBack: HoldBack | undefined,
  { total, countries }: { total: Money; countries: readonly string[] },
): HeldBecause | null {
  if (!holdBack) return null;
  const country = countries.find((one) => holdBack.countries.includes(one));
  if (country) return { by: "country", country };
  const { currency, amount } = total;
  const from = Object.hasOwn(holdBack.from, currency) ? holdBack.from[currency] : undefined;
  return from !== undefined && amount >= from ? { by: "total", from: { amount: from, currency } } : null;
}

export const MOST_DAYS = 60;
const DAY = 86_400_000;
const HOURS_BEFORE_END = 6 * 3_600_000;

/**
 * When held money is captured by itself, in milliseconds: so many days after the payment began, but a few hours before what
 * is held ends. Null: never by itself.
 */
export function captureDue(
  captureAfterDays: number | undefined,
  { createdAt, heldUntil }: { createdAt: number; heldUntil: number | null },
): number | null {
  if (captureAfterDays === undefined) return null;
  const wanted = createdAt + captureAfterDays * DAY;
  return heldUntil === null ? wanted : Math.max(createdAt, Math.min(wanted, heldUntil - HOURS_BEFORE_END));
}
