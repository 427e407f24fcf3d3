import { said } from "../said";
import { type EntryReading, LONGEST_FILE, type PayoutEntries, type PayoutPage } from "./answers";
import { type Fields, pageOf } from "./fields";
import type { Profile } from "./profile";

/** Reads a page of payouts as `listPayouts` gives it. Throws `reading-malformed` when the profile does not fit it. */
export function payoutsReading(profile: Profile, value: unknown): PayoutPage {
  const page = pageOf(profile, value, "payouts");
  const { payouts = [] } = page.list("payouts", (one) => {
    const currency = one.currencyCode();
    return {
      id: one.text("id"),
      currency,
      amount: one.signed("amount", currency),
      state: one.text("state"),
      at: one.instant("at").at ?? one.refuse(said("response.lacks", { name: `${one.at}at` })),
      ...one.instant("arrives"),
    };
  });
  return { payouts, ...page.maybe("next") };
}

/** Reads a page of what a payout is made of, as `readPayout` gives it. Throws `reading-malformed`. */
export function entriesReading(profile: Profile, value: unknown): PayoutEntries {
  const page = pageOf(profile, value, "entries");
  return { entries: page.list("entries", entry, LONGEST_FILE).entries ?? [], ...page.maybe("next") };
}

function entry(one: Fields): EntryReading {
  const currency = one.currencyCode();
  const settled = one.raw.settled === undefined ? currency : one.currencyCode("settled");
  return {
    id: one.text("id"),
    kind: one.text("kind"),
    ...one.maybe("ref"),
    ...one.maybe("reference"),
    currency,
    amount: one.signed("amount", currency),
    settled,
    fee: one.raw.fee === undefined ? 0 : one.signed("fee", settled),
    net: one.signed("net", settled),
    ...one.instant("at"),
  };
}
