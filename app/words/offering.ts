import decide from "./en/decide.json";
import offer from "./en/offer.json";
import reading from "./en/reading.json";
import statement from "./en/statement.json";
import { type Speaker, speaker } from "./speak";

/** What the sheet of an offer says while it is edited: the part of the catalogue that its page brings along. */
export const offering = (locale: string): Speaker => {
  const speaking = known.get(locale) ?? speaker("en", { decide, offer, reading, statement }, locale);
  known.set(locale, speaking);
  return speaking;
};

const known = new Map<string, Speaker>();
