import { SESSION_LIVES } from "#core/buttons/course";
import { isAsTold } from "#core/buttons/delivery";
import type { Order } from "#core/orders/order";
import { methodOf, type ProfileInstrument } from "#core/profiles/profile";
import { said, type Told } from "#core/said";
import { openSession } from "../buttons/open";
import { sessionOf } from "../buttons/sessions";
import { cartOf } from "../checkouts/checkouts";
import { insertRow } from "../database/prepared";
import type { ButtonSession } from "../database/rows";
import { buttonSessions } from "../database/schema";
import { call, openLine, saysWhat } from "../gateway/gateway";
import type { Runtime } from "../runtime";
import type { OfferWithRevisions } from "../storefronts/now";

/** What the second delivery of a rehearsal adds, minor units. */
const MORE = 100;

type Agreed = { ok: true; token: string; order: Order } | { ok: false; says: Told };

/**
 * Plays a shopper who presses the offer's button and agrees at the wallet, with another delivery than the first, so that the
 * sum changes while the wallet is open. What they agreed to has to be what the wallet was told. Zahlung answers in the shop's
 * place: of a rehearsal no shop hears.
 */
export async function agreeAtWallet(
  rt: Runtime,
  offer: OfferWithRevisions,
  order: Order,
  { answer = "" }: ProfileInstrument,
): Promise<Agreed> {
  const { profile } = offer;
  const keys = offer.through.keys.test.paying;
  const line =
    keys &&
    (await openLine(rt, { connectionId: offer.connection.id, mode: "test", keySetId: keys.keySet.id }));
  if (!line) return { ok: false, says: said("play.keys-gone") };
  const { lines, taxIncluded, tax, currency, total } = order;
  const greatest = methodOf(profile, offer.offer.methodId)?.maximum[currency] ?? Number.MAX_SAFE_INTEGER;
  const shipping = total + MORE <= greatest ? MORE : 0;
  const { at: _now, ...asked } = cartOf(order, { at: rt.now() }).asked;
  const session: ButtonSession = {
    ...{ id: rt.ids.next("btn"), token: rt.ids.secret(), askToken: rt.ids.secret() },
    ...{ storefrontId: offer.offer.storefrontId, mode: "test", origin: "rehearsal", offerId: offer.offer.id },
    ...{ connectionId: line.connectionId, keySetId: line.keySetId, versionId: line.versionId },
    ...{ ref: null, address: null, basket: order.reference, cart: { ...cartOf(order, { at: 0 }), asked } },
    ...{ answersAt: "", returnAddress: order.returnAddress, lookAddress: null },
    ...{ state: "open", because: null, says: null, place: null, contact: null, delivery: null },
    priced: {
      ...{ lines, taxIncluded },
      deliveries: [
        { id: "first", name: "First", shipping: 0, tax, total },
        { id: "second", name: "Second", shipping, tax, total: total + shipping },
      ],
    },
    ...{ total, charge: 0, claimedUntil: null, askedAt: null, checkoutId: null },
    ...{ createdAt: rt.now(), expiresAt: rt.now() + SESSION_LIVES },
  };
  await rt.db.write([insertRow(rt.db, buttonSessions, session)]);
  const opened = await openSession(rt, line, session, offer);
  if (!opened) return { ok: false, says: said("play.did-not-take-request", { provider: profile.name }) };
  const acted = await call(rt, line, "actInSession", { ref: opened.ref, delivery: "second", answer });
  if (acted.kind !== "answered") return { ok: false, says: saysWhat(profile.name, acted) };
  const read = await call(rt, line, "readSession", { ref: opened.ref });
  if (read.kind !== "answered") return { ok: false, says: saysWhat(profile.name, read) };
  const now = (await sessionOf(rt, session.id)) ?? session;
  const { state, token } = read.value;
  if (state !== "agreed" || !token)
    return { ok: false, says: said("play.not-agreed", { provider: profile.name }) };
  if (now.delivery !== "second" || !isAsTold({ ...now, currency }, read.value))
    return { ok: false, says: said("play.not-as-told", { provider: profile.name }) };
  return { ok: true, token, order: { ...order, shipping, total: total + shipping } };
}
