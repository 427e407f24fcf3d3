import { and, eq, sql } from "drizzle-orm";
import type { Statement as FactStatement } from "#core/payments/facts";
import { fold, isOver, isPaid, type Standing } from "#core/payments/fold";
import { walkedCase } from "#core/rehearsal/walked";
import { isConflict, type Statement } from "../database/open";
import { checkouts, facts, offerRevisions, payments, proofs } from "../database/schema";
import type { FactSource } from "#core/payments/facts";
import { newsOfPayment } from "../outbox/news";
import type { Runtime } from "../runtime";

export type Payment = typeof payments.$inferSelect;

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
 * checkout, the news for the shop, the proof of a walked case. Facts already known change nothing. When another
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
    state: standing.state,
    authorised: standing.authorised,
    captured: standing.captured,
    refunded: standing.refunded,
    stage,
    attention: surplus
      ? "surplus"
      : standing.contradiction
        ? "contradiction"
        : payment.attention === "surplus" && isOver(standing.state)
          ? null
          : payment.attention,
    version: payment.version + 1,
    lookUpAt: waiting ? (payment.lookUpAt ?? now + 15_000) : null,
    updatedAt: now,
  };
  const moved =
    next.state !== payment.state || next.captured !== payment.captured || next.refunded !== payment.refunded;
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
    statements.push(projection(rt, payment, next));
  if (moved) {
    statements.push(...checkoutFollows(rt, seen, next));
    if (payment.origin === "shop") statements.push(newsOfPayment(rt, next, checkout));
    const proof = walkedProof(rt, seen, next, [...seen.facts, ...fresh]);
    if (proof) statements.push(proof);
  }
  if (statements.length > 0) await rt.db.write(statements);
  if (moved) rt.nudge();
  return { payment: next, standing, added: fresh.length };
}

/** Renews the projection; fails on NOT NULL when another process wrote in between, and so undoes the batch. */
function projection(rt: Runtime, before: Payment, next: Payment): Statement {
  const { id: _, version: __, ...rest } = next;
  return rt.db.orm
    .update(payments)
    .set({
      ...rest,
      version: sql`case when version = ${before.version} then version + 1 else null end` as never,
    })
    .where(eq(payments.id, before.id));
}

function checkoutFollows(rt: Runtime, { checkout, payment }: Seen, next: Payment): Statement[] {
  const mine = and(eq(checkouts.id, checkout.id), eq(checkouts.activePaymentId, payment.id));
  if (isPaid(next.state) && checkout.state !== "paid") {
    return [
      rt.db.orm
        .update(checkouts)
        .set({ state: "paid", activePaymentId: payment.id, closedAt: rt.now() })
        .where(and(eq(checkouts.id, checkout.id), sql`state <> 'paid'`)),
    ];
  }
  if (isOver(next.state) && checkout.state === "open") {
    return [rt.db.orm.update(checkouts).set({ activePaymentId: null }).where(mine)];
  }
  return [];
}

/** A purchase that a person walked through the test checkout counts as a case. */
function walkedProof(
  rt: Runtime,
  { payment }: Seen,
  next: Payment,
  all: readonly { statement: FactStatement }[],
): Statement | null {
  if (payment.mode !== "test" || payment.origin === "rehearsal") return null;
  const caseId = walkedCase(
    all.map((one) => one.statement),
    payment.capture,
  );
  if (!caseId) return null;
  const verdict = { what: "State", expected: next.state, happened: next.state, ok: true };
  const row = {
    id: rt.ids.next("prf"),
    connectionId: payment.connectionId,
    offerId: payment.offerId,
    caseId,
    how: "walked" as const,
    state: "passed" as const,
    startedAt: payment.createdAt,
    endedAt: rt.now(),
    verdicts: [verdict],
    paymentId: payment.id,
    parts: payment.parts,
  };
  return rt.db.orm
    .insert(proofs)
    .values(row)
    .onConflictDoUpdate({
      target: [proofs.paymentId, proofs.how],
      set: { caseId, endedAt: row.endedAt, verdicts: [verdict] },
    });
}

export async function paymentOf(rt: Runtime, id: string): Promise<Payment | null> {
  const [row] = await rt.db.orm.select().from(payments).where(eq(payments.id, id));
  return row ?? null;
}
