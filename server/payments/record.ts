import { and, eq, ne } from "drizzle-orm";
import type { Statement as FactStatement } from "#core/payments/facts";
import { fold, isOver, isPaid, type Standing } from "#core/payments/fold";
import { guard, isConflict } from "../database/guard";
import type { Statement } from "../database/open";
import type { Payment } from "../database/rows";
import { checkouts, facts, offerRevisions, payments } from "../database/schema";
import type { FactSource } from "#core/payments/facts";
import { askFor, seeTo, takeOff } from "../jobs/jobs";
import { newsOfPayment } from "../outbox/news";
import type { Runtime } from "../runtime";

export interface NewFact {
  key: string;
  source: FactSource;
  at: number;
  statement: FactStatement;
  person?: string;
}

/** What comes with the facts from their source, once known: the provider's reference and the instrument. */
export interface Alongside {
  providerRef?: string;
  instrument?: string;
  /** Statements to be written in the same transaction, such as marking a webhook as applied. */
  with?: readonly Statement[];
}

export interface Recorded {
  payment: Payment;
  standing: Standing;
  /** How many of the facts were new. */
  added: number;
}

/**
 * Adds facts to a payment and renews everything that follows from them in one transaction: the projection, the
 * checkout, the news for the shop, what is to be done next. Facts already known change nothing. When another
 * process was quicker, all is read and decided again. Returns null for an unknown payment.
 */
export async function recordFacts(
  rt: Runtime,
  paymentId: string,
  news: readonly NewFact[],
  alongside: Alongside = {},
): Promise<Recorded | null> {
  for (let attempt = 1; ; attempt++) {
    const seen = await readForRecording(rt, paymentId);
    if (!seen) return null;
    const known = new Set(seen.facts.map((fact) => fact.key));
    const fresh = news.filter((fact) => !known.has(fact.key));
    try {
      return await writeFacts(rt, seen, fresh, alongside);
    } catch (error) {
      if (!isConflict(error) || attempt === 12) throw error;
    }
  }
}

async function readForRecording(rt: Runtime, paymentId: string) {
  const { orm } = rt.db;
  const [[row], known] = await orm.batch([
    orm
      .select({ payment: payments, checkout: checkouts, document: offerRevisions.document })
      .from(payments)
      .innerJoin(checkouts, eq(checkouts.id, payments.checkoutId))
      .innerJoin(offerRevisions, eq(offerRevisions.id, payments.revisionId))
      .where(eq(payments.id, paymentId)),
    orm.select().from(facts).where(eq(facts.paymentId, paymentId)).orderBy(facts.number),
  ]);
  return row ? { ...row, facts: known } : null;
}

type Seen = NonNullable<Awaited<ReturnType<typeof readForRecording>>>;

async function writeFacts(
  rt: Runtime,
  seen: Seen,
  fresh: readonly NewFact[],
  alongside: Alongside,
): Promise<Recorded> {
  const { payment, checkout, document } = seen;
  const now = rt.now();
  const statements: Statement[] = [...(alongside.with ?? [])];
  const standing = fold([...seen.facts, ...fresh]);
  const stage = document.stages[standing.state] ?? null;
  const closedAlready = checkout.state === "paid" && checkout.activePaymentId !== payment.id;
  const surplus = isPaid(standing.state) && !isPaid(payment.state) && closedAlready;
  const waiting = standing.state === "created" || standing.state === "pending";
  const next: Payment = {
    ...payment,
    providerRef: payment.providerRef ?? alongside.providerRef ?? null,
    instrument: payment.instrument ?? alongside.instrument ?? null,
    ...projected(standing),
    stage,
    attention: surplus
      ? "surplus"
      : standing.contradiction
        ? "contradiction"
        : payment.attention === "surplus" && isOver(standing.state)
          ? null
          : payment.attention,
    version: payment.version + 1,
    updatedAt: now,
  };
  const moved = Object.entries(projected(standing)).some(
    ([name, value]) => payment[name as keyof Payment] !== value,
  );
  if (fresh.length > 0) {
    statements.push(
      rt.db.orm.insert(facts).values(
        fresh.map((fact) => ({
          ...fact,
          paymentId: payment.id,
          recordedAt: now,
          person: fact.person ?? null,
        })),
      ),
    );
  }
  if (fresh.length > 0 || next.providerRef !== payment.providerRef)
    statements.push(...projection(rt, payment, next));
  if (moved) {
    statements.push(...checkoutFollows(rt, seen, next));
    if (payment.origin === "shop") statements.push(...newsOfPayment(rt, next, checkout));
    statements.push(...workFollows(rt, next, waiting));
  }
  if (statements.length > 0) await rt.db.write(statements);
  if (moved) rt.nudge();
  return { payment: next, standing, added: fresh.length };
}

/** What of a standing is kept beside the payment, so that lists need not fold. */
export const projected = (standing: Standing) => {
  const { state, authorised, captured, released, held, refunded, refunding, inDispute, lost } = standing;
  const { until: heldUntil, dispute, review } = standing;
  const sums = { authorised, captured, released, held, refunded, refunding, inDispute, lost };
  return {
    state,
    ...sums,
    heldUntil,
    dispute: dispute?.state ?? null,
    disputeDue: dispute?.due ?? null,
    review,
  };
};

/** Renews the projection; its guard fails, and undoes the batch, when another process wrote in between. */
function projection(rt: Runtime, before: Payment, next: Payment): Statement[] {
  const { id, ...rest } = next;
  return [
    guard(payments, and(eq(payments.id, id), eq(payments.version, before.version))),
    rt.db.orm.update(payments).set(rest).where(eq(payments.id, id)),
  ];
}

/** What there is to be done in the background after a payment has moved. */
function workFollows(rt: Runtime, payment: Payment, waiting: boolean): Statement[] {
  const { id: key, connectionId: lane, mode, origin, attention } = payment;
  return [
    waiting ? seeTo(rt, { kind: "look-up", key, lane, at: rt.now() + 15_000 }) : takeOff("look-up", key),
    ...(attention === "surplus" ? [askFor(rt, { kind: "undo-surplus", key, lane })] : []),
    // A purchase that a person walked through the test checkout may show a case.
    ...(mode === "test" && origin !== "rehearsal" && !waiting
      ? [askFor(rt, { kind: "judge-walk", key, lane })]
      : []),
  ];
}

function checkoutFollows(rt: Runtime, { checkout, payment }: Seen, next: Payment): Statement[] {
  const mine = and(eq(checkouts.id, checkout.id), eq(checkouts.activePaymentId, payment.id));
  if (isPaid(next.state) && checkout.state !== "paid") {
    return [
      rt.db.orm
        .update(checkouts)
        .set({ state: "paid", activePaymentId: payment.id, closedAt: rt.now() })
        .where(and(eq(checkouts.id, checkout.id), ne(checkouts.state, "paid"))),
      takeOff("expire-checkout", checkout.id),
    ];
  }
  if (isOver(next.state) && checkout.state === "open") {
    return [rt.db.orm.update(checkouts).set({ activePaymentId: null }).where(mine)];
  }
  return [];
}

export async function paymentOf(rt: Runtime, id: string): Promise<Payment | null> {
  const [row] = await rt.db.orm.select().from(payments).where(eq(payments.id, id));
  return row ?? null;
}
