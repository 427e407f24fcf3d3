import { and, eq, gt, isNull } from "drizzle-orm";
import { said } from "#core/said";
import { guard, guardFailed } from "../database/guard";
import type { Statement } from "../database/open";
import { insertRow } from "../database/prepared";
import type { Checkout, Payment } from "../database/rows";
import { checkouts, facts, payments } from "../database/schema";
import { exchangeRow } from "../exchanges/exchanges";
import { takeOff } from "../jobs/jobs";
import type { Runtime } from "../runtime";
import { checkoutOf } from "./checkouts";

export type Paid =
  | { kind: "payment"; payment: Payment }
  /** Another press, tab or reload was first: its payment is the one. */
  | { kind: "under-way"; paymentId: string | null }
  | { kind: "refused"; because: "not-offered" | "closed" | "no-keys" | "total-changed" };

/** What became of a press that came when the checkout was claimed already, or over. */
export async function whoWasFirst(rt: Runtime, { id }: Checkout): Promise<Paid> {
  const fresh = await checkoutOf(rt, id);
  if (fresh?.state === "open" && fresh.activePaymentId === null)
    return { kind: "refused", because: "closed" };
  return { kind: "under-way", paymentId: fresh?.activePaymentId ?? null };
}

/** Claims the checkout and writes the payment, both or neither. */
export async function claim(
  rt: Runtime,
  checkout: Checkout,
  payment: typeof payments.$inferInsert,
  statements: readonly Statement[],
): Promise<boolean> {
  const now = rt.now();
  const { id } = payment;
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
      ...statements,
      ...(checkout.deviceAsk ? [takeOff("take-token", checkout.id)] : []),
      insertRow(rt.db, facts, {
        paymentId: payment.id,
        key: "zahlung:created",
        source: "zahlung",
        at: now,
        recordedAt: now,
        statement: { object: "attempt", state: "created" },
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
