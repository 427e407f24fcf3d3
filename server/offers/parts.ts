import { fingerprintParts, type FingerprintParts } from "#core/fingerprint";
import { ridesAlong } from "#core/profiles/profile";
import { currentEndpoint, currentKeySet, type Endpoint, type KeySet } from "../connections/connections";
import type { Runtime } from "../runtime";
import { type Carrier, carrierOf } from "./carrier";
import { offersOf, type OfferWithRevisions } from "./offers";

/** The settings that a test result of this offer depends on, each as a fingerprint. */
export async function partsOf(rt: Runtime, one: OfferWithRevisions): Promise<FingerprintParts> {
  const all = ridesAlong(one.profile) ? await offersOf(rt, one.offer.storefrontId) : [];
  const [keys, endpoint, carrier] = await Promise.all([
    currentKeySet(rt, one.connection.id, "test"),
    currentEndpoint(rt, one.connection.id, "test"),
    carrierOf(rt, all, one.profile, "test"),
  ]);
  return partsFrom(one, keys, endpoint, carrier);
}

/** The same from keys and webhook address of the test side that have been read already. */
export function partsFrom(
  { working, profile }: OfferWithRevisions,
  keys: KeySet | null,
  endpoint: Endpoint,
  carrier: Carrier | null,
): FingerprintParts {
  const { capture, authentication, statement } = working.document;
  const digests = (set: KeySet | null) =>
    Object.entries(set?.values ?? {}).map(([field, value]) => [field, value.digest]);
  return fingerprintParts({
    profile: profile.version,
    "test keys": digests(keys),
    ...(carrier && { "what it rides on": [carrier.offer.connection.id, digests(carrier.keys.keySet)] }),
    "test webhook": endpoint.id,
    capture,
    authentication,
    "statement text": statement,
  });
}
