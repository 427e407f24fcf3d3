import { isCurrency } from "#core/money/currencies";
import { decimalText } from "#core/money/money";

/** The particulars of an entry in one line. An amount stands as its currency is written. */
export function detailWords(detail: Record<string, unknown>): string {
  const { amount, currency, ...rest } = detail;
  const isSum = Number.isSafeInteger(amount) && typeof currency === "string" && isCurrency(currency);
  const told = isSum
    ? { ...rest, amount: `${decimalText({ amount: amount as number, currency })} ${currency}` }
    : detail;
  return Object.entries(told)
    .map(
      ([key, value]) =>
        `${key}: ${typeof value === "object" && value !== null ? JSON.stringify(value) : String(value)}`,
    )
    .join(", ");
}
