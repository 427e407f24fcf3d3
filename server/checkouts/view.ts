import { and, desc, eq, sql } from "drizzle-orm";
import type { Shown } from "#core/offers/decide";
import type { Outcome } from "#core/offers/afterwards";
import { lookIn, type LookView } from "#core/looks/look";
import { type OrderView, orderView } from "#core/orders/view";
import type { QuotedPlan } from "#core/offers/notices";
import { askedOf } from "#core/orders/asked";
import type { ScanCode } from "#core/scan-code";
import type { PlacedScene } from "#core/ways/offline/placed";
import type { DeclineReason, Report } from "#core/payments/facts";
import { fold, isOver } from "#core/payments/fold";
import { frameAddress } from "#core/profiles/request";
import { nearestLocale } from "#core/profiles/telling";
import { knownOrigins, methodOf, type Profile } from "#core/profiles/profile";
import type { Checkout, Payment } from "../database/rows";
import { checkouts, payments } from "../database/schema";
import { lookFor } from "../looks/looks";
import { ownWords } from "./own-words";
import type { Runtime } from "../runtime";
import { anyOfferIn, mustStand, type OfferWithRevisions, revisionFor } from "../storefronts/now";
import { keptOf, paysBy } from "../instruments/instruments";
import { shopperOf } from "./shopper";
import { type Around, decideFor, paymentsOf } from "./checkouts";
import { quotesFor } from "../offers/quotes";
import { recordedOf } from "../payments/facts";
import { isThroughProvider } from "../payments/road";
import { placedScene } from "../ways/offline/scene";
import { scanCode } from "./scan-code";

/** A card frame to embed: where it is, from where it may speak, and how its message is told. */
export interface Frame {
  src: string;
  origin: string;
  match: Record<string, string>;
  token: string;
  /** How it is told to fill itself in; null outside of test, and where it takes no such message. */
  fill: { message: Record<string, string>; values: string } | null;
}

export interface Instrument {
  case: string;
  label: string;
  outcome: string;
  type: { label: string; value: string; name?: string }[];
}

/** What the shopper is to see now. */
export type Scene =
  | {
      name: "choose";
      offers: Shown[];
      chosen: string | null;
      /** How the chosen offer is paid: in the provider's frame, on its page, or by a code that a phone scans. */
      pays: "frame" | "redirect" | "code" | "device" | "offline" | null;
      frame: Frame | null;
      instruments: Instrument[];
      /** What paying in parts comes to, where the chosen offer is that. */
      plans: QuotedPlan[];
      /** What the shopper has kept and can pay this order with; and whether what they pay with now can be kept. */
      kept: { id: string; name: string }[];
      mayKeep: boolean;
      again: Again | null;
    }
  | { name: "nothing" }
  /** The shopper goes on elsewhere: at the bank, or at the payment service's own page. */
  | { name: "challenge"; address: string; handOver: HandOver | null; at: "bank" | "service" }
  | { name: "code"; code: ScanCode; until: number }
  /** The shopper's device was asked; `address` is where the shopper decides. */
  | { name: "device"; address: string }
  | PlacedScene
  | { name: "waiting" }
  | { name: "paid"; instrument: string | null }
  | { name: "cancelled" }
  | { name: "expired" };

/** What the shopper's browser posts to the page that it goes on to. */
export type HandOver = Record<string, string>;

/** Why the last try did not succeed. */
export type Again =
  | { kind: "declined"; reason: DeclineReason; by: "card" | "other" }
  | { kind: "failed" }
  | { kind: "refused-on-device" };

export interface CheckoutView {
  storefront: string;
  look: LookView;
  /** Whether the shopper has agreed to the terms that the look asks to be agreed to. */
  agreed: boolean;
  mode: "test" | "live";
  order: OrderView;
  scene: Scene;
  /** What the shop itself says of what came of it. */
  own: string | null;
}

/** How the pages of a checkout look to its shopper. */
export const lookOf = async (
  rt: Runtime,
  { storefrontId, mode, order }: Pick<Checkout, "storefrontId" | "mode" | "order">,
): Promise<LookView> => lookIn(await lookFor(rt, storefrontId, mode), order.language);

/** Whether a shopper has still to agree to the terms, to those that hold now. */
export const wantsAgreement = ({ terms }: LookView, { agreed }: Pick<Checkout, "agreed">): boolean =>
  terms?.required === true && agreed?.terms !== terms.link;

/** Reads everything a checkout's page needs, in the state the checkout is in now. */
export async function viewOf(
  rt: Runtime,
  checkout: Checkout,
  wanted: string | null,
  device?: Around["device"],
): Promise<CheckoutView> {
  const [now, look, scene] = await Promise.all([
    mustStand(rt, checkout.storefrontId),
    lookOf(rt, checkout),
    sceneOf(rt, checkout, wanted, device),
  ]);
  return {
    storefront: now.storefront.name,
    look,
    agreed: !wantsAgreement(look, checkout),
    mode: checkout.mode,
    order: orderView(checkout.order, await chargeOf(rt, checkout, scene)),
    scene,
    own: await ownWords(rt, checkout, outcomeOf(scene), now.storefront.name),
  };
}

/** What choosing the way of paying adds: of the payment that is there, else of the offer that is chosen. */
async function chargeOf(rt: Runtime, checkout: Checkout, scene: Scene): Promise<number> {
  if (scene.name === "choose") return scene.offers.find(({ id }) => id === scene.chosen)?.charge ?? 0;
  return (await activeOf(rt, checkout))?.choiceFee ?? 0;
}

/** Of what the shop may have something to say. */
function outcomeOf(scene: Scene): Outcome | null {
  switch (scene.name) {
    case "paid":
    case "waiting":
    case "cancelled":
    case "expired":
      return scene.name;
    case "choose":
      return scene.again ? (scene.again.kind === "failed" ? "failed" : "declined") : null;
    default:
      return null;
  }
}

async function sceneOf(
  rt: Runtime,
  checkout: Checkout,
  wanted: string | null,
  device: Around["device"],
): Promise<Scene> {
  if (checkout.state === "paid")
    return { name: "paid", instrument: (await activeOf(rt, checkout))?.instrument ?? null };
  if (checkout.state !== "open") return { name: checkout.state };
  const active = await activeOf(rt, checkout);
  if (active && !isThroughProvider(active) && !isOver(active.state)) return placedScene(rt, checkout, active);
  if (active && isThroughProvider(active) && !isOver(active.state)) {
    const [asked, { profile }] = await Promise.all([
      pendingOf(rt, active),
      rt.library.version(active.profileVersionId),
    ]);
    if (asked?.scan) return { name: "code", code: scanCode(asked.scan), until: checkout.expiresAt };
    const address = knownAddress(profile, asked?.challenge);
    if (!address) return { name: "waiting" };
    // Who asks: with a provider's own frame for cards it is the bank.
    const handOver = asked?.handOver ?? null;
    return {
      name: "challenge",
      address,
      handOver,
      at: profile.browser.kind === "frame" ? "bank" : "service",
    };
  }
  if (checkout.expiresAt <= rt.now()) return { name: "expired" };
  if (checkout.deviceAsk && !checkout.deviceAsk.over)
    return { name: "device", address: checkout.deviceAsk.address };
  const { now, decision } = await decideFor(rt, checkout, device);
  const { shown } = decision;
  const [first] = shown;
  if (!first) return { name: "nothing" };
  // Whoever tried before finds the same way of paying chosen again.
  const last = await lastTry(rt, checkout);
  const before = wanted ?? last?.offerId ?? (await paidWithBefore(rt, checkout));
  const chosen = shown.find((one) => one.id === before) ?? (shown.length === 1 ? first : null);
  const one = chosen && anyOfferIn(now, chosen.id);
  const offer = one?.way === "provider" ? one : null;
  const profile = offer?.versions[checkout.mode].profile;
  return {
    name: "choose",
    offers: shown,
    chosen: chosen?.id ?? null,
    pays: one?.way === "offline" ? "offline" : (profile?.browser.kind ?? null),
    frame: offer ? frameOf(rt, offer, checkout) : null,
    instruments: checkout.mode === "test" && profile ? instrumentsOf(profile) : [],
    plans: offer ? await plansFor(rt, checkout, offer, chosen?.charge ?? 0) : [],
    ...(await keepingFor(rt, checkout, offer)),
    again: last?.again ?? null,
  };
}

/** What a signed-in shopper has kept of an offer's method, and whether they can keep what they pay with now. */
async function keepingFor(
  rt: Runtime,
  checkout: Checkout,
  one: OfferWithRevisions | null,
): Promise<Pick<Extract<Scene, { name: "choose" }>, "kept" | "mayKeep">> {
  const whose = shopperOf(checkout);
  const repeats = checkout.order.subscription !== undefined;
  const document = one && revisionFor(one, checkout.mode)?.document;
  const keeps = document?.keeps ?? (repeats ? "storefront" : undefined);
  if (!one || !whose || !keeps) return { kept: [], mayKeep: false };
  const road = { connectionId: one.connection.id, methodId: one.offer.methodId, keeps };
  const kept = calledOnce((await keptOf(rt, whose)).filter((each) => paysBy(each, road, whose)));
  // What is subscribed with is kept anyway, as the shopper agrees to that.
  const mayKeep =
    !repeats && methodOf(one.versions[checkout.mode].profile, one.offer.methodId)?.keeps === true;
  return { kept: kept.map(({ id, name }) => ({ id, name })), mayKeep };
}

/** Whoever has kept the same twice is asked about it once: of what is called alike and ends alike, the first stands for all. */
function calledOnce<Kept extends { name: string; until: number | null }>(all: readonly Kept[]): Kept[] {
  const first = new Map<string, Kept>();
  for (const one of all) {
    const called = `${one.name} ${one.until}`;
    if (!first.has(called)) first.set(called, one);
  }
  return [...first.values()];
}

/** A shopper is not kept waiting for quotes for longer than this, milliseconds. */
const PATIENCE = 1_500;

/** What paying a checkout's order in parts comes to, with what choosing it adds. */
async function plansFor(
  rt: Runtime,
  { id: checkoutId, mode, order }: Checkout,
  offer: OfferWithRevisions,
  charge: number,
): Promise<QuotedPlan[]> {
  const { currency, country, language } = order;
  const about = { mode, currency, country, language, checkoutId, amount: askedOf(order) + charge };
  return (await quotesFor(rt, about, offer, PATIENCE)).plans;
}

/** What the same e-mail address was paid with last on this storefront, where the shop wants that to be chosen again. */
async function paidWithBefore(
  rt: Runtime,
  { storefrontId, mode, order: { email } }: Checkout,
): Promise<string | null> {
  if (email === "" || !(await lookFor(rt, storefrontId, mode)).remembers) return null;
  const [row] = await rt.db.orm
    .select({ offerId: payments.offerId })
    .from(checkouts)
    .innerJoin(payments, eq(payments.id, checkouts.activePaymentId))
    .where(
      and(
        eq(checkouts.storefrontId, storefrontId),
        // In these very words the index has it.
        sql`lower(json_extract("order", '$.email')) = ${email.toLowerCase()}`,
        eq(checkouts.mode, mode),
        eq(checkouts.state, "paid"),
      ),
    )
    .orderBy(desc(checkouts.createdAt))
    .limit(1);
  return row?.offerId ?? null;
}

const instrumentsOf = (profile: Profile): Instrument[] =>
  profile.instruments.map(({ case: id, label, outcome, type }) => ({ case: id, label, outcome, type }));

async function activeOf(rt: Runtime, checkout: Checkout): Promise<Payment | null> {
  if (!checkout.activePaymentId) return null;
  const [row] = await rt.db.orm.select().from(payments).where(eq(payments.id, checkout.activePaymentId));
  return row ?? null;
}

/** What the shopper is asked to do while a payment waits: the newest statement that says so. */
async function pendingOf(rt: Runtime, payment: Payment) {
  if (payment.state !== "pending") return null;
  const known = await recordedOf(rt, payment.id);
  return (
    known
      .map((fact) => fact.statement)
      .findLast((one): one is Report => one.object === "report" && Boolean(one.challenge ?? one.scan)) ?? null
  );
}

/**
 * The provider's page on which the shopper is asked; only on hosts that the profile names. Null also where that page wants to
 * be posted to, which only the shopper's browser can do.
 */
export async function challengeOf(rt: Runtime, payment: Payment): Promise<string | null> {
  const asked = await pendingOf(rt, payment);
  if (asked?.handOver) return null;
  return isThroughProvider(payment)
    ? knownAddress((await rt.library.version(payment.profileVersionId)).profile, asked?.challenge)
    : null;
}

const knownAddress = (profile: Profile, address: string | undefined): string | null =>
  address && URL.canParse(address) && knownOrigins(profile).includes(new URL(address).origin)
    ? address
    : null;

function frameOf(rt: Runtime, offer: OfferWithRevisions, checkout: Checkout): Frame | null {
  const { profile } = offer.versions[checkout.mode];
  if (profile.browser.kind !== "frame") return null;
  const keys = offer.through.keys[checkout.mode].paying;
  if (!keys) return null;
  const open = Object.entries(keys.keySet.values).filter(([, entry]) => !entry.sealed);
  const credentials = Object.fromEntries(open.map(([id, entry]) => [id, entry.value]));
  const page = { origin: rt.settings.origin, language: nearestLocale(profile, checkout.order.language) };
  const src = frameAddress(profile, checkout.mode, credentials, page) ?? "";
  const { match, token } = profile.browser.message;
  const fill = (checkout.mode === "test" && profile.browser.fill) || null;
  return { src, origin: new URL(src).origin, match, token, fill };
}

async function lastTry(
  rt: Runtime,
  { id, deviceAsk }: Checkout,
): Promise<{ offerId: string; again: Again | null } | null> {
  if (deviceAsk?.over) return { offerId: deviceAsk.offerId, again: { kind: "refused-on-device" } };
  const last = (await paymentsOf(rt, id)).at(-1);
  if (!last) return null;
  const { offerId } = last;
  if (last.state === "failed") return { offerId, again: { kind: "failed" } };
  if (last.state !== "declined") return { offerId, again: null };
  const known = await recordedOf(rt, last.id);
  const { refusal } = fold(known);
  if (!isThroughProvider(last)) return { offerId, again: null };
  const { profile } = await rt.library.version(last.profileVersionId);
  const by = methodOf(profile, last.methodId)?.kind === "card" ? "card" : "other";
  return { offerId, again: { kind: "declined", reason: refusal?.reason ?? "unspecified", by } };
}
