import type { Mode } from "#core/mode";
import { type Due, type PaymentSeen, receiptId, receiptsDue } from "#core/receipts/receipts";
import type { Statement } from "../database/open";
import type { Payment } from "../database/rows";
import { receipts } from "../database/schema";
import { askFor } from "../jobs/jobs";
import { isThroughProvider } from "../payments/road";
import type { Runtime } from "../runtime";

const seen = (payment: Payment): PaymentSeen => ({
  ...{ state: payment.state, through: isThroughProvider(payment) },
  ...{ held: payment.held, captured: payment.captured, refunded: payment.refunded },
});

/** The statements that write down a letter about a payment and ask for it to be sent. One that is there stays as it is. */
export function writing(
  rt: Pick<Runtime, "db" | "ids" | "now">,
  { id: paymentId, storefrontId, mode }: { id: string; storefrontId: string; mode: Mode },
  email: string,
  due: Due,
): Statement[] {
  const id = receiptId(paymentId, due);
  const { kind, refunded } = due;
  return [
    rt.db.orm
      .insert(receipts)
      .values({ id, storefrontId, mode, paymentId, kind, refunded, email, createdAt: rt.now() })
      .onConflictDoNothing(),
    askFor(rt, { kind: "send-receipt", key: id, lane: "mail" }),
  ];
}

/** The letters that follow from a payment that moved, to a shopper who left an address. */
export const receiptsFollow = (rt: Runtime, before: Payment, after: Payment, email: string): Statement[] =>
  email === "" ? [] : receiptsDue(seen(before), seen(after)).flatMap((due) => writing(rt, after, email, due));
