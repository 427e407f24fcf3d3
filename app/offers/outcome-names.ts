import type { Outcome } from "#core/offers/afterwards";
import { t } from "../words/pages/offers";

/** What each outcome is called where the shop's own words for it are written. */
export const outcomeNames: Record<Outcome, string> = {
  paid: t("when-it-is-paid"),
  waiting: t("while-an-answer-is-waited"),
  cancelled: t("when-the-shopper-turned-back"),
  declined: t("when-it-is-declined"),
  failed: t("when-it-failed-on-the"),
  expired: t("when-the-time-is-over"),
  refunded: t("when-money-goes-back"),
};
