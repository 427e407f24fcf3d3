import { type Said, said, verbatim } from "../said";
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
      says: Said;
      /** The row and column whose form it has, where there is one. */
      belongs?: { field: string; mode: Mode };
    };

export type FormProblem =
  "empty" | "too-long" | "other-mode" | "other-field" | "look-alike" | "malformed" | "stands-elsewhere";

/**
 * Checks a pasted key by the profile's patterns: stray spaces are taken off and said; a key of the other
 * mode, of another field, or a look-alike is named.
 */
export function checkForm(profile: Profile, field: ProfileField, mode: Mode, pasted: string): FormCheck {
  const value = pasted.replace(/[\s\u200b\u200e\u200f\u00a0\ufeff]+/g, "");
  const trimmed = value !== pasted;
  const no = (code: FormProblem, says: Said, belongs?: { field: string; mode: Mode }): FormCheck => ({
    ok: false,
    value,
    trimmed,
    code,
    says,
    ...(belongs && { belongs }),
  });
  if (value === "") return no("empty", said("form.nothing-pasted"));
  if (value.length > 500) return no("too-long", said("form.too-long", { length: value.length }));
  if (fits(field.pattern[mode], value)) return { ok: true, value, trimmed };
  for (const candidate of [field, ...profile.fields.filter((one) => one !== field)]) {
    for (const side of modes) {
      if (!fits(candidate.pattern[side], value)) continue;
      const label = candidate.label.toLowerCase();
      const belongs = { field: candidate.id, mode: side };
      if (candidate === field) {
        return no("other-mode", said("form.other-mode", { belongs: side, field: label, mode }), belongs);
      }
      const says = said("form.other-field", { belongs: side, field: label, here: field.label.toLowerCase() });
      return no("other-field", says, belongs);
    }
  }
  const alike = field.lookalikes.find((one) => fits(one.pattern, value));
  if (alike) return no("look-alike", verbatim(alike.says));
  return no(
    "malformed",
    said("form.malformed", { field: field.label.toLowerCase(), provider: profile.name }),
  );
}
