import { said } from "#core/said";
import { and, eq, gt, isNull } from "drizzle-orm";
import type { CapturePolicy } from "#core/offers/offer";
import type { Mode } from "#core/mode";
import { ridesAlong } from "#core/profiles/profile";
import type { PaymentReading } from "#core/profiles/answers";
import { guard, guardFailed } from "../database/guard";
import { insertRow } from "../database/prepared";
import type { Checkout, Payment } from "../database/rows";
import { checkouts, facts, payments } from "../database/schema";
import { exchangeRow } from "../exchanges/exchanges";
import { call, type GatewayAnswer, type Line, openLine } from "../gateway/gateway";
import { askFor, takeOff } from "../jobs/jobs";
import { carrierOf } from "../offers/carrier";
import { partsOf } from "../offers/parts";
import { paymentOf, recordFacts } from "../payments/record";
import { recordReading } from "../payments/readings";
import type { Runtime } from "../runtime";
import { offerIn, type OfferWithRevisions, revisionFor, type StorefrontNow } from "../storefronts/now";
import { checkoutAddress, checkoutOf, decideFor } from "./checkouts";
import { fail, findAndRecord } from "./look-up";

export interface PayOptions {
  /** A rehearsal may need another way to capture than the offer's. */
  capture?: CapturePolicy;
  loseAnswer?: boolean;
  /** Called with the payment's reference before anything is sent. */
  beforeSending?: (payment: Payment) => Promise<void>;
}

export type Paid =
  | { kind: "payment"; payment: Payment }
  /** Another press, tab or reload was first: its payment is the one. */
  | { kind: "under-way"; paymentId: string | null }
  | { kind: "refused"; because: "not-offered" | "closed" | "no-keys" };

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
  const { now: stands, decision } = await decideFor(rt, checkout);
  if (!decision.shown.some((one) => one.id === offerId)) return { kind: "refused", because: "not-offered" };
  const offer = offerIn(stands, offerId);
  const revision = offer && revisionFor(offer, checkout.mode);
  const money = offer && moneyRoad(stands, offer, checkout.mode);
  const line = money && (await openLine(rt, { ...money, mode: checkout.mode }));
  if (!offer || !revision || !line) return { kind: "refused", because: "no-keys" };
  const now = rt.now();
  const id = rt.ids.next("pay");
  const { order } = checkout;
  const payment: typeof payments.$inferInsert = {
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
    amount: order.total,
    currency: order.currency,
    capture: options.capture ?? revision.document.capture,
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
  const lookUpAt = now + rt.settings.providerTimeout * 2 + 5_000;
  if (!(await claim(rt, checkout, payment, lookUpAt))) {
    const fresh = await checkoutOf(rt, checkout.id);
    if (fresh?.state === "open" && fresh.activePaymentId === null)
      return { kind: "refused", because: "closed" };
    return { kind: "under-way", paymentId: fresh?.activePaymentId ?? null };
  }
  const written = await paymentOf(rt, id);
  if (!written) throw new Error("a payment that was just written is gone");
  await options.beforeSending?.(written);
  const { document } = revision;
  const input = {
    amount: order.total,
    currency: order.currency,
    token: token || null,
    methodId: payment.methodId,
    language: order.language,
    country: order.country,
    capture: payment.capture,
    // A device has asked the shopper already.
    authentication: ridesAlong(offer.versions[checkout.mode].profile) ? "issuer" : document.authentication,
    statement: document.statement,
    reference: payment.reference,
    returnAddress: `${checkoutAddress(rt, checkout)}/back`,
    idempotencyKey: id,
  };
  await create(rt, line, written, input, options);
  return { kind: "payment", payment: (await paymentOf(rt, id)) ?? written };
}

/** The connection and method that move an offer's money: its own, or those that a device wallet rides on. */
function moneyRoad(
  now: StorefrontNow,
  offer: OfferWithRevisions,
  mode: Mode,
): { connectionId: string; keySetId: string; versionId: string; methodId: string } | null {
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

/** Claims the checkout and writes the payment, both or neither. */
async function claim(
  rt: Runtime,
  checkout: Checkout,
  payment: typeof payments.$inferInsert,
  lookUpAt: number,
): Promise<boolean> {
  const now = rt.now();
  const { id, connectionId } = payment;
  try {
    await rt.db.write([
      guard(
        checkouts,
        and(
          eq(checkouts.id, checkout.id),
          eq(checkouts.state, "open"),
          isNull(checkouts.activePaymentId),
          gt(checkouts.expiresAt, now),
        ),
      ),
      insertRow(rt.db, payments, payment),
      rt.db.orm
        .update(checkouts)
        .set({ activePaymentId: id, deviceAsk: null })
        .where(eq(checkouts.id, checkout.id)),
      askFor(rt, { kind: "look-up", key: id, lane: connectionId, at: lookUpAt }),
      ...(checkout.deviceAsk ? [takeOff("take-token", checkout.id)] : []),
      insertRow(rt.db, facts, {
        paymentId: payment.id,
        key: "zahlung:created",
        source: "zahlung",
        at: now,
        recordedAt: now,
        statement: { kind: "created" },
      }),
      exchangeRow(rt, {
        at: now,
        from: "shopper",
        to: "zahlung",
        label: said("checkouts.presses-pay"),
        mode: checkout.mode,
        paymentId: payment.id,
        checkoutId: checkout.id,
        ok: true,
      }),
    ]);
    return true;
  } catch (error) {
    if (guardFailed(error)) return false;
    throw error;
  }
}

/** Asks the provider for the payment; a silence or a broken answer is settled by look-up before anything else. */
async function create(
  rt: Runtime,
  line: Line,
  payment: Payment,
  input: Record<string, unknown>,
  options: PayOptions,
): Promise<void> {
  const marks = {
    paymentId: payment.id,
    checkoutId: payment.checkoutId,
    secrets: input.token ? [String(input.token)] : [],
  };
  const ask = async (loseAnswer = false) => {
    const answer = await call(rt, line, "create", input, { ...marks, loseAnswer });
    return recordCreated(rt, line, payment, answer);
  };
  if (await ask(options.loseAnswer)) return;
  let found = await findAndRecord(rt, line, payment);
  if (found === "absent") {
    // The provider has not heard of it: the same request again, with the same idempotency key, is safe.
    if (await ask()) return;
    found = await findAndRecord(rt, line, payment);
  }
  if (found === "known") return;
  // Nobody can say yet. The shopper waits, and the worker goes on asking.
  const unanswered = { kind: "pending" } as const;
  await recordFacts(rt, payment.id, [
    { key: "zahlung:unanswered", source: "zahlung", at: rt.now(), statement: unanswered },
  ]);
  await rt.db.write([
    askFor(rt, { kind: "look-up", key: payment.id, lane: payment.connectionId, at: rt.now() + 3_000 }),
  ]);
  rt.log.warn({ payment: payment.id }, "a payment's outcome is unknown");
}

/** Records a clear answer to a create. False when there was none, so that nobody can say yet. */
async function recordCreated(
  rt: Runtime,
  line: Line,
  payment: Payment,
  answer: GatewayAnswer<PaymentReading>,
): Promise<boolean> {
  if (answer.kind === "answered") {
    await recordReading(rt, line.profile, payment, answer.value, "answer");
    return true;
  }
  if (answer.kind === "unanswered" || answer.problem.kind === "provider-fault") return false;
  await fail(rt, payment, "answer", answer.problem.code, answer.problem.text);
  return true;
}
