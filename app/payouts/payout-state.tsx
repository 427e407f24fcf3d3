import type { PayoutState as State } from "#core/profiles/profile";
import { Says } from "../parts/marks";

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
  if (word !== null) return <Says meaning="waits">“{word}”, which no profile explains</Says>;
  if (state === "announced") return <Says meaning="none">announced</Says>;
  if (state === "failed") return <Says meaning="wrong">came back</Says>;
  if (!isRead) return <Says meaning="waits">entries still come in</Says>;
  return amount === sum ? (
    <Says meaning="proven">paid, adds up</Says>
  ) : (
    <Says meaning="wrong">paid, does not add up</Says>
  );
}
