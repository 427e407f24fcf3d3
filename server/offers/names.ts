import { type Said, said } from "#core/said";
import { offerLabel } from "#core/offers/offer";
import type { AnyOffer, OfferWithRevisions, StorefrontNow } from "../storefronts/now";

/** What people call an offer, wherever it is named: its label, or its method where it has none yet. */
export const nameOf = ({ working, offer }: Pick<AnyOffer, "working" | "offer">): string =>
  offerLabel(working.document) || offer.methodId;

/** What people call each offer of a storefront, by its id. */
export const offerNames = ({ inOrder }: Pick<StorefrontNow, "inOrder">): Map<string, string> =>
  new Map(inOrder.map((one) => [one.offer.id, nameOf(one)]));

/** The same with whose it is. */
export const nameWithAccount = (one: OfferWithRevisions): Said =>
  said("names.offer-of-account", { offer: nameOf(one), account: one.connection.name });

/** A storefront's offers as lists are narrowed by them. */
export const offersToChoose = ({ inOrder }: Pick<StorefrontNow, "inOrder">) =>
  inOrder.map((one) => ({
    id: one.offer.id,
    name: nameOf(one),
    connection: one.way === "provider" ? one.connection.id : null,
    account: one.way === "provider" ? one.connection.name : "no provider",
  }));
