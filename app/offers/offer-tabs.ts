import { wordingFor } from "#core/offers/offer";
import type { OfferWithRevisions } from "#server/storefronts/now";

/** Every offer of a storefront as a page, and the page on which another is made. */
export const offerTabs = (storefrontId: string, offers: readonly OfferWithRevisions[]) => [
  ...offers.map(({ offer, working, connection }) => ({
    to: `/s/${storefrontId}/offer/${offer.id}`,
    words: `${wordingFor(working.document, "en").label || offer.methodId} (${connection.name})`,
  })),
  { to: `/s/${storefrontId}/offer?add=1`, words: "Offer another" },
];
