import type { Mode } from "#core/mode";
import { methodOf, type Profile, type ProfileMethod, ridesAlong } from "#core/profiles/profile";
import { type PayingKeys, payingKeys } from "../connections/paying-keys";
import type { Runtime } from "../runtime";
import type { OfferWithRevisions } from "./offers";

/** The offer that moves the money for a device wallet, with the keys it pays with. */
export interface Carrier {
  offer: OfferWithRevisions;
  method: ProfileMethod;
  keys: PayingKeys;
}

/**
 * What a rider rides on, among the offers of its storefront: the first that is in use in this mode, of the kind the
 * rider needs, and takes its tokens. Null when there is none, or the profile rides on nothing.
 */
export async function carrierOf(
  rt: Runtime,
  all: readonly OfferWithRevisions[],
  rider: Profile,
  mode: Mode,
): Promise<Carrier | null> {
  if (!ridesAlong(rider)) return null;
  for (const offer of all) {
    const method = methodOf(offer.profile, offer.offer.methodId);
    if (!method || method.kind !== rider.ridesOn || !method.takes?.includes(rider.id)) continue;
    if (offer.offer.off || (mode === "live" && (offer.connection.live !== "live" || !offer.live))) continue;
    const keys = await payingKeys(rt, offer, mode);
    if (keys) return { offer, method, keys };
  }
  return null;
}
