import { eq } from "drizzle-orm";
import { changesOf, type PaymentFinding } from "#core/findings/payment-findings";
import type { StandingFindingKind } from "#core/findings/kinds";
import type { SaidValues } from "#core/said";
import type { Statement } from "../database/open";
import { insertRow } from "../database/prepared";
import type { FindingRow, Payment } from "../database/rows";
import { findings } from "../database/schema";
import { statement } from "../database/statement";
import type { Runtime } from "../runtime";

/** Something to look at that is about no single payment: an account, a payout, work in the background. */
export interface Found {
  mode: FindingRow["mode"];
  kind: StandingFindingKind;
  subject: string;
  /** Tells it from others of its kind about the same. */
  detail: string;
  values: SaidValues;
}

/** The statements that make a payment's findings what they must be now. A rehearsal's oddities are its own affair. */
export function findingsFollow(
  rt: Runtime,
  payment: Payment,
  wanted: readonly PaymentFinding[],
  known: readonly FindingRow[],
): Statement[] {
  if (payment.origin === "rehearsal") return [];
  const changes = changesOf(wanted, known);
  return [...changes.opened.map((one) => opening(rt, payment, one)), ...changing(rt, changes)];
}

/** The statements that take up findings that came back, and end those that went away. */
export function changing(
  rt: Runtime,
  { back, gone }: { back: readonly FindingRow[]; gone: readonly FindingRow[] },
): Statement[] {
  const now = rt.now();
  const change = (id: string, to: Partial<FindingRow>) =>
    rt.db.orm.update(findings).set(to).where(eq(findings.id, id));
  return [
    ...back.map(({ id }) => change(id, { state: "open", openedAt: now, resolvedAt: null })),
    ...gone.map(({ id }) => change(id, { state: "resolved", resolvedAt: now, person: null, reason: null })),
  ];
}

/** The statement that opens a finding about a payment; one that is known already stays as it is. */
export const opening = (rt: Runtime, payment: Payment, { kind, detail, values }: PaymentFinding): Statement =>
  insertion(rt, {
    ...{ storefrontId: payment.storefrontId, mode: payment.mode, kind, detail, values },
    ...{ subject: payment.id, paymentId: payment.id, orderReference: payment.orderReference },
  });

/** The statement that opens a finding; one that is known already stays as it is. */
export function insertion(
  rt: Runtime,
  finding: Pick<
    FindingRow,
    "storefrontId" | "mode" | "kind" | "subject" | "paymentId" | "orderReference" | "detail" | "values"
  >,
): Statement {
  const row = { ...finding, id: rt.ids.next("fnd"), state: "open" as const, openedAt: rt.now() };
  const { sql, params } = insertRow(rt.db, findings, row).toSQL();
  return statement(`${sql} on conflict do nothing`, params);
}

/** The statement that keeps what is counted of an open finding up with what is there now. */
export const recount = (rt: Runtime, { id }: FindingRow, values: SaidValues): Statement =>
  rt.db.orm.update(findings).set({ values }).where(eq(findings.id, id));

/** The statement that ends what was open of a kind about a payment. */
export const ending = (rt: Runtime, paymentId: string, kind: PaymentFinding["kind"]): Statement =>
  statement(
    "update findings set state = 'resolved', resolved_at = ? where payment_id = ? and kind = ? and state <> 'resolved'",
    [rt.now(), paymentId, kind],
  );
