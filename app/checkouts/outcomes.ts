import type { Outcome } from "#core/offers/afterwards";
import type { CheckoutWords } from "./words";

/** What shoppers are told after an outcome anyway: in a heading, and what it means for them. */
export const outcomeWords = (outcome: Outcome, words: CheckoutWords): { title: string; says: string } =>
  ({
    paid: { title: words.paid, says: words.paidSays },
    waiting: { title: words.waiting, says: words.waitingSays },
    cancelled: { title: words.cancelled, says: words.cancelledSays },
    declined: { title: words.howToPay, says: words.declined.unspecified },
    failed: { title: words.howToPay, says: words.failed },
    expired: { title: words.expired, says: words.expiredSays },
    refunded: { title: words.moneyBack, says: words.moneyBackSays },
  })[outcome];
