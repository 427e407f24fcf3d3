import { eq } from "drizzle-orm";
import type { Order } from "#core/orders/order";
import { methodOf, type ProfileInstrument } from "#core/profiles/profile";
import { nothingObserved } from "#core/rehearsal/judge";
import { instrumentFor } from "#core/rehearsal/required";
import { isWebhookFault, type RehearsalCase } from "#core/rehearsal/script";
import { said, type Told } from "#core/said";
import { checkoutOf, closing, openCheckout } from "../checkouts/checkouts";
import { asksDevice, lineOfAsk, readToken, requestToken } from "../checkouts/device";
import { pay, type PayOptions } from "../checkouts/pay";
import { guardFailed } from "../database/guard";
import type { Checkout, Payment } from "../database/rows";
import { rimFaults } from "../database/schema";
import { call, saysWhat } from "../gateway/gateway";
import { takeOff } from "../jobs/jobs";
import { quotesFor } from "../offers/quotes";
import { throughProvider } from "../payments/road";
import type { Runtime } from "../runtime";
import type { OfferWithRevisions } from "../storefronts/now";
import { storefrontOf } from "../storefronts/storefronts";
import { agreeAtWallet } from "./button";
import { observe, type Play, waitFor, webhooksAbout } from "./observe";
import { playKept } from "./kept";
import { playRepeats } from "./repeats";
import { playShop } from "./shop";
import { playSteps } from "./steps";

const TEST = "test";

/**
 * Plays one case in one currency through checkout, gateway, intake and payments, with the profile's token in the shopper's
 * place.
 */
export async function playCase(
  rt: Runtime,
  offer: OfferWithRevisions,
  script: RehearsalCase,
  currency: string,
): Promise<Play> {
  const storefront = await storefrontOf(rt, offer.offer.storefrontId);
  const instrument = instrumentFor(offer.profile, script);
  if (!storefront || !instrument)
    return { ok: false, says: said("play.no-test-instrument-case", { provider: offer.profile.name }) };
  if (script.shop) return playShop(rt, offer);
  const reference = rt.ids.next("RH").slice(-10).toUpperCase();
  const planned = orderFor(offer, storefront, reference, currency);
  const agreed = script.button ? await agreeAtWallet(rt, offer, planned, instrument) : null;
  if (agreed && !agreed.ok) return agreed;
  const order = agreed?.order ?? planned;
  if (script.keeps) return playKept(rt, offer, script, { ...order, shopper: `rehearsal-${reference}` });
  if (script.repeats)
    return playRepeats(rt, offer, script, { ...order, shopper: `rehearsal-${reference}` }, instrument);
  const checkout = await openCheckout(
    rt,
    { storefrontId: storefront.id, mode: TEST, origin: "rehearsal", order },
    { at: rt.now(), from: "shop", to: "zahlung", label: said("play.opens-checkout-rehearsal"), ok: true },
  );
  const handed = agreed ?? (await tokenFor(rt, offer, checkout, instrument));
  if (!handed.ok) return handed;
  if (script.expects === "none") {
    await closeUnpaid(rt, checkout.id);
    const { name } = offer.profile;
    return handed.token === null
      ? { ok: true, paymentId: null, observed: nothingObserved }
      : { ok: false, says: said("play.token-all-the-same", { provider: name }) };
  }
  if (handed.token === null)
    return { ok: false, says: said("play.handed-over-no-token", { provider: offer.profile.name }) };
  const fresh = (await checkoutOf(rt, checkout.id)) ?? checkout;
  const plansTold = script.checks.includes("plan-as-told") ? await plansToldOf(rt, fresh, offer) : [];
  const paid = await pay(rt, fresh, offer.offer.id, handed.token, {
    ...(script.capture !== "offer" && { capture: script.capture }),
    ...faultsOf(rt, script, order),
    patient: true,
  });
  if (paid.kind !== "payment") return { ok: false, says: said("play.offer-withheld-rehearsals-order") };
  const { payment } = paid;
  // What was agreed to at the wallet already is not asked for once more.
  const { answer: _given, ...asAgreed } = instrument;
  const stuck = await playSteps({ rt, offer, script, instrument: agreed ? asAgreed : instrument, payment });
  const observed = stuck
    ? { ok: false as const, says: stuck }
    : await observe(rt, offer.working.document.capture, script, payment.id);
  await tidyUp(rt, payment);
  if (!observed.ok) return { ...observed, paymentId: payment.id };
  return { ok: true, observed: { ...observed.observed, plansTold }, paymentId: payment.id };
}

/** What a page of the shop would tell of an order before it is paid, asked as a page asks. */
async function plansToldOf(rt: Runtime, { id, order }: Checkout, offer: OfferWithRevisions) {
  const { total: amount, currency, country, language } = order;
  const about = { mode: TEST, amount, currency, country, language, checkoutId: id } as const;
  return (await quotesFor(rt, about, offer, rt.settings.providerTimeout)).plans;
}

/** More than an order's total, by this much, is asked for where a case wants another amount: minor units. */
const MORE = 100;

/** What a case's fault does while its payment is made. */
function faultsOf(rt: Runtime, { fault }: RehearsalCase, order: Order): PayOptions {
  if (isWebhookFault(fault))
    return {
      beforeSending: async (payment) => {
        const { reference, connectionId } = throughProvider(payment);
        const row = { reference, connectionId, kind: fault, until: rt.now() + 30_000 };
        await rt.db.write([rt.db.orm.insert(rimFaults).values(row)]);
      },
    };
  switch (fault) {
    case "lose-answer":
      return { fault: () => "lost" };
    case "busy":
      return { fault: () => "busy" };
    case "hold-answer":
      return { fault: (payment) => ({ heldUntil: () => untilTold(rt, payment) }) };
    case "other-amount":
      return { amount: order.total + MORE };
    default:
      return {};
  }
}

/** Waits until a message about a payment was applied. */
const untilTold = (rt: Runtime, payment: Payment) =>
  waitFor(rt, async () => (await webhooksAbout(rt, payment)).some((one) => one.outcome === "applied"));

/**
 * What pays: the instrument's token, or the one that a device hands over once its shopper has decided. Null: the shopper
 * refused there, and there is none.
 */
async function tokenFor(
  rt: Runtime,
  offer: OfferWithRevisions,
  checkout: Checkout,
  { token = "", answer }: ProfileInstrument,
): Promise<{ ok: true; token: string | null } | { ok: false; says: Told }> {
  if (!asksDevice(offer)) return { ok: true, token };
  const { name } = offer.profile;
  if ((await requestToken(rt, checkout, offer.offer.id)).kind !== "asked")
    return { ok: false, says: said("play.did-not-take-request", { provider: name }) };
  const asked = await checkoutOf(rt, checkout.id);
  const line = asked?.deviceAsk && (await lineOfAsk(rt, asked, asked.deviceAsk));
  if (!asked?.deviceAsk || !line) return { ok: false, says: said("play.keys-gone") };
  const input = { ref: asked.deviceAsk.ref, answer };
  const acted = await call(rt, line, "actForShopper", input, { checkoutId: checkout.id });
  if (acted.kind !== "answered") return { ok: false, says: saysWhat(name, acted) };
  const reading = await readToken(rt, asked);
  if (reading?.state === "refused") return { ok: true, token: null };
  return reading?.state === "given" && reading.token
    ? { ok: true, token: reading.token }
    : { ok: false, says: said("play.handed-over-no-token", { provider: name }) };
}

/** An order that the offer's own rules let through: its first country and group, a total within limits. */
function orderFor(
  { working, profile, offer }: OfferWithRevisions,
  storefront: {
    currencies: string[];
    country: string;
    languages: string[];
    groups: { id: string }[];
    domain: string;
    https: boolean;
  },
  reference: string,
  currency: string,
): Order {
  const { document } = working;
  const method = methodOf(profile, offer.methodId);
  const least = Math.max(document.limits[currency]?.least ?? 0, method?.minimum[currency] ?? 0);
  const greatest = Math.min(
    document.limits[currency]?.greatest ?? Number.MAX_SAFE_INTEGER,
    method?.maximum[currency] ?? Number.MAX_SAFE_INTEGER,
  );
  const total = Math.min(Math.max(least, 2490), greatest);
  return {
    reference,
    currency,
    lines: [{ name: "Rehearsal", quantity: 1, unit: total, total }],
    shipping: 0,
    tax: 0,
    taxIncluded: true,
    total,
    country: document.countries[0] ?? countryFor(method?.shopperCountries ?? [], storefront.country),
    language: storefront.languages[0] ?? "en",
    group: document.groups[0] ?? storefront.groups[0]?.id ?? "",
    email: `rehearsal@${storefront.domain}`,
    returnAddress: `${storefront.https ? "https" : "http"}://${storefront.domain}/`,
  };
}

/** The storefront's own country, or the first that the method is for. */
const countryFor = (shopperCountries: readonly string[], own: string) =>
  shopperCountries.length === 0 || shopperCountries.includes(own) ? own : (shopperCountries[0] ?? own);

async function tidyUp(rt: Runtime, { id, reference, checkoutId, state }: Payment): Promise<void> {
  await rt.db.write([
    rt.db.orm.delete(rimFaults).where(eq(rimFaults.reference, reference)),
    // What was asked for wrongly on purpose stays as it is for ever.
    ...(state === "created" ? [takeOff("look-up", id)] : []),
  ]);
  await closeUnpaid(rt, checkoutId);
}

/** Closes a rehearsal's checkout that nobody will pay any more. */
async function closeUnpaid(rt: Runtime, id: string): Promise<void> {
  const checkout = await checkoutOf(rt, id);
  if (checkout?.state !== "open" || checkout.activePaymentId) return;
  try {
    await rt.db.write(closing(rt, checkout, "cancelled"));
  } catch (error) {
    if (!guardFailed(error)) throw error;
  }
}
