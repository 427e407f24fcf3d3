import { setTimeout as wait } from "node:timers/promises";
import { withCharge } from "#core/offers/charge";
import {
  authenticationFor,
  type CapturePolicy,
  type OfferDocument,
  orderNumberFor,
} from "#core/offers/offer";
import { heldBecause } from "#core/offers/holding";
import type { Consent, Keeping } from "#core/instruments";
import type { Mode } from "#core/mode";
import type { OrderInScope } from "#core/profiles/request";
import type { Order } from "#core/orders/order";
import { askedOf } from "#core/orders/asked";
import { methodOf, ridesAlong } from "#core/profiles/profile";
import { asTold, nearestLocale, ownWordsTold } from "#core/profiles/telling";
import type { Statement } from "../database/open";
import type { Checkout, Payment, Revision } from "../database/rows";
import type { payments } from "../database/schema";
import { isLeftAloneNow } from "../gateway/breakers";
import { type Line, openLine, type RimFault } from "../gateway/gateway";
import { candidatesIn } from "../offers/candidates";
import { carrierOf } from "../offers/carrier";
import { partsOf } from "../offers/parts";
import { carryOut } from "../operations/carry-out";
import { beginning, operationOf } from "../operations/operations";
import { own } from "#core/profiles/own";
import { goneThere, idAtProvider, used } from "../instruments/instruments";
import { shopperOf } from "./shopper";
import { holdingBack } from "../payments/held-back";
import { paymentOf } from "../payments/record";
import { takeSteps } from "../payments/steps";
import type { Runtime } from "../runtime";
import {
  anyOfferIn,
  mustStand,
  type OfferWithRevisions,
  revisionFor,
  type StorefrontNow,
} from "../storefronts/now";
import { placeOffline } from "../ways/offline/place";
import { claim, type Paid, whoWasFirst } from "./claim";
import { mandated } from "../subscriptions/follow";
import { type Around, chargeIn, checkoutAddress, decideFor } from "./checkouts";

/** Milliseconds after which a shopper is told that it takes longer. */
const SHOPPER_WAITS = 2_500;
/** By then it is written down that it waits. */
const NOTED_WITHIN = 300;
const NOTHING_MOVED = { captured: 0, released: 0, returned: 0 };

export interface PayOptions {
  /** A rehearsal may need another way to capture than the offer's. */
  capture?: CapturePolicy;
  /** What it makes of the provider's answer. */
  fault?: (payment: Payment) => RimFault | undefined;
  /** Minor units that it asks the provider for instead of the order's. */
  amount?: number;
  /** Whether nobody is shown anything meanwhile, so that it may take as long as it takes. */
  patient?: boolean;
  /** The total that the shopper was shown, minor units: no other is asked for. */
  seen?: number;
  /** Something kept that is paid with, by its id, instead of a token. */
  kept?: string;
  /** The words in which the shopper agreed that what they pay with is kept. */
  keep?: Pick<Consent, "words" | "language">;
  /** The words in which they agreed to be charged again, where the order is one of a subscription. */
  mandate?: Pick<Consent, "words" | "language">;
  /** What the shopper sits at, where rules ask for it. */
  device?: Around["device"];
  /** Called with the payment's reference before anything is sent. */
  beforeSending?: (payment: Payment) => Promise<void>;
}

/** What of an order decides whether a person looks at it first. */
const heldBackBy = (order: Order) => ({
  total: { amount: askedOf(order), currency: order.currency },
  countries: [...new Set([order.country, order.shipTo?.country, order.billTo?.country])].filter(
    (one) => one !== undefined,
  ),
});

/**
 * Pays a checkout's order with an offer and, where its provider hands one over, a one-time token. However often and from however many tabs it is
 * pressed, one payment at most is under way: the checkout is claimed and the payment written in one transaction
 * before the provider hears of it.
 */
export async function pay(
  rt: Runtime,
  checkout: Checkout,
  offerId: string,
  token: string,
  options: PayOptions = {},
): Promise<Paid> {
  const { now: stands, decision } = await decideFor(rt, checkout, options.device);
  const shown = decision.shown.find((one) => one.id === offerId);
  if (!shown) return { kind: "refused", because: "not-offered" };
  const choiceFee = chargeIn(checkout, shown);
  if (options.seen !== undefined && options.seen !== askedOf(checkout.order) + choiceFee)
    return { kind: "refused", because: "total-changed" };
  const chosen = anyOfferIn(stands, offerId);
  if (chosen?.way === "offline") return placeOffline(rt, checkout, chosen, choiceFee);
  const way = chosen && (await wayOf(rt, stands, chosen, checkout.mode));
  if (!way) return { kind: "refused", because: "no-keys" };
  return payBy(rt, checkout, way, token, { ...options, choiceFee, label: shown.label });
}

/** Everything that an offer's money goes by now. */
interface WayOfPaying {
  stands: StorefrontNow;
  offer: OfferWithRevisions;
  revision: Revision;
  money: { connectionId: string; keySetId: string; versionId: string; methodId: string };
  line: Line;
}

async function wayOf(
  rt: Runtime,
  stands: StorefrontNow,
  offer: OfferWithRevisions,
  mode: Mode,
): Promise<WayOfPaying | null> {
  const revision = revisionFor(offer, mode);
  const money = moneyRoad(stands, offer, mode);
  const line = money && (await openLine(rt, { ...money, mode }));
  return revision && line ? { stands, offer, revision, money, line } : null;
}

/** What a payment is charged to without its shopper being there. */
export interface Later {
  /** The provider's id of what is kept, and under which id it is kept here. */
  kept: string;
  instrumentId: string;
  networkReference: string | null;
  /** Written with the payment. */
  statements: readonly Statement[];
}

/**
 * Charges a checkout's order to what its shopper has kept, by the shop and without them: whatever the offer asks of those
 * who choose it. `away`: the offer cannot move money at the moment.
 */
export async function chargeLater(
  rt: Runtime,
  checkout: Checkout,
  offerId: string,
  later: Later,
): Promise<Paid | { kind: "away" }> {
  const stands = await mustStand(rt, checkout.storefrontId);
  const offer = anyOfferIn(stands, offerId);
  const candidate = candidatesIn(stands, checkout.mode).find(({ id }) => id === offerId);
  if (offer?.way !== "provider" || candidate?.standing !== "ready" || candidate.off) return { kind: "away" };
  const way = await wayOf(rt, stands, offer, checkout.mode);
  // Nobody waits for it: while the provider does not answer, it is not asked.
  if (!way || candidate.troubled || isLeftAloneNow(rt, way.line)) return { kind: "away" };
  return payBy(rt, checkout, way, "", { choiceFee: 0, label: "", later, patient: true });
}

async function payBy(
  rt: Runtime,
  checkout: Checkout,
  { stands, offer, revision, money, line }: WayOfPaying,
  token: string,
  options: PayOptions & { choiceFee: number; label: string; later?: Later },
): Promise<Paid> {
  const { choiceFee, label, later } = options;
  const offerId = offer.offer.id;
  const now = rt.now();
  const id = rt.ids.next("pay");
  const { document } = revision;
  const method = methodOf(line.profile, money.methodId);
  const whose = shopperOf(checkout);
  // A rehearsal tries what the method can, whatever the offer uses of it.
  const keeps =
    document.keeps ?? (checkout.origin === "rehearsal" || options.mandate ? "storefront" : undefined);
  const chosen =
    whose && keeps && options.kept ? await idAtProvider(rt, whose, { ...money, keeps }, options.kept) : null;
  if (options.kept && chosen === null) return { kind: "refused", because: "not-offered" };
  const kept = later?.kept ?? chosen;
  const mandate = checkout.order.subscription && whose && method?.repeats ? options.mandate : undefined;
  // A later period is paid with its shopper only where something stands in for what was agreed to.
  if (checkout.order.subscription && !later && !mandate) return { kind: "refused", because: "not-offered" };
  const wanted = mandate ?? (kept ? undefined : options.keep);
  const keeping: Keeping | null =
    whose && wanted && keeps && method?.keeps ? { scope: keeps, consent: { ...wanted, at: now } } : null;
  const order = withCharge(checkout.order, choiceFee, label);
  const asked = askedOf(order);
  // A rehearsal is of what the provider does: nobody looks at its orders.
  const heldBack = checkout.origin === "rehearsal" ? null : heldBecause(document.holdBack, heldBackBy(order));
  const made: typeof payments.$inferInsert = {
    id,
    checkoutId: checkout.id,
    storefrontId: checkout.storefrontId,
    connectionId: money.connectionId,
    keySetId: line.keySetId,
    profileVersionId: line.versionId,
    offerId,
    revisionId: revision.id,
    methodId: money.methodId,
    mode: checkout.mode,
    origin: checkout.origin,
    reference: `z-${id.slice(4)}`,
    orderReference: checkout.reference,
    amount: asked,
    choiceFee,
    keeping,
    currency: order.currency,
    capture: options.capture ?? (heldBack ? "later" : document.capture),
    state: "created",
    authorised: 0,
    captured: 0,
    refunded: 0,
    version: 1,
    parts: checkout.mode === "test" ? await partsOf(rt, stands, offer) : {},
    createdAt: now,
    updatedAt: now,
  };
  // Should this process die in the middle, the worker asks the provider what became of it.
  const { operation: created, statements } = beginning(rt, made, {
    kind: "create",
    amount: asked,
    once: "create",
    person: "shopper",
    idempotencyKey: id,
    before: NOTHING_MOVED,
  });
  const held = heldBack ? [holdingBack(rt, id, heldBack)] : [];
  const instrumentId = later?.instrumentId ?? options.kept;
  const use = instrumentId && kept ? [used(rt, instrumentId)] : [];
  const agreed = mandate ? mandated(rt, checkout, { ...mandate, at: now }) : [];
  const all = [...statements, ...held, ...use, ...agreed, ...(later?.statements ?? [])];
  if (!(await claim(rt, checkout, made, all))) return whoWasFirst(rt, checkout);
  const written = await paymentOf(rt, id);
  if (!written) throw new Error("a payment that was just written is gone");
  await options.beforeSending?.(written);
  const fault = options.fault?.(written);
  const input = {
    amount: options.amount ?? asked,
    currency: order.currency,
    token: kept ? null : token || null,
    ...(kept && { kept }),
    ...(keeping && !kept && { keep: true }),
    ...(mandate && { repeats: true }),
    initiator: later ? "shop" : "shopper",
    ...(later?.networkReference && { networkReference: later.networkReference }),
    methodId: made.methodId,
    language: nearestLocale(line.profile, order.language),
    country: order.country,
    capture: made.capture,
    // A device has asked the shopper already.
    authentication: ridesAlong(offer.versions[checkout.mode].profile)
      ? "issuer"
      : // Whoever has something kept shows once who they are.
        keeping && method?.authentication.includes("always")
        ? "always"
        : authenticationFor(document, { amount: asked, currency: order.currency }),
    statement: document.statement,
    reference: made.reference,
    returnAddress: `${checkoutAddress(rt, checkout)}/back`,
    order: asTold(orderInScope(order, document), document.telling, method?.needs),
    ...ownWordsTold(document.telling),
  };
  const leavesSteps = line.profile.operations.confirm || method?.capturedByCall;
  const carried = carryOut(rt, created.id, {
    first: true,
    input,
    secrets: [token, kept ?? ""].filter(Boolean),
    ...(!options.patient && { patience: SHOPPER_WAITS }),
    ...(fault && { fault }),
  }).then(() => (leavesSteps ? takeSteps(rt, id, { patience: SHOPPER_WAITS }) : null));
  // Whoever waits for longer than this is shown that it waits; it goes on all the same.
  if (options.patient) await carried;
  else {
    carried.catch((error: unknown) =>
      rt.log.error({ err: error, payment: id }, "a payment was left half asked"),
    );
    await Promise.race([carried, wait(SHOPPER_WAITS + NOTED_WITHIN)]);
  }
  const payment = (await paymentOf(rt, id)) ?? written;
  // What the provider has forgotten by itself is shown to nobody any more.
  if (instrumentId && payment.state === "failed") {
    const code = (await operationOf(rt, created.id))?.code ?? "";
    if (own(line.profile.problems, code) === "kept-gone") await rt.db.write([goneThere(rt, instrumentId)]);
  }
  return { kind: "payment", payment };
}

/** What a profile may tell a provider of what is bought. */
const orderInScope = (order: Order, document: OfferDocument): OrderInScope => ({
  number: orderNumberFor(document, order.reference),
  lines: order.lines.map(({ name, quantity, unit, total }) => ({ name, quantity, unit, total })),
  ...{ shipping: order.shipping, tax: order.tax, taxIncluded: order.taxIncluded, total: order.total },
  ...{ payNow: askedOf(order), email: order.email },
  ...(order.shipTo && { shipTo: order.shipTo }),
  ...(order.billTo && { billTo: order.billTo }),
  ...(order.shopper !== undefined && { shopper: order.shopper }),
});

/** The connection and method that move an offer's money: its own, or those that a device wallet rides on. */
function moneyRoad(now: StorefrontNow, offer: OfferWithRevisions, mode: Mode): WayOfPaying["money"] | null {
  const { profile } = offer.versions[mode];
  const rides = ridesAlong(profile);
  const carrier = rides ? carrierOf(now, profile, mode) : null;
  const moves = rides ? carrier?.offer : offer;
  const keys = rides ? carrier?.keys : offer.through.keys[mode].paying;
  return moves && keys
    ? {
        connectionId: moves.connection.id,
        keySetId: keys.keySet.id,
        versionId: moves.versions[mode].id,
        methodId: moves.offer.methodId,
      }
    : null;
}
