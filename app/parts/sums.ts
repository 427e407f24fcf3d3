import { type Money, moneyText } from "#core/money/money";

/** What amounts come to, a sum for each currency. */
export function sumsText(amounts: readonly Money[], locale: string): string {
  const sums = new Map<string, number>();
  for (const { currency, amount } of amounts) sums.set(currency, (sums.get(currency) ?? 0) + amount);
  return [...sums].map(([currency, amount]) => moneyText({ amount, currency }, locale)).join(" + ");
}
