import { and, eq } from "drizzle-orm";
import { asText, isAsTold, readMade } from "#core/buttons/delivery";
import { askedOf } from "#core/orders/asked";
import { type Order, readOrder } from "#core/orders/order";
import type { SessionReading } from "#core/profiles/answers";
import { said } from "#core/said";
import { misfitsOf } from "../checkouts/fits-storefront";
import { checkoutOf, newCheckout, paymentsOf } from "../checkouts/checkouts";
import { pay } from "../checkouts/pay";
import { challengeOf } from "../checkouts/view";
import { guard, guardFailed, isConflict } from "../database/guard";
import type { ButtonSession, Checkout } from "../database/rows";
import { buttonSessions } from "../database/schema";
import { call } from "../gateway/gateway";
import { lookFor } from "../looks/looks";
import { offerOf } from "../offers/offers";
import { orderOf } from "../orders/orders";
import type { Runtime } from "../runtime";
import { mustStand, revisionFor } from "../storefronts/now";
import { askShop } from "./ask-shop";
import { changeSession, claimOrder, endSession, lineOfSession, sessionOf } from "./sessions";

/**
 * What a shopper is shown of a purchase: they have not agreed yet; they look once more, here or at the shop; the shop does not
 * answer; it goes on at its checkout; or it is over.
 */
export type Standing =
  | { kind: "open"; address: string | null }
  | { kind: "look"; where: "here" | "shop" }
  | { kind: "silent" }
  | { kind: "ordering" }
  | { kind: "checkout"; checkout: Checkout; address: string | null; says: "changed" | null }
  | { kind: "over" };

/** Asks the wallet what the shopper has agreed to; null where it does not say. */
async function readAgreed(rt: Runtime, session: ButtonSession): Promise<SessionReading | null> {
  const line = session.ref === null ? null : await lineOfSession(rt, session);
  if (!line) return null;
  const marks = session.checkoutId ? { checkoutId: session.checkoutId } : {};
  const answer = await call(rt, line, "readSession", { ref: session.ref }, marks);
  if (answer.kind === "refused" && answer.problem.kind === "not-found") return { state: "over" };
  return answer.kind === "answered" ? answer.value : null;
}

/** Takes up what a shopper has agreed to at the wallet, so that it can be ordered. */
async function takeUp(rt: Runtime, session: ButtonSession): Promise<void> {
  const reading = await readAgreed(rt, session);
  if (reading?.state === "over") return endSession(rt, session, "left");
  if (reading?.state !== "agreed") return;
  if (session.expiresAt <= rt.now()) return endSession(rt, session, "too-late");
  if (!isAsTold({ ...session, currency: session.cart.total.currency }, reading))
    return endSession(rt, session, "not-as-told");
  const { address: place = session.place, contact = null } = reading;
  await changeSession(rt, session.id, ["open"], { state: "agreed", place, contact });
}

/** Whether a shopper has to agree to the shop's terms before anything is ordered. */
const asksAgreement = async (rt: Runtime, storefrontId: string, mode: ButtonSession["mode"]) =>
  (await lookFor(rt, storefrontId, mode)).terms.how === "required";

/** Where a shopper looks once more, as the offer has it now. */
async function lookOf(rt: Runtime, { storefrontId, offerId, mode, lookAddress }: ButtonSession) {
  const offer = await offerOf(rt, storefrontId, offerId);
  const look = (offer && revisionFor(offer, mode)?.document.button?.lastLook) ?? "here";
  // Without a page of the shop's for it, the look is here; so it is where there is something to agree to first.
  if (look === "shop") return lookAddress === null ? "here" : look;
  return look === "none" && (await asksAgreement(rt, storefrontId, mode)) ? "here" : look;
}

/**
 * Goes on with a purchase when its shopper comes back, reloads or confirms: takes up what they agreed to, has the order made
 * once, and pays it with what the wallet gave. `confirmed`: they have looked at it. However often it is called, and from however
 * many tabs, one order at most comes of it, and nothing is charged that is not ordered.
 */
export async function goOn(rt: Runtime, before: ButtonSession, confirmed: boolean): Promise<Standing> {
  if (before.state === "open") await takeUp(rt, before);
  const session = (await sessionOf(rt, before.id)) ?? before;
  // What was never asked for at the shop is not ordered after its time.
  if ((session.state === "open" || session.state === "agreed") && session.expiresAt <= rt.now()) {
    await endSession(rt, session, "too-late");
    return { kind: "over" };
  }
  switch (session.state) {
    case "open":
      return { kind: "open", address: session.address };
    case "over":
      return { kind: "over" };
    case "ordered":
      return payOrdered(rt, session);
    default: {
      const look = await lookOf(rt, session);
      if (session.state === "agreed" && look !== "none" && !confirmed) return { kind: "look", where: look };
      return order(rt, session, confirmed);
    }
  }
}

/** Has the shop make the order, and takes it up as a checkout in the same breath. */
async function order(rt: Runtime, session: ButtonSession, pressed: boolean): Promise<Standing> {
  if (session.state === "ordering" && (session.claimedUntil ?? 0) > rt.now()) return { kind: "ordering" };
  // Who only looks at a purchase that the shop left unanswered does not ask again.
  if (session.state === "ordering" && !pressed) return { kind: "silent" };
  const claim = await claimOrder(rt, session);
  if (claim === "busy") return { kind: "ordering" };
  if (claim === "elsewhere") {
    await endSession(rt, session, "elsewhere");
    return { kind: "over" };
  }
  const { currency } = session.cart.total;
  const answer = await askShop(
    rt,
    session,
    "button.order",
    {
      ...{ session: session.id, basket: session.basket, offer: session.offerId, currency },
      ...{ language: session.cart.language, address: session.place, contact: session.contact ?? {} },
      ...{ delivery: session.delivery, total: asText(session.total - session.charge, currency) },
    },
    `${session.id}-order`,
  );
  const made = answer.kind === "answered" ? readMade(answer.body) : null;
  if (made?.kind === "refused") {
    await endSession(rt, session, made.because, made.says);
    return { kind: "over" };
  }
  const read = made?.kind === "given" ? readOrder(made.value) : null;
  const { storefront } = await mustStand(rt, session.storefrontId);
  const misfits = read?.ok ? misfitsOf(read.order, storefront) : [];
  if (!read?.ok || read.order.currency !== currency || misfits.length > 0) {
    // Why it does not fit, and nothing of what it says: it speaks of a person.
    const problems = read && !read.ok ? read.problems : misfits;
    if (read) rt.log.warn({ session: session.id, problems }, "the order that a shop made cannot be taken");
    // The claim ends at once, so that the next press asks again: the shop knows by the basket what it has made of it.
    await changeSession(rt, session.id, ["ordering"], { claimedUntil: rt.now() });
    return { kind: "silent" };
  }
  if (!(await openOrdered(rt, session, read.order))) return { kind: "ordering" };
  const ordered = (await sessionOf(rt, session.id)) ?? session;
  return payOrdered(rt, ordered);
}

/** Writes the order's checkout and the purchase's end together. False: another was quicker. */
async function openOrdered(rt: Runtime, session: ButtonSession, wanted: Order): Promise<boolean> {
  const { storefrontId, mode, id } = session;
  for (let attempt = 1; ; attempt++) {
    const known = await orderOf(rt, { storefrontId, mode, origin: "shop", reference: wanted.reference });
    const { checkout, statements } = newCheckout(
      rt,
      { storefrontId, mode, origin: "shop", order: wanted, known },
      { at: rt.now(), from: "shop", to: "zahlung", label: said("buttons.ordered"), ok: true },
    );
    try {
      await rt.db.write([
        guard(buttonSessions, and(eq(buttonSessions.id, id), eq(buttonSessions.state, "ordering"))),
        ...statements,
        rt.db.orm
          .update(buttonSessions)
          .set({ state: "ordered", checkoutId: checkout.id, claimedUntil: null })
          .where(eq(buttonSessions.id, id)),
      ]);
      return true;
    } catch (error) {
      if (guardFailed(error)) return false;
      if (!isConflict(error) || attempt === 3) throw error;
    }
  }
}

/** Pays an order with what the shopper agreed to at the wallet, once; what is not paid with it is paid at the checkout. */
async function payOrdered(rt: Runtime, session: ButtonSession): Promise<Standing> {
  const checkout = session.checkoutId ? await checkoutOf(rt, session.checkoutId) : null;
  if (!checkout) return { kind: "over" };
  const there = (says: "changed" | null = null, address: string | null = null): Standing => ({
    ...{ kind: "checkout", checkout, says, address },
  });
  const all = await paymentsOf(rt, checkout.id);
  if (checkout.state !== "open" || checkout.activePaymentId || all.length > 0) return there();
  if (askedOf(checkout.order) + session.charge !== session.total) return there("changed");
  const reading = await readAgreed(rt, session);
  if (reading?.state !== "agreed" || !reading.token) return there();
  const { device } = session.cart.asked;
  const paid = await pay(rt, checkout, session.offerId, reading.token, {
    ...{ seen: session.total, ...(device && { device }) },
  });
  if (paid.kind === "refused") return there(paid.because === "total-changed" ? "changed" : null);
  return there(null, paid.kind === "payment" ? await challengeOf(rt, paid.payment) : null);
}
