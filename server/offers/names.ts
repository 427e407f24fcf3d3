import { type Said, said } from "#core/said";
import { offerLabel } from "#core/offers/offer";
import type { OfferWithRevisions } from "../storefronts/now";

/** What people call an offer, wherever it is named: its label, or its method where it has none yet. */
export const nameOf = ({ working, offer }: Pick<OfferWithRevisions, "working" | "offer">): string =>
  offerLabel(working.document) || offer.methodId;

/** The same with whose it is. */
export const nameWithAccount = (one: OfferWithRevisions): Said =>
  said("names.offer-of-account", { offer: nameOf(one), account: one.connection.name });
