import { parseDecimal } from "../money/money";

/** Minor units from what a provider wrote: whole minor units, or decimal text of the currency. Null: neither. */
export function amountOf(value: unknown, currency: string, written: "minor" | "decimal"): number | null {
  if (written === "decimal") {
    if (value === 0) return 0;
    if (typeof value !== "string" && typeof value !== "number") return null;
    const parsed = parseDecimal(String(value), currency);
    return parsed.ok && parsed.money.amount >= 0 ? parsed.money.amount : null;
  }
  const minor = typeof value === "string" && /^\d{1,16}$/.test(value) ? Number(value) : value;
  return Number.isSafeInteger(minor) && (minor as number) >= 0 ? (minor as number) : null;
}

/** As `amountOf`, of something that may be below nothing. */
export function signedAmountOf(
  value: unknown,
  currency: string,
  written: "minor" | "decimal",
): number | null {
  const below = typeof value === "string" ? value.startsWith("-") : typeof value === "number" && value < 0;
  const bare = !below ? value : typeof value === "string" ? value.slice(1) : -(value as number);
  const amount = amountOf(bare, currency, written);
  return amount === null || !below || amount === 0 ? amount : -amount;
}
