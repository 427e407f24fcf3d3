import type { CheckoutWords } from "./words";

/** In which words a shopper agrees that what they pay with is kept: a card in the provider's frame, or what they go to by themselves. */
export const keepWords = (words: CheckoutWords, pays: string | null): { label: string; says: string } =>
  pays === "frame"
    ? { label: words.keepCard, says: words.keepSays }
    : { label: words.keepOther, says: words.keepOtherSays };
