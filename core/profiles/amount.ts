import { minorDigits } from "../money/currencies";
import { said } from "../said";
import { ProfileError } from "./expressions";
import type { Profile } from "./profile";

/** How a profile writes amounts: in minor units or as decimal text, and with how many decimals of which currency. */
export type Writing = Pick<Profile, "amounts" | "exponents">;

/** Decimals that the provider counts a currency with. */
const decimalsOf = ({ exponents = {} }: Writing, currency: string): number =>
  (Object.hasOwn(exponents, currency) ? exponents[currency] : undefined) ?? minorDigits(currency);

/**
 * Minor units from what a provider wrote: its own minor units, or decimal text of the currency. Null: neither, or finer than
 * the currency is.
 */
export function amountOf(value: unknown, currency: string, writing: Writing): number | null {
  const decimals = decimalsOf(writing, currency);
  const digits = writing.amounts === "minor" ? minorText(value, decimals) : decimalOf(value);
  if (digits === null) return null;
  const [whole = "0", fraction = ""] = digits.split(".");
  const places = minorDigits(currency);
  if (fraction.slice(places).replace(/0+$/, "") !== "") return null;
  const amount = Number(whole + fraction.slice(0, places).padEnd(places, "0"));
  return Number.isSafeInteger(amount) ? amount : null;
}

/** Minor units of a provider as decimal text. */
function minorText(value: unknown, decimals: number): string | null {
  const text = typeof value === "number" ? (Number.isSafeInteger(value) ? String(value) : "") : value;
  if (typeof text !== "string" || !/^\d{1,16}$/.test(text)) return null;
  const padded = text.padStart(decimals + 1, "0");
  return decimals === 0 ? padded : `${padded.slice(0, -decimals)}.${padded.slice(-decimals)}`;
}

function decimalOf(value: unknown): string | null {
  const text = typeof value === "number" ? String(value) : value;
  return typeof text === "string" && /^\d{1,15}(\.\d{1,12})?$/.test(text.trim()) ? text.trim() : null;
}

/** As `amountOf`, of something that may be below nothing. */
export function signedAmountOf(value: unknown, currency: string, writing: Writing): number | null {
  const below = typeof value === "string" ? value.startsWith("-") : typeof value === "number" && value < 0;
  const bare = !below ? value : typeof value === "string" ? value.slice(1) : -(value as number);
  const amount = amountOf(bare, currency, writing);
  return amount === null || !below || amount === 0 ? amount : -amount;
}

/**
 * Minor units as a profile writes them. Throws `field-missing` where the provider counts more coarsely than the sum is: it
 * would be asked for another.
 */
export function writtenAmount(amount: number, currency: string, writing: Writing): number | string {
  const [decimals, places] = [decimalsOf(writing, currency), minorDigits(currency)];
  const coarser = 10 ** Math.max(0, places - decimals);
  if (amount % coarser !== 0)
    throw new ProfileError("field-missing", said("request.finer-than-counted", { currency, decimals }));
  const theirs = (amount / coarser) * 10 ** Math.max(0, decimals - places);
  if (writing.amounts === "minor") return theirs;
  const digits = String(Math.abs(theirs)).padStart(decimals + 1, "0");
  const sign = theirs < 0 ? "-" : "";
  return decimals === 0 ? sign + digits : `${sign}${digits.slice(0, -decimals)}.${digits.slice(-decimals)}`;
}
