import en from "./en";
import { type Speaker, speaker } from "./speak";

/** What administrators are told, in their language: loaders and actions hand on sentences, pages show them. */
export const { say, tell, spoken } = speaker("en", en);

const known = new Map<string, Speaker>();

/** The same with amounts and numbers in a storefront's way of writing. */
export function spokenIn(locale: string): Speaker {
  const speaking = known.get(locale) ?? speaker("en", en, locale);
  known.set(locale, speaking);
  return speaking;
}
