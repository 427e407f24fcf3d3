import { SESSION_LIVES } from "#core/buttons/course";
import { decide } from "#core/offers/decide";
import { knownOrigins } from "#core/profiles/profile";
import { nearestLocale, ownWordsTold } from "#core/profiles/telling";
import { said } from "#core/said";
import { insertRow } from "../database/prepared";
import type { ButtonSession } from "../database/rows";
import { buttonSessions } from "../database/schema";
import type { Pass } from "../embed/pass";
import { exchangeRow } from "../exchanges/exchanges";
import { call, type Line, openLine } from "../gateway/gateway";
import { askFor } from "../jobs/jobs";
import { candidatesIn } from "../offers/candidates";
import type { Runtime } from "../runtime";
import { mustStand, offerIn, type OfferWithRevisions, revisionFor } from "../storefronts/now";
import { buttonOf } from "./offered";
import { changeSession, endSession, sessionAddress } from "./sessions";

/** Where a press leads to: the wallet, or nowhere. */
export type Pressed = { kind: "opened"; address: string } | { kind: "refused" };

/**
 * Begins a purchase that a shopper pressed a button for: the wallet is asked for a session, in which they choose address and
 * delivery and agree. Nothing is ordered and nothing charged by it.
 */
export async function pressButton(
  rt: Runtime,
  { storefrontId, mode, place, cart, buys }: Pass,
  offerId: string,
  device: "phone" | "computer",
): Promise<Pressed> {
  if (!buys) return { kind: "refused" };
  const now = await mustStand(rt, storefrontId);
  const standing = candidatesIn(now, mode).filter(
    ({ id, document }) => id === offerId && document.button?.places.some((one) => one === place),
  );
  const asked = { ...cart.asked, device, at: rt.now() };
  const shown = decide(standing, { ...cart, asked }).shown.find(({ id }) => id === offerId);
  const offer = shown ? offerIn(now, offerId) : null;
  const keys = offer && buttonOf(offer, mode) && offer.through.keys[mode].paying;
  if (!shown || !offer || !keys) return { kind: "refused" };
  const connectionId = offer.connection.id;
  const line = await openLine(rt, {
    ...{ connectionId, mode, keySetId: keys.keySet.id, versionId: offer.versions[mode].id },
  });
  if (!line) return { kind: "refused" };
  const at = rt.now();
  const session: ButtonSession = {
    ...{ id: rt.ids.next("btn"), token: rt.ids.secret(), askToken: rt.ids.secret() },
    ...{ storefrontId, mode, origin: "shop", offerId },
    ...{ connectionId, keySetId: line.keySetId, versionId: line.versionId },
    ...{ ref: null, address: null, cart: { ...cart, asked: { ...cart.asked, device } }, ...buys },
    ...{ state: "open", because: null, says: null, place: null, contact: null, priced: null, delivery: null },
    ...{ total: cart.total.amount + shown.charge, charge: shown.charge, claimedUntil: null, askedAt: null },
    ...{ checkoutId: null, createdAt: at, expiresAt: at + SESSION_LIVES },
  };
  await rt.db.write([
    insertRow(rt.db, buttonSessions, session),
    exchangeRow(rt, {
      ...{ at, from: "shopper", to: "zahlung", label: said("buttons.pressed"), mode, connectionId, ok: true },
    }),
    askFor(rt, { kind: "close-button", key: session.id, lane: storefrontId, at: session.expiresAt }),
  ]);
  const opened = await openSession(rt, line, session, offer);
  if (opened) return { kind: "opened", address: opened.address };
  await endSession(rt, session, "left");
  return { kind: "refused" };
}

/** Has the wallet open a purchase, and keeps where that is. Null where it did not, or leads to nobody that is known. */
export async function openSession(
  rt: Runtime,
  line: Line,
  session: ButtonSession,
  offer: OfferWithRevisions,
): Promise<{ ref: string; address: string } | null> {
  const { cart, mode, total } = session;
  const { storefront } = await mustStand(rt, session.storefrontId);
  const answer = await call(rt, line, "openSession", {
    ...{ amount: total, currency: cart.total.currency, reference: session.id },
    ...{ domain: storefront.domain, country: cart.country },
    language: nearestLocale(line.profile, cart.language),
    returnAddress: sessionAddress(rt, session),
    askAddress: `${rt.settings.origin}/wallets/${session.askToken}`,
    ...ownWordsTold(revisionFor(offer, mode)?.document.telling),
  });
  const given = answer.kind === "answered" ? answer.value : null;
  const isTheirs =
    given &&
    URL.canParse(given.address) &&
    knownOrigins(line.profile).includes(new URL(given.address).origin);
  if (!given || !isTheirs) {
    rt.log.warn({ session: session.id, answer }, "a wallet did not take a purchase");
    return null;
  }
  await changeSession(rt, session.id, ["open"], { ref: given.ref, address: given.address });
  return given;
}
