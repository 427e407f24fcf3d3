import { type Answered, chosenOf, type Priced, readPriced } from "#core/buttons/delivery";
import type { WalletRefusal } from "#core/buttons/course";
import { decide } from "#core/offers/decide";
import type { SessionAddress } from "#core/profiles/answers";
import type { SessionAnswer, SessionQuestion } from "#core/profiles/session-reading";
import type { ButtonSession } from "../database/rows";
import { candidatesIn } from "../offers/candidates";
import type { Runtime } from "../runtime";
import { mustStand } from "../storefronts/now";
import { askShop } from "./ask-shop";
import { cartNow, changeSession, isOrderedElsewhere } from "./sessions";

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
  const { language } = session.cart;
  const no = (because: WalletRefusal, says: string | null = null): SessionAnswer => ({
    refused: says ?? rt.writeButtonRefusal(because, language),
    ...{ currency, total: session.total, deliveries: [], delivery: null },
  });
  // What it comes to there is not known: it cannot be agreed to as it stands.
  const unpriced = async (because: WalletRefusal, says: string | null = null): Promise<SessionAnswer> => {
    await changeSession(rt, session.id, ["open"], { place: address, priced: null, delivery: null });
    return no(because, says);
  };
  if (session.state !== "open" || session.expiresAt <= rt.now()) return no("over");
  if (await isOrderedElsewhere(rt, session)) return unpriced("elsewhere");
  const answered = await answerOf(rt, session, address);
  if (answered.kind === "refused") return unpriced(answered.because, answered.says);
  const choice = answered.kind === "given" ? chosenOf(answered.value, delivery) : null;
  if (answered.kind !== "given" || !choice) {
    rt.log.warn({ session: session.id, answered }, "a shop's answer cannot be read, or did not come");
    return unpriced("silent");
  }
  const priced = answered.value;
  const there = { ...session, place: address, priced, delivery: choice.id };
  const charge = await chargeThere(rt, there);
  if (charge === null) return unpriced("not-offered");
  const total = choice.total + charge;
  const kept = { place: address, priced, delivery: choice.id, total, charge };
  if (!(await changeSession(rt, session.id, ["open"], kept))) return no("over");
  return {
    ...{ refused: null, currency, total, delivery: choice.id },
    deliveries: priced.deliveries.map(({ id, name, shipping }) => ({ id, name, price: shipping })),
  };
}

/** What the shop says that a purchase comes to at an address. Of a rehearsal, which no shop hears of, it is known. */
async function answerOf(
  rt: Runtime,
  session: ButtonSession,
  address: SessionAddress,
): Promise<Answered<Priced>> {
  if (session.origin === "rehearsal" && session.priced) return { kind: "given", value: session.priced };
  const { currency } = session.cart.total;
  const { language, group } = session.cart;
  const { id, basket, offerId: offer } = session;
  const about = { session: id, basket, offer, currency, language, address };
  const said = await askShop(rt, session, "button.delivery", about, rt.ids.next("ask"));
  return said.kind === "answered"
    ? readPriced(said.body, { currency, language, group }, address)
    : { kind: "unreadable", at: "" };
}

/** What choosing the offer adds there, minor units; null where it is not shown. A rehearsal tries it whatever its rules are. */
async function chargeThere(rt: Runtime, there: ButtonSession): Promise<number | null> {
  if (there.origin === "rehearsal") return 0;
  const now = await mustStand(rt, there.storefrontId);
  const candidates = candidatesIn(now, there.mode).filter(({ id }) => id === there.offerId);
  return decide(candidates, cartNow(rt, there)).shown[0]?.charge ?? null;
}
