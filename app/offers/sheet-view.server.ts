import { data, redirect } from "react-router";
import type { Runtime } from "#server/runtime";
import { basketsOf } from "#server/offers/baskets";
import { candidatesIn } from "#server/offers/candidates";
import { looksOf } from "#server/looks/looks";
import { followingOf } from "#server/offers/following";
import { nameOf } from "#server/offers/names";
import { termsFor } from "#server/offers/terms";
import { openPaymentsOf } from "#server/payments/open";
import { type AnyOffer, anyOfferIn, type StorefrontNow } from "#server/storefronts/now";
import { allStorefronts } from "#server/storefronts/storefronts";
import { wordsFor } from "../checkouts/words.server";
import { type Context, personContext, runtimeContext } from "../context";
import { formOf } from "../form-of";
import { localeOf, mustStandAt } from "../frame/storefront-context";
import { zoneOf } from "../parts/zone";
import { mustOperate } from "../people/session";
import { press } from "./presses";
import { t } from "../words/pages/offers-answers";

interface Found<One extends AnyOffer> {
  rt: Runtime;
  now: StorefrontNow;
  found: One;
}

/** The offer of the address, or a 404; one whose money moves another way has its sheet elsewhere. */
export async function mustFindOffer<Way extends AnyOffer["way"]>(
  context: Context,
  { storefront, offer }: { storefront: string; offer: string },
  way: Way,
): Promise<Found<Extract<AnyOffer, { way: Way }>>> {
  const now = await mustStandAt(context, storefront);
  const found = anyOfferIn(now, offer);
  if (!found) throw data(t("there-is-no-such-offer"), { status: 404 });
  if (found.way !== way)
    throw redirect(`/s/${storefront}/offer/${found.way === "offline" ? "without/" : ""}${offer}`);
  return { rt: context.get(runtimeContext), now, found: found as Extract<AnyOffer, { way: Way }> };
}

/** What the sheet of an offer shows, whichever way its money moves. `mayGo`: storefronts that it could be copied to. */
export async function sheetView(
  { rt, now, found }: Found<AnyOffer>,
  { request, context }: { request: Request; context: Context },
  mayGo: (storefrontId: string) => boolean,
) {
  const { storefront, zones } = now;
  const { offer, working, live } = found;
  const [storefronts, open, { working: look }, kept, following] = await Promise.all([
    allStorefronts(rt),
    openPaymentsOf(rt, offer.id),
    looksOf(rt, storefront.id),
    basketsOf(rt, storefront.id),
    followingOf(rt, now, found),
  ]);
  const { number, document, person, createdAt } = working;
  return {
    id: offer.id,
    name: nameOf(found),
    off: { test: offer.offInTest, live: offer.offInLive },
    open,
    look,
    baskets: kept.map(({ basket }) => basket),
    person: context.get(personContext).email,
    words: Object.fromEntries(storefront.languages.map((one) => [one, wordsFor(one)])),
    following,
    elsewhere: storefronts
      .filter((one) => one.id !== storefront.id && mayGo(one.id))
      .map(({ id, name }) => ({ id, name })),
    working: { number, document, person, at: createdAt },
    live: live ? { number: live.number } : null,
    terms: { ...termsFor(storefront, found), groupNames: storefront.groups },
    storefront: {
      id: storefront.id,
      name: storefront.name,
      country: storefront.country,
      locale: localeOf(storefront),
    },
    candidates: candidatesIn(now, "test"),
    at: rt.now(),
    zones,
    timeZone: zoneOf(request) ?? "UTC",
  };
}

/** Does what was pressed on the sheet of an offer. */
export async function pressedOn(
  way: AnyOffer["way"],
  {
    request,
    params,
    context,
  }: { request: Request; params: { storefront: string; offer: string }; context: Context },
) {
  const { person } = mustOperate(context);
  const { rt, now, found } = await mustFindOffer(context, params, way);
  const form = await formOf(request);
  return press({ rt, person: person.email, storefront: now.storefront, found, form });
}
