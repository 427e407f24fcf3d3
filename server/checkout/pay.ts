import { eq, sql } from "drizzle-orm";
import type { CapturePolicy } from "#core/offers/offer";
import type { Mode } from "#core/mode";
import { ridesAlong } from "#core/profiles/profile";
import type { PaymentReading } from "#core/profiles/response";
import { payingKeys } from "../connections/paying-keys";
import { isConflict } from "../database/open";
import { checkouts, facts, payments } from "../database/schema";
import { exchangeRow } from "../gateway/exchanges";
import { call, type GatewayAnswer, type Line, openLine } from "../gateway/gateway";
import { carrierOf } from "../offers/carrier";
import { offerOf, offersOf, type OfferWithRevisions, revisionFor } from "../offers/offers";
import { partsOf } from "../offers/parts";
import { type Payment, paymentOf, recordFacts } from "../payments/record";
import { recordReading } from "../payments/readings";
import type { Runtime } from "../runtime";
import { type Checkout, checkoutAddress, checkoutOf, decideFor } from "./checkouts";
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
  const decision = await decideFor(rt, checkout);
  if (!decision.shown.some((one) => one.id === offerId)) return { kind: "refused", because: "not-offered" };
  const offer = await offerOf(rt, checkout.storefrontId, offerId);
  const revision = offer && revisionFor(offer, checkout.mode);
  const money = offer && (await moneyRoad(rt, offer, checkout.mode));
  const line = money && (await openLine(rt, money.connectionId, checkout.mode, money.keySetId));
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
    parts: checkout.mode === "test" ? await partsOf(rt, offer) : {},
    // Should this process die in the middle, the worker asks the provider what became of it.
    lookUpAt: now + rt.settings.providerTimeout * 2 + 5_000,
    createdAt: now,
    updatedAt: now,
  };
  if (!(await claim(rt, checkout, payment))) {
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
    authentication: ridesAlong(offer.profile) ? "issuer" : document.authentication,
    statement: document.statement,
    reference: payment.reference,
    returnAddress: `${checkoutAddress(rt, checkout)}/back`,
    idempotencyKey: id,
  };
  await create(rt, line, written, input, options);
  return { kind: "payment", payment: (await paymentOf(rt, id)) ?? written };
}

/** The connection and method that move an offer's money: its own, or those that a device wallet rides on. */
async function moneyRoad(
  rt: Runtime,
  offer: OfferWithRevisions,
  mode: Mode,
): Promise<{ connectionId: string; keySetId: string; methodId: string } | null> {
  const rides = ridesAlong(offer.profile);
  const carrier = rides
    ? await carrierOf(rt, await offersOf(rt, offer.offer.storefrontId), offer.profile, mode)
    : null;
  const moves = rides ? carrier?.offer : offer;
  const keys = rides ? carrier?.keys : await payingKeys(rt, offer, mode);
  return moves && keys
    ? { connectionId: moves.connection.id, keySetId: keys.keySet.id, methodId: moves.offer.methodId }
    : null;
}

/** Claims the checkout and writes the payment, both or neither. */
async function claim(
  rt: Runtime,
  checkout: Checkout,
  payment: typeof payments.$inferInsert,
): Promise<boolean> {
  const now = rt.now();
  try {
    await rt.db.write([
      rt.db.orm
        .update(checkouts)
        .set({
          activePaymentId: payment.id,
          deviceAsk: null,
          // NOT NULL fails, and undoes the rest, unless the checkout is free.
          token:
            sql`case when state = 'open' and active_payment_id is null and expires_at > ${now} then token else null end` as never,
        })
        .where(eq(checkouts.id, checkout.id)),
      rt.db.orm.insert(payments).values(payment),
      rt.db.orm.insert(facts).values({
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
        label: "presses pay",
        mode: checkout.mode,
        paymentId: payment.id,
        checkoutId: checkout.id,
        ok: true,
      }),
    ]);
    return true;
  } catch (error) {
    if (isConflict(error)) return false;
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
    const answer = await call<PaymentReading>(rt, line, "create", input, { ...marks, loseAnswer });
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
    rt.db.orm
      .update(payments)
      .set({ lookUpAt: rt.now() + 3_000 })
      .where(eq(payments.id, payment.id)),
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
