import { isOver } from "#core/payments/fold";
import { guardFailed, isConflict } from "../database/guard";
import type { Checkout } from "../database/rows";
import { carryOut } from "../operations/carry-out";
import { beginning, nothingUnderWay } from "../operations/operations";
import { paymentOf, recordFacts } from "../payments/record";
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

/** Voids a pending payment. False when it turned out to be paid, or the provider did not say. */
async function letGo(
  rt: Runtime,
  paymentId: string,
  state: "cancelled" | "expired",
  patience: number,
): Promise<boolean> {
  const before = await paymentOf(rt, paymentId);
  const payment = before && (await lookUp(rt, before));
  // Why it was let go says more than that it was; it may have been asked for earlier and done only now.
  const because = () =>
    recordFacts(rt, paymentId, [
      { key: `zahlung:${state}`, source: "zahlung", at: rt.now(), statement: { object: "attempt", state } },
    ]);
  if (payment?.state === "voided") await because();
  if (!payment || isOver(payment.state)) return true;
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
