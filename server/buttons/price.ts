import { type Answered, chosenOf, type Priced, readPriced } from "#core/buttons/delivery";
import type { WalletRefusal } from "#core/buttons/course";
import { decide } from "#core/offers/decide";
import type { SessionAnswer, SessionQuestion } from "#core/profiles/session-reading";
import type { ButtonSession } from "../database/rows";
import { candidatesIn } from "../offers/candidates";
import type { Runtime } from "../runtime";
import { mustStand } from "../storefronts/now";
import { askShop } from "./ask-shop";
import { cartNow, changeSession } from "./sessions";

/**
 * What a purchase comes to at an address, with a delivery: asked of the shop, which knows, held against the offer's rules, and
 * kept, so that no other sum is ordered later.
 */
export async function priceSession(
  rt: Runtime,
  session: ButtonSession,
  { address, delivery }: SessionQuestion,
): Promise<SessionAnswer> {
  const { currency } = session.cart.total;
  const { language, group } = session.cart;
  const no = (because: WalletRefusal, says: string | null = null): SessionAnswer => ({
    refused: says ?? rt.writeButtonRefusal(because, language),
    ...{ currency, total: session.total, deliveries: [], delivery: null },
  });
  if (session.state !== "open" || session.expiresAt <= rt.now()) return no("over");
  const said = await askShop(
    rt,
    session,
    "button.delivery",
    { session: session.id, basket: session.basket, offer: session.offerId, currency, language, address },
    rt.ids.next("ask"),
  );
  const answered: Answered<Priced> =
    said.kind === "answered"
      ? readPriced(said.body, { currency, language, group }, address)
      : { kind: "unreadable", at: "" };
  if (answered.kind === "refused") {
    await changeSession(rt, session.id, ["open"], { place: address, priced: null, delivery: null });
    return no(answered.because, answered.says);
  }
  const choice = answered.kind === "given" ? chosenOf(answered.value, delivery) : null;
  if (answered.kind !== "given" || !choice) {
    if (said.kind === "answered")
      rt.log.warn({ session: session.id, answered }, "a shop's answer cannot be read");
    await changeSession(rt, session.id, ["open"], { place: address, priced: null, delivery: null });
    return no("silent");
  }
  const priced = answered.value;
  const there = { ...session, place: address, priced, delivery: choice.id };
  const now = await mustStand(rt, session.storefrontId);
  const candidates = candidatesIn(now, session.mode).filter(({ id }) => id === session.offerId);
  const shown = decide(candidates, cartNow(rt, there)).shown[0];
  if (!shown) {
    await changeSession(rt, session.id, ["open"], { place: address, priced: null, delivery: null });
    return no("not-offered");
  }
  const total = choice.total + shown.charge;
  const kept = { place: address, priced, delivery: choice.id, total, charge: shown.charge };
  if (!(await changeSession(rt, session.id, ["open"], kept))) return no("over");
  return {
    ...{ refused: null, currency, total, delivery: choice.id },
    deliveries: priced.deliveries.map(({ id, name, shipping }) => ({ id, name, price: shipping })),
  };
}
