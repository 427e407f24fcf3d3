import { type Said, said } from "../said";
import type { CapturePolicy } from "../offers/offer";
import type { AuthenticationPolicy } from "../profiles/profile-types";
import { type Operating, type Profile, type ProfileInstrument, ridesAlong } from "../profiles/profile";
import { type CaseId, rehearsalCases } from "./cases";
import type { Need, RehearsalCase } from "./script";

/** What of a profile decides how its cases are played. */
export type Playing = Pick<Profile, "instruments" | "ridesOn" | "plays" | "browser" | "methods"> & Operating;

/**
 * The profile's test instrument that plays a case; where nobody is asked apart, any shopper who goes on does. A device
 * asks before there is a payment, so nothing of it can wait for an answer.
 */
export function instrumentFor(profile: Playing, script: RehearsalCase): ProfileInstrument | undefined {
  const { instruments } = profile;
  const named = instruments.find((one) => one.case === script.instrument);
  if (named || script.instrument !== "challenge" || ridesAlong(profile)) return named;
  return instruments.find((one) => one.case === "approved" && one.answer);
}

/** Whether the provider's sandbox can play a case: it has the instrument, and what is to happen beside it. */
function isPlayable(profile: Playing, script: RehearsalCase): boolean {
  const instrument = instrumentFor(profile, script);
  if (!instrument) return false;
  const rides = ridesAlong(profile);
  if (script.checks.includes("plan-as-told") && !profile.operations.quote) return false;
  const pressed = profile.operations.actInSession && profile.methods.some(({ button }) => button);
  if ((script.button || script.shop) && !pressed) return false;
  if (script.repeats && !profile.methods.some(({ keeps, repeats }) => keeps && repeats)) return false;
  if (script.repeats === "forgotten" && !profile.operations.forget) return false;
  if (script.keeps && !profile.methods.some(({ keeps }) => keeps)) return false;
  // A device's token holds for one amount; and its payment's answer is that of the card it rides on.
  if (script.fault === "other-amount" && rides) return false;
  // Where a shopper acts after the payment was asked for, there is no message before the answer.
  if (script.fault === "hold-answer" && instrument.answer && !rides) return false;
  return script.steps.every((step) => {
    if (step.do === "confirm") return profile.operations.confirm !== undefined;
    if (step.do === "play") return profile.plays?.[step.what] !== undefined;
    if (step.do !== "answer" || step.as !== "again") return true;
    return profile.browser.kind === "redirect" && profile.browser.retries === true;
  });
}

/** The cases that a profile's sandbox can play. */
export const playableCases = (profile: Playing): ReadonlySet<CaseId> =>
  new Set(rehearsalCases.filter((one) => isPlayable(profile, one)).map((one) => one.id));

/** What an offer uses, as far as it decides which cases must be shown. */
export interface Uses {
  /** Whether its payments are made by a call of their own. */
  confirm: boolean;
  capture: CapturePolicy;
  authentication: readonly AuthenticationPolicy[];
  void: boolean;
  refund: boolean;
  partialRefund: boolean;
  partialCapture: boolean;
  webhooks: boolean;
  /** How many currencies it takes. */
  currencies: number;
  /** Whether it tells of instalments on the shop's own pages. */
  notices: boolean;
  /** Whether it stands as a button on the shop's own pages. */
  button: boolean;
  /** Whether shoppers may keep what they pay with. */
  keeps: boolean;
  /** Whether shoppers can subscribe with it. */
  repeats: boolean;
  /** Cases that the provider's sandbox can play. */
  playable: ReadonlySet<CaseId>;
}

/** Whether a case is required before live, and what about the offer decides it; null where every offer needs it. */
export interface Requirement {
  required: boolean;
  because: Said | null;
}

/** Which cases an offer needs, as it follows from what it uses. */
export function requiredCases(uses: Uses): ({ id: CaseId } & Requirement)[] {
  return rehearsalCases.map(({ id, needs }) => {
    const need = requirement(needs, uses);
    // What the offer does not use says more than what a sandbox cannot play.
    return need.required && !uses.playable.has(id)
      ? { id, required: false, because: said("cases.not-playable") }
      : { id, ...need };
  });
}

const used: Record<Need, { holds: (uses: Uses) => boolean; yes: Said; no: Said }> = {
  confirm: {
    holds: (uses) => uses.confirm,
    yes: said("cases.payments-are-confirmed"),
    no: said("cases.nothing-is-confirmed"),
  },
  later: {
    holds: (uses) => uses.capture === "later",
    yes: said("cases.offer-captures-later"),
    no: said("cases.offer-captures-once"),
  },
  void: {
    holds: (uses) => uses.void,
    yes: said("cases.payments-can-voided"),
    no: said("cases.method-cannot-void"),
  },
  refund: {
    holds: (uses) => uses.refund,
    yes: said("cases.payments-can-refunded"),
    no: said("cases.method-cannot-refund"),
  },
  "partial-refund": {
    holds: (uses) => uses.partialRefund,
    yes: said("cases.payments-can-refunded-part"),
    no: said("cases.method-cannot-refund-part"),
  },
  "partial-capture": {
    holds: (uses) => uses.partialCapture,
    yes: said("cases.payments-can-captured-part"),
    no: said("cases.method-cannot-capture-part"),
  },
  authentication: {
    holds: (uses) => uses.authentication.length > 0,
    yes: said("cases.issuers-may-ask-authentication"),
    no: said("cases.issuers-never-ask"),
  },
  webhooks: {
    holds: (uses) => uses.webhooks,
    yes: said("cases.connection-listens-webhooks"),
    no: said("cases.connection-no-webhook"),
  },
  currencies: {
    holds: (uses) => uses.currencies > 1,
    yes: said("cases.several-currencies"),
    no: said("cases.one-currency"),
  },
  keeps: {
    holds: (uses) => uses.keeps,
    yes: said("cases.shoppers-may-keep"),
    no: said("cases.nothing-is-kept"),
  },
  repeats: {
    holds: (uses) => uses.repeats,
    yes: said("cases.shoppers-may-subscribe"),
    no: said("cases.nothing-repeats"),
  },
  button: {
    holds: (uses) => uses.button,
    yes: said("cases.stands-as-button"),
    no: said("cases.no-button"),
  },
  notices: {
    holds: (uses) => uses.notices,
    yes: said("cases.instalments-are-told"),
    no: said("cases.no-instalments-told"),
  },
};

function requirement(needs: readonly Need[], uses: Uses): Requirement {
  const missing = needs.find((need) => !used[need].holds(uses));
  if (missing) return { required: false, because: used[missing].no };
  const last = needs.at(-1);
  return { required: true, because: last ? used[last].yes : null };
}
