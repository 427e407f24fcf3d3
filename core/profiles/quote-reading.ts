import { said } from "../said";
import { type PlanRhythm, planRhythms, type Quote } from "./answers";
import { Fields, type Raw } from "./fields";
import type { Profile } from "./profile";

const MOST_PAYMENTS = 600;
const MOST_DAYS = 366;
const LONGEST_TEXT = 4_000;
/** Nothing is kept for longer than a day, whatever a provider says; seconds. */
const LONGEST_KEPT = 86_400;

const isWithin = (value: unknown, least: number, most: number): value is number =>
  typeof value === "number" && value >= least && value <= most;
const isRhythm = (value: unknown): value is PlanRhythm => planRhythms.some((one) => one === value);

/** Reads what `quote` makes of an answer. Throws `reading-malformed` when the profile does not fit it. */
export function quoteReading(profile: Profile, value: unknown): Quote {
  const read = new Fields(profile, (value ?? {}) as Raw, "");
  const currency = read.currencyCode();
  const { text, goodFor } = read.raw;
  const { plans = [] } = new Fields(profile, read.raw, currency).list("plans", (one) => {
    const { payments, rate, every, firstAfter } = one.raw;
    const lacks = (name: string) => one.refuse(said("response.lacks", { name: `${one.at}${name}` }));
    if (!Number.isSafeInteger(payments) || !isWithin(payments, 1, MOST_PAYMENTS)) return lacks("payments");
    // A sum that is missing is not nothing to pay.
    const sum = (name: string) => one.amount(name) || lacks(name);
    // What is told otherwise than it can be understood is not left out: a notice would say less than the law wants.
    if (every !== undefined && every !== null && !isRhythm(every)) return lacks("every");
    if (firstAfter !== undefined && firstAfter !== null && !isWithin(firstAfter, 0, MOST_DAYS))
      return lacks("firstAfter");
    return {
      payments: Number(payments),
      amount: sum("amount"),
      total: sum("total"),
      ...(typeof rate === "number" && rate >= 0 && rate < 1_000 && { rate }),
      ...(isRhythm(every) && { every }),
      ...(isWithin(firstAfter, 0, MOST_DAYS) && { firstAfter: Math.trunc(firstAfter) }),
    };
  });
  return {
    ...{ currency, plans },
    ...(typeof text === "string" && text.trim() !== "" && { text: text.trim().slice(0, LONGEST_TEXT) }),
    ...(isWithin(goodFor, 0, Infinity) && { goodFor: Math.min(goodFor, LONGEST_KEPT) }),
  };
}
