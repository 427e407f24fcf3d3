import { methodOf, ridesAlong } from "#core/profiles/profile";
import type { Storefront } from "../database/rows";
import type { OfferWithRevisions } from "../storefronts/now";
import type { Carrier } from "./carrier";

/**
 * The currencies that an offer takes in test, ISO 4217, in the offer's order: what it is for, of what its method and the
 * account that moves the money can charge. `carrier`: what it rides on.
 */
export function currenciesOf(
  { offer, working, profile, through }: OfferWithRevisions,
  storefront: Pick<Storefront, "currencies">,
  carrier: Carrier | null,
): string[] {
  const { currencies } = working.document;
  const method = methodOf(profile, offer.methodId);
  const keys = ridesAlong(profile) ? carrier?.keys : through.keys.test.paying;
  const charged = keys?.account.currencies.map((one) => one.charged);
  return (currencies.length > 0 ? currencies : storefront.currencies).filter(
    (one) => (method?.currencies.includes(one) ?? true) && (charged?.includes(one) ?? true),
  );
}
