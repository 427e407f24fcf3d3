import type { Money } from "../money/money";
import { isCurrency } from "../money/currencies";
import type { Order } from "../orders/order";
import { type Problem, problem } from "../said";

/** What choosing an offer costs a shopper, or saves: a share of the total and a sum in each currency, both added up. */
export interface Charge {
  kind: "fee" | "discount";
  /** Hundredths of a percent of the total. */
  share: number;
  /** Minor units by currency. */
  sums: Record<string, number>;
}

/** A share of all of it, in hundredths of a percent. */
const WHOLE = 10_000;

/** What a charge comes to for a total, minor units: more than nothing for a fee, less for a discount. */
export function chargeFor(charge: Charge | undefined, { amount, currency }: Money): number {
  if (!charge) return 0;
  // In whole numbers: a total of this size times a share would not be exact otherwise.
  const share = Number((BigInt(amount) * BigInt(charge.share) + BigInt(WHOLE / 2)) / BigInt(WHOLE));
  const sum = share + (charge.sums[currency] ?? 0);
  return charge.kind === "fee" || sum === 0 ? sum : -sum;
}

/** Whether a charge makes no sense of a total: a fee above it, or a discount that leaves nothing to pay. */
export const isOutOfProportion = (charge: number, { amount }: Money): boolean =>
  charge > amount || amount + charge <= 0;

/**
 * Countries whose law forbids a fee for the usual ways of paying: those of the European Economic Area, by article 62 of
 * Directive (EU) 2015/2366, and the United Kingdom, by regulation 6A of its Consumer Rights (Payment Surcharges) Regulations.
 */
const FORBIDDING = new Set(
  "AT BE BG CY CZ DE DK EE ES FI FR GB GR HR HU IE IS IT LI LT LU LV MT NL NO PL PT RO SE SI SK".split(" "),
);

/** Whether the law of a shop's country forbids fees for the usual ways of paying. */
export const forbidsFees = (country: string): boolean => FORBIDDING.has(country);

/** Whether a storefront takes fees: as its owner has said, else as its country's law does. */
export const takesFees = ({
  country,
  money,
}: {
  country: string;
  money: { choiceFees?: boolean };
}): boolean => money.choiceFees ?? !forbidsFees(country);

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** Whether a value from outside has a charge's shape. */
export function isCharge(value: unknown): value is Charge {
  if (!isObject(value) || !isObject(value.sums)) return false;
  const { kind, share, sums } = value;
  return (
    (kind === "fee" || kind === "discount") &&
    Number.isSafeInteger(share) &&
    (share as number) >= 0 &&
    (share as number) <= WHOLE &&
    Object.values(sums).every((one) => Number.isSafeInteger(one) && (one as number) >= 0)
  );
}

/** What is wrong with an offer's charge, at the fields that say it. */
export function chargeProblems(
  { kind, share, sums }: Charge,
  { fees, least }: { fees: boolean; least: (currency: string) => number | null },
): Problem[] {
  const problems: Problem[] = [];
  if (kind === "fee" && !fees) problems.push(problem("charge", "offer.fees-refused"));
  if (share === WHOLE && kind === "discount") problems.push(problem("charge.share", "offer.discount-of-all"));
  for (const [currency, sum] of Object.entries(sums)) {
    const smallest = least(currency);
    if (!isCurrency(currency)) problems.push(problem("charge", "offer.not-currency", { currency }));
    else if (smallest !== null && smallest > 0 && sum >= smallest)
      problems.push(problem(`charge.sums.${currency}`, "offer.charge-above-least"));
  }
  return problems;
}

/** An order with what choosing a way of paying adds to it, as a line under `name`: what is asked for in the end. */
export function withCharge(order: Order, charge: number, name: string): Order {
  if (charge === 0) return order;
  return {
    ...order,
    lines: [...order.lines, { name, quantity: 1, unit: charge, total: charge }],
    total: order.total + charge,
    ...(order.payNow !== undefined && { payNow: order.payNow + charge }),
  };
}
