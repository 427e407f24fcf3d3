import { modes, type Mode } from "../mode";
import { fits } from "../profiles/patterns";
import type { Profile, ProfileField } from "../profiles/profile";

/** What a pasted value's form alone tells, before any call. `value` is trimmed. */
export type FormCheck =
  | { ok: true; value: string; trimmed: boolean }
  | {
      ok: false;
      value: string;
      trimmed: boolean;
      code: FormProblem;
      says: string;
      /** The row and column whose form it has, where there is one. */
      belongs?: { field: string; mode: Mode };
    };

export type FormProblem =
  "empty" | "too-long" | "other-mode" | "other-field" | "look-alike" | "malformed" | "stands-elsewhere";

const modeName: Record<Mode, string> = { test: "sandbox", live: "live" };
const indefinite = (words: string) => (/^[aeiou]/i.test(words) ? `an ${words}` : `a ${words}`);

/**
 * Checks a pasted key by the profile's patterns: stray spaces are taken off and said; a key of the other
 * mode, of another field, or a look-alike is named.
 */
export function checkForm(profile: Profile, field: ProfileField, mode: Mode, pasted: string): FormCheck {
  const value = pasted.replace(/[\s\u200b\u200e\u200f\u00a0\ufeff]+/g, "");
  const trimmed = value !== pasted;
  const no = (code: FormProblem, says: string, belongs?: { field: string; mode: Mode }): FormCheck => ({
    ok: false,
    value,
    trimmed,
    code,
    says,
    ...(belongs && { belongs }),
  });
  if (value === "") return no("empty", "Nothing was pasted.");
  if (value.length > 500) return no("too-long", `That is ${value.length} characters; no key is that long.`);
  if (fits(field.pattern[mode], value)) return { ok: true, value, trimmed };
  for (const candidate of [field, ...profile.fields.filter((one) => one !== field)]) {
    for (const side of modes) {
      if (!fits(candidate.pattern[side], value)) continue;
      const what = `${modeName[side]} ${candidate.label.toLowerCase()}`;
      const belongs = { field: candidate.id, mode: side };
      if (candidate === field) {
        return no("other-mode", `This is ${indefinite(what)}, and this is the ${mode} column.`, belongs);
      }
      const says = `This is ${indefinite(what)}; the ${field.label.toLowerCase()} goes here.`;
      return no("other-field", says, belongs);
    }
  }
  const alike = field.lookalikes.find((one) => fits(one.pattern, value));
  if (alike) return no("look-alike", alike.says);
  return no(
    "malformed",
    `This does not look like ${indefinite(field.label.toLowerCase())} of ${profile.name}.`,
  );
}
