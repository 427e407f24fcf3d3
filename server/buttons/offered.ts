import type { ButtonFacts, ButtonPlace, ButtonView } from "#core/buttons/button";
import type { Mode } from "#core/mode";
import { type Cart, decide } from "#core/offers/decide";
import { methodOf } from "#core/profiles/profile";
import { escaped } from "../embed/escaped";
import { lookFor } from "../looks/looks";
import { candidatesIn } from "../offers/candidates";
import type { Runtime } from "../runtime";
import { offerIn, type OfferWithRevisions, revisionFor, type StorefrontNow } from "../storefronts/now";

/** An offer's button in a mode; null where it has none, or its provider allows none any more. */
export function buttonOf(offer: OfferWithRevisions, mode: Mode): ButtonFacts | null {
  const settings = revisionFor(offer, mode)?.document.button;
  const method = methodOf(offer.versions[mode].profile, offer.offer.methodId);
  if (!settings || !method?.button) return null;
  return { offer: offer.offer.id, name: method.name, settings, terms: method.button };
}

/** The buttons of a page for a shopper: of the offers that stand there and are shown for this basket, in their order. */
export async function buttonsFor(
  rt: Runtime,
  now: StorefrontNow,
  { mode, place, cart }: { mode: Mode; place: ButtonPlace; cart: Cart },
): Promise<ButtonView[]> {
  const standing = candidatesIn(now, mode).filter(({ document }) => document.button?.places.includes(place));
  if (standing.length === 0) return [];
  const views = decide(standing, cart).shown.flatMap(({ id }) => {
    const offer = offerIn(now, id);
    const facts = offer && buttonOf(offer, mode);
    return facts ? [rt.writeButton(facts, cart.language)] : [];
  });
  const { mostButtons } = await lookFor(rt, now.storefront.id, mode);
  return mostButtons ? views.slice(0, mostButtons) : views;
}

/** A button as a page puts it in: without any script it is a form that leads to the wallet all the same. */
export const buttonMarkup = (view: ButtonView, token: string, origin: string): string => {
  const { offer, language, direction, text, trouble, shape, size, ground, ink } = view;
  const named = { offer, token, trouble, shape, size, ground, ink, lang: language, dir: direction };
  const attributes = Object.entries(named).map(([name, value]) => `${name}="${escaped(value)}"`);
  return (
    `<zahlung-button ${attributes.join(" ")}><form method="post" action="${escaped(origin)}/embed/v1/press">` +
    `<input type="hidden" name="token" value="${escaped(token)}"><input type="hidden" name="offer" value="${escaped(offer)}">` +
    `<button>${escaped(text)}</button></form></zahlung-button>`
  );
};
