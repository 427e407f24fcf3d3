import type { Candidate } from "#core/offers/decide";
import type { OfferDocument } from "#core/offers/offer";
import { takesFees } from "#core/offers/charge";
import { usualIcon } from "#core/offers/icons";
import { isOfflineKind } from "#core/ways/offline/kinds";
import type { Mode } from "#core/mode";
import { methodOf, ridesAlong } from "#core/profiles/profile";
import {
  isOff,
  type OfflineOffer,
  type OfferWithRevisions,
  revisionFor,
  runsInLive,
  type StorefrontNow,
} from "../storefronts/now";
import { carrierOf } from "./carrier";

/** Whether an offer's connection can take payments in a mode, and if not, the first thing that is in the way. */
function standingIn(
  offer: OfferWithRevisions,
  mode: Mode,
  has: { keys: boolean; seen: boolean; carried: boolean },
): Candidate["standing"] {
  if (mode === "live" && !runsInLive(offer))
    return offer.pair.live === "fallen-back" ? "fallen-back" : "not-live";
  if (!has.keys) return "no-keys";
  if (!has.seen) return "no-domain";
  return has.carried ? "ready" : "no-carrier";
}

/** The same for an offer that no provider moves the money of: it depends on nobody. */
function offlineCandidate(
  { storefront, zones }: Pick<StorefrontNow, "storefront" | "zones">,
  one: OfflineOffer,
  mode: Mode,
): Candidate {
  return {
    id: one.offer.id,
    document: (revisionFor(one, mode) ?? one.working).document,
    off: isOff(one, mode),
    standing: mode === "live" && !one.live ? "not-put-live" : "ready",
    troubled: false,
    fees: takesFees(storefront),
    icon: usualIcon(isOfflineKind(one.offer.methodId) ? one.offer.methodId : "own"),
    ...{ methodCurrencies: storefront.currencies, accountCurrencies: null },
    ...{ minimum: {}, maximum: {}, shopperCountries: [], zones },
  };
}

/** An offer as the decision needs it, in a mode. `draft` stands in for the working revision, for the mirror. */
export function candidateOf(
  now: Pick<StorefrontNow, "storefront" | "offers" | "zones">,
  one: OfferWithRevisions,
  mode: Mode,
  draft?: OfferDocument,
): Candidate {
  const { profile } = one.versions[mode];
  const method = methodOf(profile, one.offer.methodId);
  const keys = one.through.keys[mode].paying;
  const carrier = carrierOf(now, profile, mode);
  const revision = revisionFor(one, mode);
  const seen = !profile.file || one.through.files[mode]?.provider?.ok === true;
  const carried = !ridesAlong(profile) || carrier !== null;
  const charged = keys?.account.currencies.map((entry) => entry.charged) ?? null;
  const carries = carrier?.keys.account.currencies.map((entry) => entry.charged);
  return {
    id: one.offer.id,
    document: draft ?? (revision ?? one.working).document,
    off: isOff(one, mode),
    standing: standingIn(one, mode, { keys: keys !== null, seen, carried }),
    fees: takesFees(now.storefront),
    ...(method && { icon: usualIcon(method.kind) }),
    troubled: one.through.troubled[mode] !== null || (carrier?.offer.through.troubled[mode] ?? null) !== null,
    methodCurrencies: method?.currencies ?? [],
    accountCurrencies: carries ? (charged?.filter((entry) => carries.includes(entry)) ?? null) : charged,
    minimum: { ...carrier?.method.minimum, ...method?.minimum },
    maximum: { ...carrier?.method.maximum, ...method?.maximum },
    ...(method?.verifies && { verifies: true }),
    shopperCountries: method?.shopperCountries ?? [],
    zones: now.zones,
  };
}

const kept = new WeakMap<StorefrontNow, Partial<Record<Mode, Candidate[]>>>();

/** Every offer of a storefront as the decision needs it: made once for each reading of the storefront. */
export function candidatesIn(now: StorefrontNow, mode: Mode): Candidate[] {
  const made = kept.get(now) ?? {};
  kept.set(now, made);
  return (made[mode] ??= now.inOrder.map((one) =>
    one.way === "offline" ? offlineCandidate(now, one, mode) : candidateOf(now, one, mode),
  ));
}
