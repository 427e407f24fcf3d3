import type { DisputePage, DisputeReading } from "./answers";
import { type Fields, pageOf } from "./fields";
import type { Profile } from "./profile";

/** One dispute as the provider tells it, within an amount's currency. Throws `reading-malformed`. */
export const disputeReading = (one: Fields, currency = one.currency): DisputeReading => ({
  id: one.text("id"),
  stage: typeof one.raw.stage === "number" && Number.isSafeInteger(one.raw.stage) ? one.raw.stage : 1,
  amount: one.amount("amount", currency),
  state: one.text("state"),
  ...one.maybe("reason"),
  ...one.instant("due"),
});

/** Reads a page of disputes as `listDisputes` gives it. Throws `reading-malformed` when the profile does not fit it. */
export function disputesReading(profile: Profile, value: unknown): DisputePage {
  const page = pageOf(profile, value, "disputes");
  const { disputes = [] } = page.list("disputes", (one) => {
    const currency = one.currencyCode();
    return { ...one.maybe("ref"), ...one.maybe("reference"), currency, ...disputeReading(one, currency) };
  });
  return { disputes, ...page.maybe("next") };
}
