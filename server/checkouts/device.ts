import { askedOf } from "#core/orders/asked";
import { said } from "#core/said";
import { and, eq, isNull, sql } from "drizzle-orm";
import { nearestLocale } from "#core/profiles/telling";
import { knownOrigins, ridesAlong } from "#core/profiles/profile";
import type { TokenReading } from "#core/profiles/answers";
import { guard, guardFailed } from "../database/guard";
import type { Checkout } from "../database/rows";
import { checkouts } from "../database/schema";
import { keepExchange } from "../exchanges/exchanges";
import { call, type Line, openLine } from "../gateway/gateway";
import { seeTo, takeOff } from "../jobs/jobs";
import type { Runtime } from "../runtime";
import { offerIn, type OfferWithRevisions } from "../storefronts/now";
import { type Around, chargeIn, checkoutAddress, decideFor } from "./checkouts";
import { pay } from "./pay";

/** How often a wallet is asked about a request that a shopper has not come back from. */
export const TAKE_EVERY = 1_500;

/** A request to the shopper's device is not waited for longer than this. */
const GIVE_UP_AFTER = 15 * 60_000;

export type Asked =
  | { kind: "asked"; address: string }
  /** Another total would be asked for than the shopper was shown, or it is not offered. */
  | { kind: "refused"; because?: "total-changed" }
  | { kind: "under-way" };

/** Whether an offer is paid with a token that the shopper's device hands over. */
export const asksDevice = ({ profile }: Pick<OfferWithRevisions, "profile">): boolean => ridesAlong(profile);

/**
 * Asks the shopper's device to pay a checkout's order. The answer, once the shopper has decided, is a one-time token;
 * see `takeToken`. Nothing is charged here.
 */
export async function requestToken(
  rt: Runtime,
  checkout: Checkout,
  offerId: string,
  { device, seen }: { device?: Around["device"]; seen?: number } = {},
): Promise<Asked> {
  if (checkout.state !== "open" || checkout.activePaymentId) return { kind: "under-way" };
  const known = checkout.deviceAsk;
  if (known?.offerId === offerId && !known.over) return { kind: "asked", address: known.address };
  const { now, decision } = await decideFor(rt, checkout, device);
  const shown = decision.shown.find((one) => one.id === offerId);
  const amount = askedOf(checkout.order) + (shown ? chargeIn(checkout, shown) : 0);
  if (shown && seen !== undefined && seen !== amount) return { kind: "refused", because: "total-changed" };
  const offer = shown ? offerIn(now, offerId) : null;
  const keys = offer?.through.keys[checkout.mode].paying;
  const line =
    keys &&
    (await openLine(rt, {
      connectionId: offer.connection.id,
      mode: checkout.mode,
      keySetId: keys.keySet.id,
      versionId: offer.versions[checkout.mode].id,
    }));
  if (!line) return { kind: "refused" };
  const marks = { checkoutId: checkout.id };
  await keepExchange(rt, {
    at: rt.now(),
    from: "shopper",
    to: "zahlung",
    label: said("checkouts.presses-pay"),
    mode: checkout.mode,
    ...marks,
    ok: true,
  });
  const { order } = checkout;
  const input = {
    amount,
    currency: order.currency,
    reference: rt.ids.next("ask"),
    domain: now.storefront.domain,
    language: nearestLocale(line.profile, order.language),
    returnAddress: `${checkoutAddress(rt, checkout)}/back`,
  };
  const answer = await call(rt, line, "requestToken", input, marks);
  if (answer.kind !== "answered") {
    rt.log.warn({ checkout: checkout.id, answer }, "a device wallet did not take a request");
    return { kind: "refused" };
  }
  const { ref, address } = answer.value;
  if (!isKnown(line, address)) return { kind: "refused" };
  const deviceAsk = {
    offerId,
    connectionId: line.connectionId,
    keySetId: line.keySetId,
    versionId: line.versionId,
    ref,
    address,
    at: rt.now(),
    asked: amount,
    ...(device && { device }),
  };
  const free = and(
    eq(checkouts.id, checkout.id),
    eq(checkouts.state, "open"),
    isNull(checkouts.activePaymentId),
  );
  try {
    await rt.db.write([
      guard(checkouts, free),
      rt.db.orm.update(checkouts).set({ deviceAsk }).where(eq(checkouts.id, checkout.id)),
      // Shoppers may never come back from the device; a rehearsal looks after its own.
      ...(checkout.origin === "rehearsal"
        ? []
        : [
            seeTo(rt, {
              kind: "take-token",
              key: checkout.id,
              lane: line.connectionId,
              at: rt.now() + TAKE_EVERY,
            }),
          ]),
    ]);
  } catch (error) {
    if (!guardFailed(error)) throw error;
    return { kind: "under-way" };
  }
  rt.nudge();
  return { kind: "asked", address };
}

const isKnown = (line: Line, address: string) =>
  URL.canParse(address) && knownOrigins(line.profile).includes(new URL(address).origin);

/** Reads what the shopper decided on the device. Null when nothing was asked, or the wallet did not say. */
export async function readToken(rt: Runtime, checkout: Checkout): Promise<TokenReading | null> {
  const { deviceAsk: asked } = checkout;
  if (!asked || asked.over || checkout.state !== "open" || checkout.activePaymentId) return null;
  const line = await lineOfAsk(rt, checkout, asked);
  if (!line) return null;
  const marks = { checkoutId: checkout.id };
  const answer = await call(rt, line, "readToken", { ref: asked.ref }, marks);
  if (answer.kind === "refused" && answer.problem.kind === "not-found") return { state: "refused" };
  return answer.kind === "answered" ? answer.value : null;
}

/** Pays with the device's token once it is there. However often it is called, one payment at most comes of it. */
export async function takeToken(rt: Runtime, checkout: Checkout): Promise<void> {
  const { deviceAsk: asked } = checkout;
  const reading = await readToken(rt, checkout);
  if (!asked) return;
  const given = reading?.state === "given" && typeof reading.token === "string" ? reading.token : null;
  if (given) {
    const paid = await pay(rt, checkout, asked.offerId, given, {
      ...(asked.device && { device: asked.device }),
      // The token is good for the total that it was asked for.
      ...(asked.asked !== undefined && { seen: asked.asked }),
    });
    if (paid.kind === "refused") await endAsk(rt, checkout);
  } else if (reading?.state === "refused" || rt.now() - asked.at > GIVE_UP_AFTER) await endAsk(rt, checkout);
}

/** The request is over without a payment; the shopper may choose again. */
async function endAsk(rt: Runtime, { id, deviceAsk }: Checkout): Promise<void> {
  if (!deviceAsk) return;
  await rt.db.write([
    rt.db.orm
      .update(checkouts)
      .set({ deviceAsk: { ...deviceAsk, over: true } })
      .where(and(eq(checkouts.id, id), sql`json_extract(device_ask, '$.ref') = ${deviceAsk.ref}`)),
  ]);
}

/**
 * Takes a request back, at the wallet as well as that can be done, so that the shopper can pay another way or leave:
 * a token that comes of it all the same is never fetched, and without it nothing is charged.
 */
export async function dropToken(rt: Runtime, checkout: Checkout): Promise<void> {
  const { deviceAsk: asked } = checkout;
  if (!asked || asked.over) return;
  await rt.db.write([
    rt.db.orm
      .update(checkouts)
      .set({ deviceAsk: null })
      .where(and(eq(checkouts.id, checkout.id), sql`json_extract(device_ask, '$.ref') = ${asked.ref}`)),
    takeOff("take-token", checkout.id),
  ]);
  const line = await lineOfAsk(rt, checkout, asked);
  if (line?.profile.operations.dropToken)
    await call(rt, line, "dropToken", { ref: asked.ref }, { checkoutId: checkout.id });
}

/** The line that a request was made over, with the profile version it was made with. */
export const lineOfAsk = (
  rt: Runtime,
  { mode }: Pick<Checkout, "mode">,
  { connectionId, keySetId, versionId }: NonNullable<Checkout["deviceAsk"]>,
): Promise<Line | null> => openLine(rt, { connectionId, mode, keySetId, ...(versionId && { versionId }) });
