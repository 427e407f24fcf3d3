import { type Currency, isCurrency, minorDigits } from "./currencies";

/** An amount in minor units (a safe integer) with its ISO 4217 code. The one type for money everywhere. */
export interface Money {
  readonly amount: number;
  readonly currency: Currency;
}

export type MoneyProblem = "unknown-currency" | "not-a-number" | "too-many-decimals" | "too-large";

/** Thrown by the functions here; `code` says what was wrong. */
export class MoneyError extends Error {
  constructor(
    readonly code: MoneyProblem | "currency-mismatch",
    message: string,
  ) {
    super(message);
    this.name = "MoneyError";
  }
}

/** Throws `unknown-currency`, `not-a-number` (not an integer) or `too-large` (beyond safe integers). */
export function money(amount: number, currency: string): Money {
  if (!isCurrency(currency)) throw new MoneyError("unknown-currency", `${currency} is not a currency`);
  if (!Number.isInteger(amount)) throw new MoneyError("not-a-number", `${amount} is not whole minor units`);
  if (!Number.isSafeInteger(amount)) throw new MoneyError("too-large", `${amount} is too large`);
  return { amount: amount === 0 ? 0 : amount, currency };
}

/** Throws `currency-mismatch` when the two differ, `too-large` when the sum leaves the safe integers. */
export function add(a: Money, b: Money): Money {
  if (a.currency !== b.currency) {
    throw new MoneyError("currency-mismatch", `${a.currency} and ${b.currency} do not add`);
  }
  return money(a.amount + b.amount, a.currency);
}

export type Parsed = { ok: true; money: Money } | { ok: false; problem: MoneyProblem };

/**
 * Reads a decimal text as a person or a wire format writes it ("1234.5", "12,30" with `decimal: ","`).
 * No grouping marks, no exponent; more decimals than the currency has are refused rather than rounded.
 */
export function parseDecimal(text: string, currency: string, decimal: "." | "," = "."): Parsed {
  if (!isCurrency(currency)) return { ok: false, problem: "unknown-currency" };
  const normal = text.trim().replace(decimal, ".");
  const match = /^(-?)(\d{1,15})(?:\.(\d+))?$/.exec(normal);
  if (!match) return { ok: false, problem: /^-?\d{16,}/.test(normal) ? "too-large" : "not-a-number" };
  const [, sign, whole = "0", fraction = ""] = match;
  const places = minorDigits(currency);
  if (fraction.length > places) return { ok: false, problem: "too-many-decimals" };
  const amount = Number(whole + fraction.padEnd(places, "0"));
  if (!Number.isSafeInteger(amount)) return { ok: false, problem: "too-large" };
  return { ok: true, money: money(sign ? -amount : amount, currency) };
}

/** An amount as a person typed it. `unclear`: it could have been meant otherwise, so that the reading is to be said. */
export type Typed = { ok: true; money: Money; unclear: boolean } | { ok: false; problem: MoneyProblem };

/** The mark that a way of writing groups thousands with. */
const groupMark = (locale: string) =>
  new Intl.NumberFormat(locale, { useGrouping: "always" } as Intl.NumberFormatOptions)
    .formatToParts(12_345)
    .find((part) => part.type === "group")?.value ?? "";

/**
 * Reads an amount as a person types it, whichever marks they are used to: `1.000,00`, `1,000.00`, `1 000`, `1’000.00`
 * or `1000`. A single mark with three digits behind it groups thousands, unless the currency has three decimals and
 * `locale` would write them so; where `locale` groups with another mark the reading is said to be unclear.
 */
export function parseTyped(text: string, currency: string, locale: string): Typed {
  if (!isCurrency(currency)) return { ok: false, problem: "unknown-currency" };
  const bare = text.trim().replace(/(?<=\d)[\s’'\u00a0\u202f](?=\d{3}(?!\d))/g, "");
  const marks = [...bare].filter((one) => one === "." || one === ",");
  const last = marks.at(-1);
  const plain = (decimal: "." | ",", unclear = false): Typed => {
    const group = decimal === "." ? "," : ".";
    const [whole = "", ...rest] = bare.split(decimal);
    if (whole.includes(group) && !/^-?\d{1,3}(?:[.,]\d{3})+$/.test(whole))
      return { ok: false, problem: "not-a-number" };
    const read = parseDecimal([whole.replaceAll(group, ""), ...rest].join("."), currency);
    return read.ok ? { ...read, unclear } : read;
  };
  if (last !== "." && last !== ",") return plain(".");
  const other = last === "." ? "," : ".";
  if (marks.includes(other)) return plain(last);
  const behind = bare.length - bare.lastIndexOf(last) - 1;
  if (marks.length > 1) return plain(other);
  if (behind !== 3) return plain(last);
  const groups = groupMark(locale) === last;
  if (minorDigits(currency) === 3 && !groups) return plain(last, true);
  return plain(other, !groups);
}

/** Plain decimal text with a point and exactly the currency's decimals: the inverse of `parseDecimal`. */
export function decimalText({ amount, currency }: Money): string {
  const places = minorDigits(currency);
  const digits = String(Math.abs(amount)).padStart(places + 1, "0");
  const sign = amount < 0 ? "-" : "";
  if (places === 0) return sign + digits;
  return `${sign}${digits.slice(0, -places)}.${digits.slice(-places)}`;
}

// Making a formatter costs a hundred times more than using it.
const formatters = new Map<string, Intl.NumberFormat>();

function formatterOf(
  locale: string,
  currency: Currency,
  signDisplay: "auto" | "exceptZero" = "auto",
): Intl.NumberFormat {
  const key = `${locale} ${currency} ${signDisplay}`;
  const known = formatters.get(key);
  if (known) return known;
  const places = minorDigits(currency);
  const made = new Intl.NumberFormat(locale, {
    style: "currency",
    currency,
    signDisplay,
    minimumFractionDigits: places,
    maximumFractionDigits: places,
  });
  if (formatters.size > 500) formatters.clear();
  formatters.set(key, made);
  return made;
}

/** For people: the locale's writing with the currency's symbol or code. */
export const moneyText = (value: Money, locale: string): string =>
  written(value, formatterOf(locale, value.currency));

/** The same with its sign, for what is added or taken off. */
export const signedMoneyText = (value: Money, locale: string): string =>
  written(value, formatterOf(locale, value.currency, "exceptZero"));

// The wide sign of some locales is in no font of ours; the plain one means the same.
const written = (value: Money, formatter: Intl.NumberFormat): string =>
  formatter.format(decimalText(value) as Intl.StringNumericLiteral).replace("\uffe5", "¥");
