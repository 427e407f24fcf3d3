import { type Change, changesBetween } from "#core/cutover/changes";
import type { OfferDocument } from "#core/offers/offer";
import { rulesSay } from "#core/offers/rules";
import type { Told } from "#core/said";
import type { StorefrontNow } from "../storefronts/now";

/** A difference as people read it: rules as their sentences, texts with headings and lists only as changed. */
export interface ReadChange {
  path: string;
  from: Told | null;
  to: Told | null;
}

/** What differs between two documents of an offer. */
export function readChanges(
  before: OfferDocument,
  after: OfferDocument,
  zones: StorefrontNow["zones"],
): ReadChange[] {
  const changes = changesBetween(before, after);
  const others = changes.filter(({ path }) => !/^rules(\.|$)|^offline\.instructions/.test(path));
  const has = (begins: string) => changes.some(({ path }: Change) => path.startsWith(begins));
  const sentence = ({ rules }: OfferDocument) => (rules ? rulesSay(rules, zones) : null);
  return [
    ...others,
    ...(has("rules") ? [{ path: "rules", from: sentence(before), to: sentence(after) }] : []),
    ...(has("offline.instructions") ? [{ path: "offline.instructions", from: "…", to: "…" }] : []),
  ];
}
