import { type Said, said } from "../said";
import { RE2JS, RE2JSException } from "re2js";

const compiled = new Map<string, RE2JS>();
const MOST_COMPILED = 2_000;
const LONGEST = 500;

/**
 * A profile's regular expression, in the syntax of RE2: its matching takes time in proportion to the text, whatever the
 * pattern, so that no document can make a process run without end. Throws an `RE2JSException`.
 */
function pattern(source: string): RE2JS {
  const known = compiled.get(source);
  if (known) return known;
  const made = RE2JS.compile(source);
  if (compiled.size >= MOST_COMPILED) compiled.clear();
  compiled.set(source, made);
  return made;
}

/** Whether a profile's pattern is found in a text. One that is not taken any more fits nothing. */
export const fits = (source: string, text: string): boolean =>
  patternRefused(source) === undefined && pattern(source).matcher(text).find();

/** Why a pattern must not be in a profile, or undefined when it may. */
export function patternRefused(source: string): Said | undefined {
  if (source.length > LONGEST) return said("patterns.regular-expression-more-than", { most: LONGEST });
  try {
    pattern(source);
    return undefined;
  } catch (error) {
    if (error instanceof RE2JSException)
      return said("patterns.not-regular-expression-re2", { message: error.message });
    throw error;
  }
}
