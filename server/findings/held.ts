import { and, gt, isNotNull, lt, ne, sql } from "drizzle-orm";
import { ENDS_SOON, findingsOfPayment } from "#core/findings/payment-findings";
import { fold } from "#core/payments/fold";
import { findings, payments } from "../database/schema";
import type { Runtime } from "../runtime";
import { opening } from "./record";
import { recordedOf } from "../payments/facts";

const AT_A_TIME = 500;

/** Tells of money whose hold ends soon: nothing arrives when time goes by, so it has to be looked for. */
export async function followHolds(rt: Runtime): Promise<void> {
  const now = rt.now();
  const ending = await rt.db.orm
    .select()
    .from(payments)
    .where(
      and(
        gt(payments.held, 0),
        isNotNull(payments.heldUntil),
        lt(payments.heldUntil, now + ENDS_SOON),
        ne(payments.origin, "rehearsal"),
        sql`not exists (select 1 from ${findings} f where f.payment_id = ${payments.id} and f.kind = 'held-ends')`,
      ),
    )
    .limit(AT_A_TIME);
  for (const payment of ending) {
    const known = await recordedOf(rt, payment.id);
    const { amount, currency } = payment;
    const around = { amount, currency, surplus: false, late: null, unknownStage: null, now };
    const found = findingsOfPayment(fold(known), around).filter((one) => one.kind === "held-ends");
    if (found.length > 0) await rt.db.write(found.map((one) => opening(rt, payment, one)));
  }
}
