import type { Request } from "express";
import { asText } from "#core/buttons/delivery";
import { goOn } from "../buttons/go-on";
import { sessionAddress, sessionOf } from "../buttons/sessions";
import { checkoutAddress, checkoutOf } from "../checkouts/checkouts";
import type { ButtonSession } from "../database/rows";
import type { Runtime } from "../runtime";
import { type Call, notFound } from "./call";

async function mustBe(rt: Runtime, request: Request, { caller }: Call): Promise<ButtonSession> {
  const session = await sessionOf(rt, String(request.params.id));
  if (!session || session.storefrontId !== caller.storefrontId || session.mode !== caller.mode)
    throw notFound("purchase");
  return session;
}

/** What a shopper has agreed to at a wallet, for a shop that shows it once more; and what has come of it. */
async function view(rt: Runtime, session: ButtonSession) {
  const { currency } = session.cart.total;
  const choice = session.priced?.deliveries.find(({ id }) => id === session.delivery) ?? null;
  const checkout = session.checkoutId ? await checkoutOf(rt, session.checkoutId) : null;
  return {
    ...{ purchase: session.id, basket: session.basket, offer: session.offerId, state: session.state },
    ...{ because: session.because, currency, total: asText(session.total - session.charge, currency) },
    charge: asText(session.charge, currency),
    address: session.place,
    contact: session.contact,
    delivery: choice && { id: choice.id, name: choice.name, price: asText(choice.shipping, currency) },
    order: checkout?.reference ?? null,
    // Where the shopper goes on: to the checkout of what was ordered, or to where it stands.
    goTo: checkout ? checkoutAddress(rt, checkout) : sessionAddress(rt, session),
  };
}

export async function getPurchase(rt: Runtime, request: Request, call: Call) {
  return { status: 200, body: await view(rt, await mustBe(rt, request, call)) };
}

/** The shopper has looked at it at the shop and wants it: it is ordered and paid, once, however often this is asked. */
export async function postConfirm(rt: Runtime, request: Request, call: Call) {
  const session = await mustBe(rt, request, call);
  const standing = await goOn(rt, session, true);
  const now = await view(rt, await mustBe(rt, request, call));
  const goTo = standing.kind === "checkout" ? (standing.address ?? now.goTo) : now.goTo;
  return { status: 200, body: { ...now, goTo } };
}
