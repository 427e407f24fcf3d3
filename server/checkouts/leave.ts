import { isOver } from "#core/payments/fold";
import { and, eq, like, type SQL } from "drizzle-orm";
import { guard, guardFailed, isConflict } from "../database/guard";
import type { Checkout, Payment } from "../database/rows";
import { carryOut } from "../operations/carry-out";
import { checkouts, facts } from "../database/schema";
import { beginning, nothingUnderWay, underWayOf } from "../operations/operations";
import { paymentOf, recordFacts } from "../payments/record";
import { isThroughProvider } from "../payments/road";
import { letGoOffline } from "../ways/offline/money";
import type { Runtime } from "../runtime";
import { checkoutOf, closing } from "./checkouts";
import { dropToken } from "./device";
import { lookUp } from "./look-up";

/** Milliseconds that a shopper waits for a provider that is busy or silent. */
const SHOPPER_WAITS = 2_000;

/** The shopper turns back: a payment under way is let go at the provider first. */
export async function turnBack(rt: Runtime, checkout: Checkout): Promise<"cancelled" | "too-late"> {
  if (checkout.state !== "open") return checkout.state === "cancelled" ? "cancelled" : "too-late";
  if (checkout.activePaymentId && !(await letGo(rt, checkout.activePaymentId, "cancelled", SHOPPER_WAITS)))
    return "too-late";
  await dropToken(rt, checkout);
  try {
    await rt.db.write(closing(rt, checkout, "cancelled"));
  } catch (error) {
    if (!guardFailed(error)) throw error;
    return (await checkoutOf(rt, checkout.id))?.state === "cancelled" ? "cancelled" : "too-late";
  }
  rt.nudge();
  return "cancelled";
}

/**
 * The shopper wants to pay another way: what is under way is let go of at the provider first, and the checkout stays
 * open. Too late when it turned out to be paid, or the provider did not say.
 */
export async function chooseAgain(rt: Runtime, checkout: Checkout): Promise<"free" | "too-late"> {
  if (checkout.state !== "open") return "too-late";
  await dropToken(rt, checkout);
  if (!checkout.activePaymentId) return "free";
  return (await letGo(rt, checkout.activePaymentId, "cancelled", SHOPPER_WAITS)) ? "free" : "too-late";
}

/**
 * The shopper wants to pay another way although the provider does not say what became of what is under way: it is set aside
 * and looked up on. Should it turn out to be made, the order is paid by whichever came first, and the other is undone.
 */
export async function chooseOther(rt: Runtime, checkout: Checkout): Promise<"free" | "too-late"> {
  if ((await chooseAgain(rt, checkout)) === "free") return "free";
  const now = await checkoutOf(rt, checkout.id);
  const active = now?.activePaymentId ? await paymentOf(rt, now.activePaymentId) : null;
  if (now?.state !== "open") return "too-late";
  if (!active) return "free";
  const open = await underWayOf(rt, active.id);
  if (!open || (active.state !== "created" && active.state !== "pending")) return "too-late";
  return (await setAside(rt, active)) ? "free" : "too-late";
}

/** Has a checkout go on without its payment, which is looked up on. False when another process was quicker. */
async function setAside(rt: Runtime, { id, checkoutId }: Payment): Promise<boolean> {
  const statement = { object: "decision", what: "set-aside" } as const;
  const freed = [
    guard(checkouts, and(eq(checkouts.id, checkoutId), eq(checkouts.activePaymentId, id))),
    rt.db.orm.update(checkouts).set({ activePaymentId: null }).where(eq(checkouts.id, checkoutId)),
  ];
  try {
    await recordFacts(rt, id, [{ key: SET_ASIDE, source: "zahlung", at: rt.now(), statement }], {
      with: freed,
    });
  } catch (error) {
    if (!isConflict(error)) throw error;
    return false;
  }
  return true;
}

const SET_ASIDE = "zahlung:set-aside";

/** Lets go of a payment that nobody waits for any more. False when it is not known yet whether that was done. */
export const letGoOf = (rt: Runtime, paymentId: string): Promise<boolean> =>
  letGo(rt, paymentId, "cancelled", 0);

/** Whether a shopper pays another way meanwhile. */
export const isSetAside = (rt: Runtime, paymentId: string): Promise<boolean> =>
  isKnown(rt, paymentId, eq(facts.key, SET_ASIDE));

/** Whether the provider tells only of another payment under this one's name: there is nothing of it to let go of. */
const isMistaken = (rt: Runtime, { id, state }: Payment): Promise<boolean> =>
  state === "created" ? isKnown(rt, id, like(facts.key, "misfit:%")) : Promise.resolve(false);

async function isKnown(rt: Runtime, paymentId: string, which: SQL): Promise<boolean> {
  const [row] = await rt.db.orm
    .select({ number: facts.number })
    .from(facts)
    .where(and(eq(facts.paymentId, paymentId), which))
    .limit(1);
  return row !== undefined;
}

/** Thrown when a payment under way could not be let go: it turned out to be paid, or the provider did not say. */
export class NotLetGo extends Error {
  readonly code = "not-let-go";
  constructor() {
    super("the provider did not let go of the payment, or did not say");
    this.name = "NotLetGo";
  }
}

/** Ends a checkout whose time is over; a payment under way is looked up and let go first. Throws `not-let-go`. */
export async function expireCheckout(rt: Runtime, checkout: Checkout): Promise<void> {
  if (checkout.state !== "open") return;
  if (checkout.activePaymentId && !(await letGo(rt, checkout.activePaymentId, "expired", 0))) {
    // One that turned out to be paid has ended the checkout.
    if ((await checkoutOf(rt, checkout.id))?.state !== "open") return;
    throw new NotLetGo();
  }
  try {
    await rt.db.write(closing(rt, checkout, "expired"));
  } catch (error) {
    if (!guardFailed(error)) throw error;
  }
  rt.nudge();
}

/** Ends an open checkout before its time. False while a payment under way could not be let go of. */
export async function endCheckout(rt: Runtime, checkout: Checkout): Promise<boolean> {
  const now = async () => (await checkoutOf(rt, checkout.id)) ?? checkout;
  try {
    if ((await chooseAgain(rt, checkout)) === "free") await expireCheckout(rt, await now());
  } catch (error) {
    if (!(error instanceof NotLetGo)) throw error;
  }
  return (await now()).state !== "open";
}

/** Voids a pending payment. False when it turned out to be paid, or the provider did not say. */
async function letGo(
  rt: Runtime,
  paymentId: string,
  state: "cancelled" | "expired",
  patience: number,
): Promise<boolean> {
  const before = await paymentOf(rt, paymentId);
  if (before && !isThroughProvider(before)) return letGoOffline(rt, before, state);
  const payment = before && (await lookUp(rt, before));
  // Why it was let go says more than that it was; it may have been asked for earlier and done only now.
  const because = () =>
    recordFacts(rt, paymentId, [
      { key: `zahlung:${state}`, source: "zahlung", at: rt.now(), statement: { object: "attempt", state } },
    ]);
  if (payment?.state === "voided") await because();
  if (!payment || isOver(payment.state)) return true;
  // A person decides about the money, as its finding says; nobody waits for that.
  if (await isMistaken(rt, payment)) return (await isSetAside(rt, paymentId)) || setAside(rt, payment);
  if (payment.state !== "pending" || !payment.providerRef) return false;
  const { operation, statements } = beginning(rt, payment, {
    kind: "void",
    amount: payment.amount,
    once: rt.ids.next("let-go"),
    person: "zahlung",
    before: { captured: payment.captured, released: payment.released, returned: payment.refunded },
  });
  try {
    await rt.db.write([nothingUnderWay(payment.id), ...statements]);
  } catch (error) {
    if (!isConflict(error)) throw error;
    return false;
  }
  const carried = await carryOut(rt, operation.id, { first: true, patience });
  if (carried?.operation.state !== "done") return false;
  await because();
  return isOver((await paymentOf(rt, paymentId))?.state ?? "created");
}
