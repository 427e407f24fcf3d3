import { and, eq, isNull, sql } from "drizzle-orm";
import { knownOrigins, ridesAlong } from "#core/profiles/profile";
import type { TokenReading } from "#core/profiles/response";
import { payingKeys } from "../connections/paying-keys";
import { checkouts } from "../database/schema";
import { keepExchange } from "../gateway/exchanges";
import { call, type Line, openLine } from "../gateway/gateway";
import { type OfferWithRevisions, offerOf } from "../offers/offers";
import type { Runtime } from "../runtime";
import { storefrontOf } from "../storefronts/storefronts";
import { type Checkout, checkoutAddress, checkoutOf, decideFor } from "./checkouts";
import { pay } from "./pay";

/** A request to the shopper's device is not waited for longer than this. */
const GIVE_UP_AFTER = 15 * 60_000;

export type Asked = { kind: "asked"; address: string } | { kind: "refused" } | { kind: "under-way" };

/** Whether an offer is paid with a token that the shopper's device hands over. */
export const asksDevice = ({ profile }: Pick<OfferWithRevisions, "profile">): boolean => ridesAlong(profile);

/**
 * Asks the shopper's device to pay a checkout's order. The answer, once the shopper has decided, is a one-time token;
 * see `takeToken`. Nothing is charged here.
 */
export async function requestToken(rt: Runtime, checkout: Checkout, offerId: string): Promise<Asked> {
  if (checkout.state !== "open" || checkout.activePaymentId) return { kind: "under-way" };
  const known = checkout.deviceAsk;
  if (known?.offerId === offerId && !known.over) return { kind: "asked", address: known.address };
  const decision = await decideFor(rt, checkout);
  const offer = decision.shown.some((one) => one.id === offerId)
    ? await offerOf(rt, checkout.storefrontId, offerId)
    : null;
  const keys = offer && (await payingKeys(rt, offer, checkout.mode));
  const line = keys && (await openLine(rt, offer.connection.id, checkout.mode, keys.keySet.id));
  const storefront = await storefrontOf(rt, checkout.storefrontId);
  if (!line || !storefront) return { kind: "refused" };
  const marks = { checkoutId: checkout.id };
  await keepExchange(rt, {
    at: rt.now(),
    from: "shopper",
    to: "zahlung",
    label: "presses pay",
    mode: checkout.mode,
    ...marks,
    ok: true,
  });
  const { order } = checkout;
  const input = {
    amount: order.total,
    currency: order.currency,
    reference: rt.ids.next("ask"),
    domain: storefront.domain,
    language: order.language,
    returnAddress: `${checkoutAddress(rt, checkout)}/back`,
  };
  const answer = await call<{ ref?: unknown; address?: unknown }>(rt, line, "requestToken", input, marks);
  if (answer.kind !== "answered") {
    rt.log.warn({ checkout: checkout.id, answer }, "a device wallet did not take a request");
    return { kind: "refused" };
  }
  const { ref, address } = answer.value;
  if (typeof ref !== "string" || typeof address !== "string" || !isKnown(line, address))
    return { kind: "refused" };
  const deviceAsk = {
    offerId,
    connectionId: line.connectionId,
    keySetId: line.keySetId,
    ref,
    address,
    at: rt.now(),
  };
  await rt.db.write([
    rt.db.orm
      .update(checkouts)
      .set({ deviceAsk })
      .where(
        and(eq(checkouts.id, checkout.id), eq(checkouts.state, "open"), isNull(checkouts.activePaymentId)),
      ),
  ]);
  return { kind: "asked", address };
}

const isKnown = (line: Line, address: string) =>
  URL.canParse(address) && knownOrigins(line.profile).includes(new URL(address).origin);

/** Reads what the shopper decided on the device. Null when nothing was asked, or the wallet did not say. */
export async function readToken(rt: Runtime, checkout: Checkout): Promise<TokenReading | null> {
  const { deviceAsk: asked } = checkout;
  if (!asked || asked.over || checkout.state !== "open" || checkout.activePaymentId) return null;
  const line = await openLine(rt, asked.connectionId, checkout.mode, asked.keySetId);
  if (!line) return null;
  const marks = { checkoutId: checkout.id };
  const answer = await call<TokenReading>(rt, line, "readToken", { ref: asked.ref }, marks);
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
    const paid = await pay(rt, checkout, asked.offerId, given);
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
  ]);
  const line = await openLine(rt, asked.connectionId, checkout.mode, asked.keySetId);
  if (line?.profile.operations.dropToken)
    await call(rt, line, "dropToken", { ref: asked.ref }, { checkoutId: checkout.id });
}

/** Asks wallets about requests that shoppers have not come back from; a rehearsal looks after its own. */
export async function takeTokens(rt: Runtime): Promise<boolean> {
  const waiting = await rt.db.orm
    .select({ id: checkouts.id })
    .from(checkouts)
    .where(
      sql`device_ask is not null and state = 'open' and active_payment_id is null and json_extract(device_ask, '$.over') is null
        and origin <> 'rehearsal'`,
    )
    .limit(50);
  for (const { id } of waiting) {
    const checkout = await checkoutOf(rt, id);
    if (checkout) await takeToken(rt, checkout);
  }
  return false;
}
