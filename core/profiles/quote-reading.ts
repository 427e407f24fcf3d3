import { said } from "../said";
import type { Quote } from "./answers";
import { Fields, type Raw } from "./fields";
import type { Profile } from "./profile";

const MOST_PAYMENTS = 600;

/** Reads what `quote` makes of an answer. Throws `reading-malformed` when the profile does not fit it. */
export function quoteReading(profile: Profile, value: unknown): Quote {
  const read = new Fields(profile, (value ?? {}) as Raw, "");
  const currency = read.currencyCode();
  const { plans = [] } = new Fields(profile, read.raw, currency).list("plans", (one) => {
    const { payments, rate } = one.raw;
    if (!Number.isSafeInteger(payments) || Number(payments) < 1 || Number(payments) > MOST_PAYMENTS)
      return one.refuse(said("response.lacks", { name: `${one.at}payments` }));
    return {
      payments: Number(payments),
      amount: one.amount("amount"),
      total: one.amount("total"),
      ...(typeof rate === "number" && rate >= 0 && rate < 1_000 && { rate }),
    };
  });
  return { currency, plans };
}
