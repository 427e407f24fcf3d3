import { said, type Told } from "#core/said";
import { and, eq, sql } from "drizzle-orm";
import type { Order } from "#core/orders/order";
import { instrumentFor, type Observed, type RehearsalCase, type Step } from "#core/rehearsal/cases";
import { methodOf, type ProfileInstrument } from "#core/profiles/profile";
import { sign } from "#core/webhooks/standard-webhooks";
import { checkoutOf, closing, openCheckout } from "../checkouts/checkouts";
import { asksDevice, lineOfAsk, readToken, requestToken } from "../checkouts/device";
import { lookUp } from "../checkouts/look-up";
import { pay } from "../checkouts/pay";
import { currentEndpoint, endpointAddress } from "../connections/connections";
import { guardFailed } from "../database/guard";
import type { Checkout, Payment } from "../database/rows";
import { checkouts, FORGED, rimFaults, webhooks } from "../database/schema";
import { call, lineOf, saysWhat } from "../gateway/gateway";
import { act } from "../payments/actions";
import { paymentOf } from "../payments/record";
import type { Runtime } from "../runtime";
import type { OfferWithRevisions } from "../storefronts/now";
import { storefrontOf } from "../storefronts/storefronts";
import { talk } from "../wire/wire";
import { observe, waitFor, webhooksAbout } from "./observe";

const TEST = "test";

/** What a case led to: what was observed, or what got in its way. */
export type Play =
  { ok: true; paymentId: string; observed: Observed } | { ok: false; says: Told; paymentId?: string };

/** Plays one case through checkout, gateway, intake and payments, with the profile's token in the shopper's place. */
export async function playCase(rt: Runtime, offer: OfferWithRevisions, script: RehearsalCase): Promise<Play> {
  const storefront = await storefrontOf(rt, offer.offer.storefrontId);
  const instrument = instrumentFor(offer.profile, script);
  if (!storefront || !instrument)
    return { ok: false, says: said("play.no-test-instrument-case", { provider: offer.profile.name }) };
  const order = orderFor(offer, storefront, rt.ids.next("RH").slice(-10).toUpperCase());
  const checkout = await openCheckout(
    rt,
    { storefrontId: storefront.id, mode: TEST, origin: "rehearsal", order },
    { at: rt.now(), from: "shop", to: "zahlung", label: said("play.opens-checkout-rehearsal"), ok: true },
  );
  const token = await tokenFor(rt, offer, checkout, instrument);
  if (!token.ok) return token;
  const paid = await pay(rt, (await checkoutOf(rt, checkout.id)) ?? checkout, offer.offer.id, token.token, {
    ...(script.capture !== "offer" && { capture: script.capture }),
    loseAnswer: script.fault === "lose-answer",
    patient: true,
    beforeSending: (payment) => makeFault(rt, script, payment),
  });
  if (paid.kind !== "payment")
    return {
      ok: false,
      says: said("play.offer-withheld-rehearsals-order"),
    };
  const end = async (play: Play): Promise<Play> => {
    await tidyUp(rt, paid.payment);
    return play;
  };
  const stuck = await playSteps(rt, offer, script, instrument, paid.payment);
  if (stuck) return end({ ok: false, says: stuck, paymentId: paid.payment.id });
  const observed = await observe(rt, offer.working.document.capture, script, paid.payment.id);
  return end(
    observed.ok
      ? { ok: true, paymentId: paid.payment.id, observed: observed.observed }
      : { ok: false, says: observed.says, paymentId: paid.payment.id },
  );
}

/** What pays: the instrument's token, or the one that a device hands over once its shopper has decided. */
async function tokenFor(
  rt: Runtime,
  offer: OfferWithRevisions,
  checkout: Checkout,
  { token = "", answer }: ProfileInstrument,
): Promise<{ ok: true; token: string } | { ok: false; says: Told }> {
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
  return reading?.state === "given" && reading.token
    ? { ok: true, token: reading.token }
    : { ok: false, says: said("play.handed-over-no-token", { provider: name }) };
}

/** An order that the offer's own rules let through: its first country, currency and group, a total within limits. */
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
): Order {
  const { document } = working;
  const currency = document.currencies[0] ?? storefront.currencies[0] ?? "EUR";
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

async function makeFault(rt: Runtime, script: RehearsalCase, payment: Payment): Promise<void> {
  if (!script.fault || script.fault === "lose-answer") return;
  const row = {
    reference: payment.reference,
    connectionId: payment.connectionId,
    kind: script.fault,
    until: rt.now() + 30_000,
  };
  await rt.db.write([rt.db.orm.insert(rimFaults).values(row)]);
}

async function tidyUp(rt: Runtime, payment: Payment): Promise<void> {
  await rt.db.write([rt.db.orm.delete(rimFaults).where(eq(rimFaults.reference, payment.reference))]);
  const [checkout] = await rt.db.orm.select().from(checkouts).where(eq(checkouts.id, payment.checkoutId));
  if (checkout?.state !== "open" || checkout.activePaymentId) return;
  try {
    await rt.db.write(closing(rt, checkout, "cancelled"));
  } catch (error) {
    if (!guardFailed(error)) throw error;
  }
}

/** Plays the steps after the payment was asked for. Returns what got in the way, or null. */
async function playSteps(
  rt: Runtime,
  offer: OfferWithRevisions,
  script: RehearsalCase,
  instrument: ProfileInstrument,
  payment: Payment,
): Promise<Told | null> {
  const now = async () => (await paymentOf(rt, payment.id)) ?? payment;
  if (instrument.answer && !asksDevice(offer) && !script.steps.some(answersShopper)) {
    // The shopper goes on at the provider's before anything else can happen.
    const say = await actForShopper(rt, await now(), instrument.answer);
    if (say) return say;
    await waitFor(rt, async () => (await now()).state !== "pending" || script.fault === "reorder-webhooks");
  }
  for (const step of script.steps) {
    const say = await playStep(rt, instrument, step, await now());
    if (say) return say;
  }
  return null;
}

const answersShopper = (step: Step) => step === "pass-challenge" || step === "fail-challenge";

async function playStep(
  rt: Runtime,
  instrument: ProfileInstrument,
  step: Step,
  payment: Payment,
): Promise<Told | null> {
  const half = Math.floor(payment.amount / 2);
  const done = async (kind: "capture" | "void" | "refund", amount: number) => {
    const acted = await act(rt, "rehearsal", payment, { kind, amount, once: `rehearsed-${kind}` });
    return acted.ok ? null : acted.says;
  };
  switch (step) {
    case "pass-challenge":
    case "fail-challenge":
      return actForShopper(
        rt,
        payment,
        (step === "pass-challenge" ? instrument.answer : instrument.fail) ?? "",
      );
    case "capture":
      return done("capture", payment.amount);
    case "void":
      return done("void", payment.amount);
    case "refund":
      return done("refund", payment.amount);
    case "refund-part":
      return done("refund", half);
    case "look-up": {
      await waitFor(rt, async () => (await webhooksAbout(rt, payment)).some((one) => one.outcome === "lost"));
      await lookUp(rt, payment);
      return null;
    }
    case "forge-webhook":
      return forge(rt, payment);
  }
}

async function actForShopper(rt: Runtime, payment: Payment, answer: string): Promise<Told | null> {
  const line = await lineOf(rt, payment);
  if (!line || payment.state !== "pending")
    return said("play.payment-should-wait-shopper", { state: payment.state });
  const marks = { paymentId: payment.id, checkoutId: payment.checkoutId };
  const input = { ref: payment.providerRef, answer };
  const answered = await call(rt, line, "actForShopper", input, marks);
  // The shopper's answer is news to Zahlung only by webhook or look-up; it is not recorded from here.
  return answered.kind === "answered" ? null : saysWhat(line.profile.name, answered);
}

/** Sends a message to our own address that claims a refund and is signed with a secret that is not ours. */
async function forge(rt: Runtime, payment: Payment): Promise<Told | null> {
  const endpoint = await currentEndpoint(rt, payment.connectionId, TEST);
  const body = JSON.stringify({ claim: "refunded", reference: payment.reference, amount: payment.amount });
  const wrong = `whsec_${rt.ids.bytes(32).toString("base64")}`;
  const at = rt.now();
  const headers = { "content-type": "application/json", ...sign(wrong, rt.ids.next("forged"), at, body) };
  const outgoing = { method: "POST", url: endpointAddress(rt, endpoint), headers, body };
  const sent = await talk(
    rt,
    outgoing,
    (answered) => ({
      label: said("play.forged-webhook"),
      from: "provider",
      to: "zahlung",
      mode: TEST,
      paymentId: payment.id,
      secrets: [wrong, endpoint.path],
      ok: answered.ok && answered.status >= 300,
      ...(answered.ok && { outcome: answered.status < 300 ? "taken" : "refused" }),
    }),
    { within: 5_000, own: true },
  );
  // It is no warning to anybody: who finds it in a list is told whose it was.
  await rt.db.write([
    rt.db.orm
      .update(webhooks)
      .set({ event: FORGED, paymentId: payment.id })
      .where(
        and(
          eq(webhooks.endpointId, endpoint.id),
          sql`${webhooks.verdict} <> 'verified'`,
          eq(webhooks.body, body),
        ),
      ),
  ]);
  return sent.ok ? null : said("play.zahlungs-own-webhook-address");
}
