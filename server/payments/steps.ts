import { and, eq, inArray } from "drizzle-orm";
import { movedOf } from "#core/operations/operation";
import { allowedActions } from "#core/payments/actions";
import type { Standing } from "#core/payments/fold";
import { methodOf, type Profile } from "#core/profiles/profile";
import type { AnswerFault } from "#core/rehearsal/script";
import { standingOf } from "#core/profiles/statements";
import { guard, isConflict } from "../database/guard";
import type { Payment } from "../database/rows";
import { checkouts } from "../database/schema";
import { type Line, lineOf } from "../gateway/gateway";
import { carryOut, readAtProvider } from "../operations/carry-out";
import { beginning, nothingUnderWay, pressedBefore, underWayOf } from "../operations/operations";
import type { Runtime } from "../runtime";
import { capabilitiesOf } from "./actions";
import { standingNow } from "./ask-provider";
import { recordReading } from "./readings";
import { isToBeUndone, paymentOf } from "./record";

/** How long until a payment that something else is asked of is looked at again, milliseconds. */
const AGAIN = 10_000;

/** A step that a provider leaves to us after a payment was asked for. */
export interface NextOfPayment {
  kind: "confirm" | "capture";
  amount: number;
}

/**
 * What of a payment's steps is next: confirming what its provider has only prepared, or taking what is held where money that
 * is to be captured at once is taken by a call of its own. Null: nothing.
 */
export function nextOf(
  profile: Profile,
  payment: Pick<Payment, "methodId" | "capture" | "amount" | "captured">,
  standing: Standing,
): NextOfPayment | null {
  if (standing.toConfirm)
    return profile.operations.confirm ? { kind: "confirm", amount: payment.amount } : null;
  const method = methodOf(profile, payment.methodId);
  if (!method?.capturedByCall || payment.capture !== "at-once" || payment.captured > 0) return null;
  const { capture } = allowedActions(standing, capabilitiesOf(profile, payment.methodId));
  return capture.allowed ? { kind: "capture", amount: standing.held } : null;
}

/**
 * Takes the steps of a payment that its provider leaves to us, one after the other, each once. What its checkout does not
 * wait for any more is neither confirmed nor captured. Returns milliseconds until it is to be looked at again; null: there is nothing to do.
 */
export async function takeSteps(
  rt: Runtime,
  paymentId: string,
  { patience }: { patience?: number } = {},
): Promise<number | null> {
  for (;;) {
    const payment = await paymentOf(rt, paymentId);
    const line = payment && (await lineOf(rt, payment));
    if (!payment?.providerRef || !line) return null;
    const standing = await standingNow(rt, paymentId);
    const next = nextOf(line.profile, payment, standing);
    if (!next || (await pressedBefore(rt, paymentId, onceOf(next)))) return null;
    const other = await underWayOf(rt, paymentId);
    // What only a person can answer is not waited for.
    if (other) return other.state === "question" ? null : AGAIN;
    // What is to go back is not taken first.
    if (next.kind === "capture" && (await isToBeUndone(rt, payment))) return null;
    const { operation, statements } = beginning(rt, payment, {
      ...{ ...next, once: onceOf(next), person: "zahlung", final: next.kind === "capture" },
      before: movedOf(standing),
    });
    // Its checkout waits for it, or was paid with it: what came late is a person's to take first.
    const wanted = and(
      eq(checkouts.id, payment.checkoutId),
      inArray(checkouts.state, ["open", "paid"]),
      eq(checkouts.activePaymentId, payment.id),
    );
    try {
      await rt.db.write([guard(checkouts, wanted), nothingUnderWay(paymentId), ...statements]);
    } catch (error) {
      if (!isConflict(error)) throw error;
      return (await underWayOf(rt, paymentId)) ? AGAIN : null;
    }
    const carried = await carryOut(rt, operation.id, {
      first: true,
      ...(patience !== undefined && { patience }),
    });
    // What is not known yet is gone on with by its own work, which comes back here with what it finds.
    if (carried?.operation.state !== "done") return null;
  }
}

/** Whether a step of a payment is still to be taken by itself, or something is asked of its provider. */
export async function isUnderWay(rt: Runtime, { id }: Payment): Promise<boolean> {
  const payment = await paymentOf(rt, id);
  const line = payment && (await lineOf(rt, payment));
  if (!payment || !line) return false;
  const next = nextOf(line.profile, payment, await standingNow(rt, id));
  const isNext = next !== null && (await pressedBefore(rt, id, onceOf(next))) === null;
  return isNext || (await underWayOf(rt, id)) !== null;
}

/**
 * Confirms a payment whose provider waits for it, with a rehearsal's fault. What the provider says and the operation are
 * written together, so that nobody else begins it. False: there is nothing to confirm yet.
 */
export async function confirmBy(
  rt: Runtime,
  line: Line,
  paymentId: string,
  fault: AnswerFault,
): Promise<boolean> {
  const payment = await paymentOf(rt, paymentId);
  const reading = payment && (await readAtProvider(rt, line, payment));
  if (!payment || !reading) return false;
  const standing = standingOf(line.profile, reading);
  const next = nextOf(line.profile, payment, standing);
  if (next?.kind !== "confirm") return false;
  const { operation, statements } = beginning(rt, payment, {
    ...{ ...next, once: onceOf(next), person: "rehearsal", before: movedOf(standing) },
  });
  await recordReading(rt, line.profile, payment, reading, "look-up", [
    nothingUnderWay(paymentId),
    ...statements,
  ]);
  await carryOut(rt, operation.id, { first: true, fault });
  return true;
}

const onceOf = ({ kind }: NextOfPayment): string => `step-${kind}`;
