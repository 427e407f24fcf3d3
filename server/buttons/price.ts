import { type Answered, chosenOf, type Priced, readPriced } from "#core/buttons/delivery";
import type { WalletRefusal } from "#core/buttons/course";
import { decide } from "#core/offers/decide";
import type { SessionAddress } from "#core/profiles/answers";
import type { SessionAnswer, SessionQuestion } from "#core/profiles/session-reading";
import type { ButtonSession } from "../database/rows";
import { candidatesIn } from "../offers/candidates";
import type { Runtime } from "../runtime";
import { mustStand } from "../storefronts/now";
import { type Asking, askShop, refusesStrangers, type Silence } from "./ask-shop";
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
const answerOf = async (
  rt: Runtime,
  session: ButtonSession,
  address: SessionAddress,
): Promise<Answered<Priced> | Silence> =>
  session.origin === "rehearsal" && session.priced
    ? { kind: "given", value: session.priced }
    : askWhatItComesTo(rt, session, address);

/** What is asked about: a basket of the shop, as a purchase by a button knows it. */
export type Basket = Asking & Pick<ButtonSession, "id" | "basket" | "offerId" | "cart">;

const dataOf = ({ id, basket, offerId, cart }: Basket, address: SessionAddress) => ({
  ...{ session: id, basket, offer: offerId },
  ...{ currency: cart.total.currency, language: cart.language, address },
});

/** Whether the shop refuses to say what a basket comes to, where its secret is not known. */
export const isKeptFromStrangers = (rt: Runtime, asked: Basket, address: SessionAddress): Promise<boolean> =>
  refusesStrangers(rt, asked, "button.delivery", dataOf(asked, address));

/** Asks the shop what a basket comes to at an address. */
export async function askWhatItComesTo(
  rt: Runtime,
  asked: Basket,
  address: SessionAddress,
): Promise<Answered<Priced> | Silence> {
  const { language, group, total } = asked.cart;
  const { currency } = total;
  const said = await askShop(rt, asked, "button.delivery", dataOf(asked, address), rt.ids.next("ask"));
  return said.kind === "answered" ? readPriced(said.body, { currency, language, group }, address) : said;
}

/** What choosing the offer adds there, minor units; null where it is not shown. A rehearsal tries it whatever its rules are. */
async function chargeThere(rt: Runtime, there: ButtonSession): Promise<number | null> {
  if (there.origin === "rehearsal") return 0;
  const now = await mustStand(rt, there.storefrontId);
  const candidates = candidatesIn(now, there.mode).filter(({ id }) => id === there.offerId);
  return decide(candidates, cartNow(rt, there)).shown[0]?.charge ?? null;
}
