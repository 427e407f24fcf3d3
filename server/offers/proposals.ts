import { proposeStatement } from "#core/offers/defaults";
import type { OfferDocument, OfferTerms } from "#core/offers/offer";
import type { PaymentState } from "#core/payments/facts";
import { occurringStates, proposeStages, type StageMap } from "#core/payments/stages";
import { type Profile, type ProfileMethod, ridesAlong, sendsStatement } from "#core/profiles/profile";
import type { StorefrontNow } from "../storefronts/now";

/**
 * What a new offer can be given to begin with: a statement text where one is sent, and the stages of another offer, or
 * such as the names resemble.
 */
export function proposalsFor(
  { offers }: StorefrontNow,
  profile: Profile,
  method: ProfileMethod,
  terms: OfferTerms,
): Partial<Pick<OfferDocument, "statement" | "stages">> {
  const { refund = false, partialRefund = false } = method;
  const states = occurringStates(terms.capture[0] ?? "at-once", { refund, partialRefund });
  const others = Object.assign({}, ...offers.map((one) => one.working.document.stages)) as StageMap;
  const known = Object.entries(others).filter(
    ([state, stage]) => states.includes(state as PaymentState) && terms.stages.includes(stage),
  );
  return {
    ...((sendsStatement(profile) || ridesAlong(profile)) && {
      statement: proposeStatement(terms.storefrontName, terms.statement),
    }),
    stages: { ...proposeStages(states, terms.stages), ...Object.fromEntries(known) },
  };
}
