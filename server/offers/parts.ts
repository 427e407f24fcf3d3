import { fingerprintParts, type FingerprintParts } from "#core/fingerprint";
import { currentEndpoint } from "../connections/connections";
import type { KeySet } from "../database/rows";
import type { Runtime } from "../runtime";
import type { OfferWithRevisions, StorefrontNow } from "../storefronts/now";
import { carrierOf } from "./carrier";

/** The settings that a test result of this offer depends on, each as a fingerprint. */
export async function partsOf(
  rt: Runtime,
  now: Pick<StorefrontNow, "offers" | "storefront">,
  one: OfferWithRevisions,
): Promise<FingerprintParts> {
  return partsFrom(now, one, (await currentEndpoint(rt, one.connection.id, "test")).id);
}

/** The same from the webhook address of the test side, where that has been read already. */
export function partsFrom(
  now: Pick<StorefrontNow, "offers" | "storefront">,
  { working, profile, versions, through }: OfferWithRevisions,
  endpointId: string,
): FingerprintParts {
  const carrier = carrierOf(now, profile, "test");
  const { capture, authentication, exemptUpTo, statement, currencies } = working.document;
  const { storefront } = now;
  const digests = (set: KeySet | null) =>
    Object.entries(set?.values ?? {}).map(([field, value]) => [field, value.digest]);
  return fingerprintParts({
    profile: versions.test.version,
    "test keys": digests(through.keys.test.current),
    ...(carrier && { "what it rides on": [carrier.offer.connection.id, digests(carrier.keys.keySet)] }),
    "test webhook": endpointId,
    capture,
    authentication: authentication === "exemption" ? [authentication, exemptUpTo ?? {}] : authentication,
    "statement text": statement,
    currencies: currencies.length > 0 ? currencies : storefront.currencies,
    domain: [storefront.https, storefront.domain],
    languages: storefront.languages,
  });
}
