import { eq } from "drizzle-orm";
import { changesOf, type PaymentFinding } from "#core/findings/payment-findings";
import type { Statement } from "../database/open";
import { insertRow } from "../database/prepared";
import type { FindingRow, Payment } from "../database/rows";
import { findings } from "../database/schema";
import { statement } from "../database/statement";
import type { Runtime } from "../runtime";

/** The statements that make a payment's findings what they must be now. A rehearsal's oddities are its own affair. */
export function findingsFollow(
  rt: Runtime,
  payment: Payment,
  wanted: readonly PaymentFinding[],
  known: readonly FindingRow[],
): Statement[] {
  if (payment.origin === "rehearsal") return [];
  const { opened, back, gone } = changesOf(wanted, known);
  const now = rt.now();
  const change = (id: string, to: Partial<FindingRow>) =>
    rt.db.orm.update(findings).set(to).where(eq(findings.id, id));
  return [
    ...opened.map((one) => opening(rt, payment, one)),
    ...back.map(({ id }) => change(id, { state: "open", openedAt: now, resolvedAt: null })),
    ...gone.map(({ id }) => change(id, { state: "resolved", resolvedAt: now, person: null, reason: null })),
  ];
}

/** The statement that opens a finding about a payment; one that is known already stays as it is. */
export function opening(rt: Runtime, payment: Payment, { kind, detail, values }: PaymentFinding): Statement {
  const { storefrontId, mode, id: paymentId, orderReference } = payment;
  const row = { id: rt.ids.next("fnd"), storefrontId, mode, kind, paymentId, orderReference, detail, values };
  const { sql, params } = insertRow(rt.db, findings, { ...row, state: "open", openedAt: rt.now() }).toSQL();
  return statement(`${sql} on conflict do nothing`, params);
}

/** The statement that ends what was open of a kind about a payment. */
export const ending = (rt: Runtime, paymentId: string, kind: PaymentFinding["kind"]): Statement =>
  statement(
    "update findings set state = 'resolved', resolved_at = ? where payment_id = ? and kind = ? and state <> 'resolved'",
    [rt.now(), paymentId, kind],
  );
