import { type Chosen, type Clash, clashesOf } from "#core/plan/clashes";
import { type OfferDocument, wordingFor } from "#core/offers/offer";
import { methodOf, type Profile } from "#core/profiles/profile";
import type { Storefront } from "../storefronts/storefronts";
import type { OfferWithRevisions } from "./offers";

/** What an offer would be like, to see whether it can stand beside the others. */
export interface Proposed {
  offerId: string | null;
  connectionId: string;
  connectionName: string;
  profile: Profile;
  methodId: string;
  document: Pick<OfferDocument, "currencies">;
}

/**
 * The first clash that an offer would make on its storefront with what is offered there and not switched off; null
 * when there is none. What is offered is what counts: two accounts may be connected while only one serves shoppers.
 */
export function clashWith(
  storefront: Storefront,
  all: readonly OfferWithRevisions[],
  proposed: Proposed,
): Clash | null {
  const others = all.filter(({ offer }) => !offer.off && offer.id !== proposed.offerId);
  const chosen = others.map(({ connection, profile, offer, working }): Chosen =>
    chosenFrom(storefront, {
      offerId: offer.id,
      connectionId: connection.id,
      connectionName: `“${wordingFor(working.document, "en").label}” of ${connection.name}`,
      profile,
      methodId: offer.methodId,
      document: working.document,
    }),
  );
  const mine = chosenFrom(storefront, proposed);
  return (
    clashesOf([mine, ...chosen]).find((clash) => clash.blocking && clash.about.includes(mine.id)) ?? null
  );
}

function chosenFrom(
  storefront: Storefront,
  { connectionId, connectionName, profile, methodId, document }: Proposed,
): Chosen {
  const method = methodOf(profile, methodId);
  const offered = document.currencies.length > 0 ? document.currencies : storefront.currencies;
  return {
    id: connectionId,
    name: connectionName,
    profile,
    kind: method?.kind ?? "card",
    carries: method?.carries ?? [],
    takes: method?.takes ?? [],
    currencies: offered.filter((currency) => method?.currencies.includes(currency)),
  };
}
