import type { Mode } from "#core/mode";
import { methodOf, type Profile, type ProfileMethod, ridesAlong } from "#core/profiles/profile";
import type { ProvenKeys } from "../connections/key-sides";
import { isOff, type OfferWithRevisions, runsInLive, type StorefrontNow } from "../storefronts/now";

/** The offer that moves the money for a device wallet, with the keys it pays with. */
export interface Carrier {
  offer: OfferWithRevisions;
  method: ProfileMethod;
  keys: ProvenKeys;
}

/**
 * What a rider rides on, among the offers of its storefront: the first that is in use in this mode, of the kind the
 * rider needs, and takes its tokens. Null when there is none, or the profile rides on nothing.
 */
export function carrierOf(now: Pick<StorefrontNow, "offers">, rider: Profile, mode: Mode): Carrier | null {
  if (!ridesAlong(rider)) return null;
  for (const offer of now.offers) {
    const method = methodOf(offer.versions[mode].profile, offer.offer.methodId);
    if (!method || method.kind !== rider.ridesOn || !method.takes?.includes(rider.id)) continue;
    if (isOff(offer, mode) || (mode === "live" && !runsInLive(offer))) continue;
    const keys = offer.through.keys[mode].paying;
    if (keys) return { offer, method, keys };
  }
  return null;
}
