import type en from "../words/checkout/en.json";

/** The hosted checkout's words in one language: the page brings along those of its shopper alone. */
export type CheckoutWords = typeof en;

const read = new Map<string, CheckoutWords>();

/** The words that a page brings along as one text. */
export function wordsIn(text: string): CheckoutWords {
  const words = read.get(text) ?? (JSON.parse(text) as CheckoutWords);
  read.set(text, words);
  return words;
}

const fromTheRight: ReadonlySet<string> = new Set(["ar", "fa", "he", "ur"]);

/** In which direction a language is written. */
export const directionOf = (language: string): "ltr" | "rtl" =>
  fromTheRight.has(language.split("-")[0] ?? "") ? "rtl" : "ltr";
