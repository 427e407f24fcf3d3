import ar from "../words/checkout/ar.json";
import da from "../words/checkout/da.json";
import de from "../words/checkout/de.json";
import en from "../words/checkout/en.json";
import es from "../words/checkout/es.json";
import fr from "../words/checkout/fr.json";
import it from "../words/checkout/it.json";
import ja from "../words/checkout/ja.json";
import nl from "../words/checkout/nl.json";
import pl from "../words/checkout/pl.json";
import type { CheckoutWords } from "./words";

export const spokenHere: Readonly<Record<string, CheckoutWords>> = { ar, da, de, en, es, fr, it, ja, nl, pl };

/** The hosted checkout's words in the shopper's language; English where it is not known. */
export function wordsFor(language: string): CheckoutWords {
  const base = language.split("-")[0] ?? "";
  return (Object.hasOwn(spokenHere, base) ? spokenHere[base] : undefined) ?? en;
}

const texts = new Map<CheckoutWords, string>();

/** The same as one text: a page that brings a hundred words with it is written faster so (read by `wordsIn`). */
export function wordsTextFor(language: string): string {
  const words = wordsFor(language);
  const text = texts.get(words) ?? JSON.stringify(words);
  texts.set(words, text);
  return text;
}
