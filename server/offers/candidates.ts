import type { Candidate } from "#core/offers/decide";
import type { OfferDocument } from "#core/offers/offer";
import type { Mode } from "#core/mode";
import { methodOf, ridesAlong } from "#core/profiles/profile";
import { domainFileOf } from "../connections/domain";
import { payingKeys } from "../connections/paying-keys";
import type { Runtime } from "../runtime";
import { carrierOf } from "./carrier";
import { offersOf, type OfferWithRevisions, revisionFor } from "./offers";

/** Whether an offer's connection can take payments in a mode, and if not, the first thing that is in the way. */
function standingIn(
  { connection, live }: OfferWithRevisions,
  mode: Mode,
  has: { keys: boolean; seen: boolean; carried: boolean },
): Candidate["standing"] {
  if (mode === "live") {
    if (connection.live === "fallen-back") return "fallen-back";
    if (connection.live !== "live" || !live) return "not-live";
  }
  if (!has.keys) return "no-keys";
  if (!has.seen) return "no-domain";
  return has.carried ? "ready" : "no-carrier";
}

/** An offer as the decision needs it, in a mode. `draft` stands in for the working revision, for the mirror. */
export async function candidateOf(
  rt: Runtime,
  all: readonly OfferWithRevisions[],
  one: OfferWithRevisions,
  mode: Mode,
  draft?: OfferDocument,
): Promise<Candidate> {
  const method = methodOf(one.profile, one.offer.methodId);
  const [keys, carrier, file] = await Promise.all([
    payingKeys(rt, one, mode),
    carrierOf(rt, all, one.profile, mode),
    one.profile.file ? domainFileOf(rt, one.connection.id, mode, one.offer.storefrontId) : null,
  ]);
  const revision = revisionFor(one, mode);
  const seen = !one.profile.file || file?.provider?.ok === true;
  const carried = !ridesAlong(one.profile) || carrier !== null;
  const charged = keys?.account.currencies.map((entry) => entry.charged) ?? null;
  const carries = carrier?.keys.account.currencies.map((entry) => entry.charged);
  return {
    id: one.offer.id,
    document: draft ?? (revision ?? one.working).document,
    off: one.offer.off,
    standing: standingIn(one, mode, { keys: keys !== null, seen, carried }),
    methodCurrencies: method?.currencies ?? [],
    accountCurrencies: carries ? (charged?.filter((one) => carries.includes(one)) ?? null) : charged,
    minimum: { ...carrier?.method.minimum, ...method?.minimum },
    maximum: { ...carrier?.method.maximum, ...method?.maximum },
    shopperCountries: method?.shopperCountries ?? [],
  };
}

export async function candidatesOf(rt: Runtime, storefrontId: string, mode: Mode): Promise<Candidate[]> {
  const all = await offersOf(rt, storefrontId);
  return Promise.all(all.map((one) => candidateOf(rt, all, one, mode)));
}
