import type { CapturePolicy } from "../offers/offer";
import type { Statement } from "../payments/facts";
import { fold } from "../payments/fold";
import type { Profile, ProfileInstrument } from "../profiles/profile";
import { rehearsalCases } from "./cases";
import { expectedState } from "./judge";
import type { RehearsalCase } from "./script";

/** A purchase that a person walked through the test checkout, as far as it tells which case it was. */
export interface Walk {
  statements: readonly Statement[];
  /** How it was to be captured. */
  capture: CapturePolicy;
  /** What was paid with, as the provider told it. */
  instrument: string | null;
  profile: Pick<Profile, "instruments" | "browser">;
}

/** Reasons of a decline that have a case of their own. */
const reasonCases: ReadonlySet<string> = new Set(["insufficient-funds", "expired-card", "wrong-code"]);

/**
 * The case that a walked purchase shows: the one whose instrument was used, whose steps were gone and whose end was
 * reached. Null while it is under way, or when it shows none. Whether the case holds is judged from what was observed, as
 * when it is played.
 */
export function walkedCase(walk: Walk): RehearsalCase | null {
  const { state, refusal } = fold(walk.statements.map((statement) => ({ statement })));
  // A provider's own page asks every shopper; only beside a card frame does being asked mean the issuer's challenge.
  const challenged =
    walk.profile.browser.kind === "frame" &&
    walk.statements.some((one) => one.object === "report" && one.challenge !== undefined);
  const shown = rehearsalCases.find((script) => {
    // What is done at Zahlung's own rim, or takes several payments, no walk shows.
    if (script.eachCurrency || script.repeats || script.group === "messages") return false;
    if (script.capture !== "offer" && script.capture !== walk.capture) return false;
    if ((script.instrument === "challenge") !== challenged) return false;
    if (state === "declined" && reasonCases.has(script.instrument) && refusal?.reason !== script.instrument)
      return false;
    return expectedState(script, walk.capture) === state && usedInstrument(walk, script.instrument);
  });
  return shown ?? null;
}

/** Whether the purchase was paid with the profile's test instrument for a case, as far as that can be told. */
function usedInstrument({ instrument, profile }: Walk, caseOf: string): boolean {
  const wanted = profile.instruments.filter((one) => one.case === caseOf);
  return wanted.some((one) => {
    const last = lastFour(one);
    // Where nothing with digits is typed, as with most wallets, the end that was reached is what tells them apart.
    return last === null || instrument?.endsWith(last) === true;
  });
}

/** The last four digits of the number that is typed to use an instrument; null where none is. */
function lastFour({ type }: ProfileInstrument): string | null {
  for (const { value } of type) {
    const digits = value.replace(/\D/g, "");
    if (digits.length >= 12) return digits.slice(-4);
  }
  return null;
}
