import type { Order } from "#core/orders/order";
import type { ProfileInstrument } from "#core/profiles/profile";
import type { RehearsalCase } from "#core/rehearsal/script";
import { said, type Told } from "#core/said";
import { openCheckout } from "../checkouts/checkouts";
import { pay, type PayOptions } from "../checkouts/pay";
import type { Checkout, Payment } from "../database/rows";
import { call, lineOf, saysWhat } from "../gateway/gateway";
import { erase, keptOf, type Shopper } from "../instruments/instruments";
import { paymentOf } from "../payments/record";
import type { Runtime } from "../runtime";
import type { OfferWithRevisions } from "../storefronts/now";
import { observe, type Play, waitFor } from "./observe";

/** What stands for the words that a shopper agrees to, where nobody reads any. */
const CONSENT = { words: "A rehearsal keeps what it pays with, and has it forgotten.", language: "en" };

/**
 * Plays a shopper who keeps what they pay with and pays the next order with it. The second payment is the one that is
 * observed; what was kept is erased again, whatever came of it.
 */
export async function playKept(
  rt: Runtime,
  offer: OfferWithRevisions,
  script: RehearsalCase,
  order: Order & { shopper: string },
): Promise<Play> {
  const { storefrontId } = offer.offer;
  const whose: Shopper = { storefrontId, mode: "test", shopper: order.shopper };
  try {
    const good = offer.profile.instruments.find((one) => one.case === "approved");
    const first = await buy(rt, offer, order, good, { keep: CONSENT });
    if (!first.ok) return first;
    await waitFor(rt, async () => (await keptOf(rt, whose)).length > 0);
    const kept = await keptOf(rt, whose);
    const [one] = kept;
    if (!one) return { ok: false, says: said("play.nothing-kept", { provider: offer.profile.name }) };
    const again = { ...order, reference: `${order.reference}-2` };
    const second = await buy(rt, offer, again, undefined, { kept: one.id });
    if (!second.ok) return second;
    const paymentId = second.payment.id;
    const seen = await observe(rt, offer.working.document.capture, script, paymentId);
    if (!seen.ok) return { ...seen, paymentId };
    return { ok: true, paymentId, observed: { ...seen.observed, kept: kept.length } };
  } finally {
    await erase(rt, whose);
  }
}

type Bought = { ok: true; payment: Payment } | { ok: false; says: Told; paymentId?: string };

/** Pays an order, and answers the issuer where it asks. */
async function buy(
  rt: Runtime,
  offer: OfferWithRevisions,
  order: Order,
  instrument: ProfileInstrument | undefined,
  options: PayOptions,
): Promise<Bought> {
  const checkout = await openCheckout(
    rt,
    { storefrontId: offer.offer.storefrontId, mode: "test", origin: "rehearsal", order },
    { at: rt.now(), from: "shop", to: "zahlung", label: said("play.opens-checkout-rehearsal"), ok: true },
  );
  return payFor(rt, offer, checkout, instrument, options);
}

/**
 * Pays a checkout as a shopper does, and answers where they are asked: as the instrument does on the provider's page, or as
 * one who is known to their issuer.
 */
export async function payFor(
  rt: Runtime,
  offer: OfferWithRevisions,
  checkout: Checkout,
  instrument: ProfileInstrument | undefined,
  options: PayOptions,
): Promise<Bought> {
  const paid = await pay(rt, checkout, offer.offer.id, instrument?.token ?? "", {
    ...options,
    patient: true,
  });
  if (paid.kind !== "payment") return { ok: false, says: said("play.offer-withheld-rehearsals-order") };
  const { payment } = paid;
  if (payment.state !== "pending") return { ok: true, payment };
  const line = await lineOf(rt, payment);
  const known = offer.profile.instruments.find((one) => one.case === "challenge");
  const answer = instrument?.answer ?? known?.answer ?? "";
  const acted = line && (await call(rt, line, "actForShopper", { ref: payment.providerRef, answer }));
  if (!acted) return { ok: false, says: said("play.keys-gone"), paymentId: payment.id };
  if (acted.kind !== "answered")
    return { ok: false, says: saysWhat(offer.profile.name, acted), paymentId: payment.id };
  await waitFor(rt, async () => (await paymentOf(rt, payment.id))?.state !== "pending");
  return { ok: true, payment };
}
