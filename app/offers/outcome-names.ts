import type { Outcome } from "#core/offers/afterwards";

/** What each outcome is called where the shop's own words for it are written. */
export const outcomeNames: Record<Outcome, string> = {
  paid: "When it is paid",
  waiting: "While an answer is waited for",
  cancelled: "When the shopper turned back",
  declined: "When it is declined",
  failed: "When it failed on the way",
  expired: "When the time is over",
  refunded: "When money goes back",
};
