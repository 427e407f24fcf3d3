import { sentences, type Told } from "#core/said";
import { type Chosen, type Clash, clashesOf } from "#core/offers/clashes";
import type { Mode } from "#core/mode";
import type { OfferDocument } from "#core/offers/offer";
import { methodOf, type Profile } from "#core/profiles/profile";
import type { Storefront } from "../database/rows";
import { nameWithAccount } from "./names";
import {
  isOff,
  type OfferWithRevisions,
  revisionFor,
  runsInLive,
  type StorefrontNow,
} from "../storefronts/now";

/** What an offer would be like, to see whether it can stand beside the others. */
export interface Proposed {
  offerId: string | null;
  connectionId: string;
  connectionName: Told;
  profile: Profile;
  methodId: string;
  document: Pick<OfferDocument, "currencies">;
}

/** A clash of an offer with others, and the offers that would have to give way to it. */
export interface Contest {
  clash: Clash;
  rivals: OfferWithRevisions[];
}

/** A clash, and the way out of it. */
export const clashWords = ({ says, wayOut }: Clash) => sentences([says, wayOut]);

/** Offers that are in use in a mode: each side by itself, so that what live runs does not bar what test tries. */
export const inUse = ({ offers }: Pick<StorefrontNow, "offers">, mode: Mode): OfferWithRevisions[] =>
  offers.filter((one) => !isOff(one, mode) && (mode === "test" || runsInLive(one)));

/**
 * The first clash that an offer would make in a mode on its storefront; null when there is none. What is offered there
 * is what counts: two accounts may be connected while only one serves shoppers, and one may serve in live while the
 * other is tried in test. `beside` are the offers that it would stand beside.
 */
export function clashIn(
  storefront: Storefront,
  beside: readonly OfferWithRevisions[],
  mode: Mode,
  proposed: Proposed,
): Contest | null {
  const others = beside.filter(({ offer }) => offer.id !== proposed.offerId);
  const chosen = new Map(others.map((one) => [one, chosenFrom(storefront, proposedFrom(one, mode))]));
  const mine = chosenFrom(storefront, proposed);
  const clash = clashesOf([mine, ...chosen.values()]).find(
    (one) => one.blocking && one.about.includes(mine.id),
  );
  if (!clash) return null;
  const rivals = others.filter((one) =>
    clashesOf([mine, chosen.get(one) as Chosen]).some((each) => each.code === "both-serve"),
  );
  return { clash, rivals };
}

/** An offer that is there as it stands in a mode. */
export function proposedFrom(one: OfferWithRevisions, mode: Mode): Proposed {
  const { document } = revisionFor(one, mode) ?? one.working;
  return {
    offerId: one.offer.id,
    connectionId: one.connection.id,
    connectionName: nameWithAccount(one),
    profile: one.versions[mode].profile,
    methodId: one.offer.methodId,
    document,
  };
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
