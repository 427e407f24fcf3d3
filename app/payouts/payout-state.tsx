import type { PayoutState as State } from "#core/profiles/profile";
import { Says } from "../parts/marks";
import { t } from "../words/pages/payouts";

export interface PayoutStands {
  state: State;
  /** The provider's word for its state that no profile explains. */
  word: string | null;
  isRead: boolean;
  amount: number;
  sum: number;
}

/** Where a payout stands, as people say it. */
export function PayoutState({ payout: { state, word, isRead, amount, sum } }: { payout: PayoutStands }) {
  if (word !== null) return <Says meaning="waits">{t("word-which-no-profile-explains", { word })}</Says>;
  if (state === "announced") return <Says meaning="none">{t("announced")}</Says>;
  if (state === "failed") return <Says meaning="wrong">{t("came-back")}</Says>;
  if (!isRead) return <Says meaning="waits">{t("entries-still-come-in")}</Says>;
  return amount === sum ? (
    <Says meaning="proven">{t("paid-adds-up")}</Says>
  ) : (
    <Says meaning="wrong">{t("paid-does-not-add-up")}</Says>
  );
}
