import { isOver } from "#core/payments/fold";
import { guardFailed } from "../database/guard";
import type { Checkout } from "../database/rows";
import { call, lineOf } from "../gateway/gateway";
import { recordReading } from "../payments/readings";
import { paymentOf, recordFacts } from "../payments/record";
import type { Runtime } from "../runtime";
import { checkoutOf, closing } from "./checkouts";
import { dropToken } from "./device";
import { lookUp } from "./look-up";

/** The shopper turns back: a payment under way is let go at the provider first. */
export async function turnBack(rt: Runtime, checkout: Checkout): Promise<"cancelled" | "too-late"> {
  if (checkout.state !== "open") return checkout.state === "cancelled" ? "cancelled" : "too-late";
  if (checkout.activePaymentId && !(await letGo(rt, checkout.activePaymentId, { kind: "cancelled" })))
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
  return (await letGo(rt, checkout.activePaymentId, { kind: "cancelled" })) ? "free" : "too-late";
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
  if (checkout.activePaymentId && !(await letGo(rt, checkout.activePaymentId, { kind: "expired" }))) {
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
  statement: { kind: "cancelled" | "expired" },
): Promise<boolean> {
  const before = await paymentOf(rt, paymentId);
  const payment = before && (await lookUp(rt, before));
  if (!payment || isOver(payment.state)) return true;
  if (payment.state !== "pending" || !payment.providerRef) return false;
  const line = await lineOf(rt, payment);
  if (!line) return false;
  const marks = { paymentId, checkoutId: payment.checkoutId };
  const input = {
    ref: payment.providerRef,
    amount: payment.amount,
    currency: payment.currency,
    idempotencyKey: `${paymentId}-let-go`,
  };
  const answer = await call(rt, line, "void", input, marks);
  if (answer.kind !== "answered") return false;
  await recordFacts(rt, paymentId, [
    { key: `zahlung:${statement.kind}`, source: "zahlung", at: rt.now(), statement },
  ]);
  await recordReading(rt, line.profile, payment, answer.value, "answer");
  return isOver((await paymentOf(rt, paymentId))?.state ?? "created");
}
