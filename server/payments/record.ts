import { and, eq, isNull, ne, sql } from "drizzle-orm";
import { findingsOfPayment, waitingKinds } from "#core/findings/payment-findings";
import { captureDue } from "#core/offers/holding";
import type { LateTerm } from "#core/storefronts/money-terms";
import { remindersOf } from "#core/ways/offline/terms";
import { askedOf } from "#core/orders/asked";
import { hasRoom, isSurplus, orderAfter, tellsOfOrder } from "#core/orders/paid";
import type { Statement as FactStatement } from "#core/payments/facts";
import { fold, isOver, isUnsettled, type Standing } from "#core/payments/fold";
import type { PaymentReading } from "#core/profiles/answers";
import { keepingOf } from "../instruments/instruments";
import { guardVersion, isConflict } from "../database/guard";
import type { Statement } from "../database/open";
import { insertRow, prepared, updateRow, within, rowsBy } from "../database/prepared";
import type { Payment } from "../database/rows";
import {
  checkouts,
  facts,
  findings,
  looks,
  offerRevisions,
  orders,
  payments,
  storefronts,
} from "../database/schema";
import type { FactSource } from "#core/payments/facts";
import { askFor, seeTo, takeOff } from "../jobs/jobs";
import { findingsFollow } from "../findings/record";
import { receiptsFollow } from "../receipts/follow";
import { subscriptionFollows } from "../subscriptions/follow";
import { newsOfOrder } from "../outbox/news";
import { isThroughProvider, laneOf } from "./road";
import type { Runtime } from "../runtime";

const DAY = 86_400_000;

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
  /** What was paid with as it is kept for the next time. */
  kept?: PaymentReading["kept"];
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

/** A payment with all that its recording goes by. */
const recorded = prepared((orm) => {
  const id = sql.placeholder("id");
  return {
    payment: orm
      .select({
        payment: payments,
        checkout: checkouts,
        order: orders,
        document: offerRevisions.document,
        declared: storefronts.stages,
        money: storefronts.money,
        look: looks,
        /** Whether it is being undone as a surplus. */
        undone: sql<number>`exists (select 1 from payment_operations o where o.payment_id = ${payments.id} and o.once like 'surplus-%')`,
      })
      .from(payments)
      .innerJoin(checkouts, eq(checkouts.id, payments.checkoutId))
      .innerJoin(orders, eq(orders.id, checkouts.orderId))
      .innerJoin(storefronts, eq(storefronts.id, payments.storefrontId))
      .innerJoin(offerRevisions, eq(offerRevisions.id, payments.revisionId))
      .leftJoin(looks, eq(looks.storefrontId, payments.storefrontId))
      .where(eq(payments.id, id))
      .prepare(),
    facts: orm.select().from(facts).where(eq(facts.paymentId, id)).orderBy(facts.number).prepare(),
    findings: orm.select().from(findings).where(eq(findings.paymentId, id)).prepare(),
    // Other checkouts of the same order that a shopper could still pay.
    others: orm
      .select()
      .from(checkouts)
      .where(
        and(
          eq(checkouts.state, "open"),
          sql`${checkouts.orderId} = (select c.order_id from payments p join checkouts c on c.id = p.checkout_id where p.id = ${id})`,
          sql`${checkouts.id} <> (select checkout_id from payments where id = ${id})`,
        ),
      )
      .prepare(),
  };
});

async function readForRecording(rt: Runtime, id: string) {
  const reads = recorded(rt.db);
  const [[row], known, found, others] = await rt.db.orm.batch([
    within(reads.payment, { id }),
    within(reads.facts, { id }),
    within(reads.findings, { id }),
    within(reads.others, { id }),
  ]);
  return row ? { ...row, facts: known, findings: found, others } : null;
}

type Seen = NonNullable<Awaited<ReturnType<typeof readForRecording>>>;

async function writeFacts(
  rt: Runtime,
  seen: Seen,
  fresh: readonly NewFact[],
  alongside: Alongside,
): Promise<Recorded> {
  const { payment } = seen;
  const now = rt.now();
  const statements: Statement[] = [...(alongside.with ?? [])];
  const all = [...seen.facts, ...fresh];
  const standing = fold(all);
  const sums = projected(standing, payment.currency);
  const moved =
    fresh.some(isDecided) ||
    // That it was paid out changes nothing for the order.
    Object.entries(sums).some(
      ([name, value]) => name !== "paidOut" && payment[name as keyof Payment] !== value,
    );
  // Where its provider leaves the next step to us; whether it does is looked up with its profile.
  const leavesSteps =
    fresh.length > 0 &&
    isThroughProvider(payment) &&
    (standing.toConfirm || (payment.capture === "at-once" && standing.held > 0));
  const stage = stageOf(seen, standing.state);
  const next: Payment = {
    ...payment,
    providerRef: payment.providerRef ?? alongside.providerRef ?? null,
    instrument: payment.instrument ?? alongside.instrument ?? null,
    ...sums,
    stage: stage.declared,
    version: payment.version + 1,
    updatedAt: now,
  };
  for (const fact of fresh)
    statements.push(insertRow(rt.db, facts, { ...fact, paymentId: payment.id, recordedAt: now }));
  if (fresh.length > 0 || next.providerRef !== payment.providerRef)
    statements.push(...projection(rt, payment, next));
  if (fresh.length > 0) {
    const { shopper, subscription } = seen.checkout.order;
    statements.push(
      ...keepingOf(rt, next, { shopper, subscriptionId: subscription?.id ?? null }, alongside.kept),
    );
    const surplus = isSurplus(seen.order, inOrder(seen, next));
    const late = lateTermOf(seen, next, all);
    const around = {
      amount: payment.amount,
      currency: payment.currency,
      surplus: surplus && (next.held > 0 || next.captured > next.refunded),
      late,
      unknownStage: stage.unknown,
      now,
    };
    const found = findingsOfPayment(standing, around);
    statements.push(...findingsFollow(rt, next, found, seen.findings));
    const kinds = waitingKinds(found, seen.findings);
    if (moved) statements.push(...worldFollows(rt, seen, next, { surplus, late, kinds }));
    if (leavesSteps)
      statements.push(askFor(rt, { kind: "take-steps", key: payment.id, lane: laneOf(payment) }));
  }
  if (statements.length > 0) await rt.db.write(statements);
  if (moved || leavesSteps) rt.nudge();
  return { payment: next, standing, added: fresh.length };
}

/**
 * The shop's stage for a state; a state that has none leaves the order where it is, and a stage that the shop no longer
 * declares is sent to nobody.
 */
function stageOf({ document, declared, payment }: Seen, state: Payment["state"]) {
  const stage = document.stages[state] ?? payment.stage;
  const known = stage === null || declared.includes(stage) || payment.origin !== "shop";
  return { declared: known ? stage : null, unknown: known ? null : stage };
}

/** Whether a person has decided something that work follows from. */
const isDecided = (one: Pick<NewFact, "statement">): boolean =>
  isTaken(one) || (one.statement.object === "decision" && one.statement.what === "let-go-on");

const isTaken = ({ statement }: Pick<NewFact, "statement">): boolean =>
  statement.object === "decision" && statement.what === "take-late";

/** A payment as its order sees it. */
const inOrder = ({ checkout }: Pick<Seen, "checkout">, payment: Payment) => ({
  ...payment,
  isPart: checkout.order.payNow !== undefined,
});

/** Whether money is there that came after the checkout was over. */
const isLate = ({ checkout, findings: known }: Seen, next: Payment): boolean =>
  next.held + next.captured > next.refunded &&
  (checkout.state === "expired" ||
    checkout.state === "cancelled" ||
    known.some((one) => one.kind === "late"));

/** What becomes of money that came late; a person may have taken it for the order. Null: it did not come late. */
function lateTermOf(
  seen: Seen,
  next: Payment,
  facts: readonly Pick<NewFact, "statement">[],
): LateTerm | null {
  if (!isLate(seen, next)) return null;
  const taken = facts.some(isTaken) || Object.hasOwn(seen.order.parts, next.id);
  return taken ? "accept" : seen.money.late;
}

/** A surplus goes back by itself when it comes up; what was there before orders were kept is a person's to decide. */
const undoes = ({ payment, undone }: Seen): boolean =>
  undone === 1 || (payment.authorised === 0 && payment.captured === 0);

/** Whether shoppers here get receipts; nobody does for what is tried by ourselves. */
const wantsReceipts = ({ payment, look }: Seen): boolean =>
  payment.origin !== "rehearsal" &&
  ((payment.mode === "live" ? look?.live : look?.working)?.receipts ?? false);

/** What follows from a payment that moved: for its order, its checkout, the shop, and the work to be done. */
function worldFollows(
  rt: Runtime,
  seen: Seen,
  next: Payment,
  { surplus, late, kinds }: { surplus: boolean; late: LateTerm | null; kinds: readonly string[] },
): Statement[] {
  const { order, checkout, payment } = seen;
  const unwanted = late !== null && late !== "accept";
  const after = { ...order, ...orderAfter(order, { ...inOrder(seen, next), unwanted }) };
  const tells = tellsOfOrder(after, inOrder(seen, next));
  const changed = {
    ...after,
    stage: tells ? (next.stage ?? order.stage) : order.stage,
    version: order.version + 1,
    updatedAt: rt.now(),
  };
  const { id } = changed;
  return [
    guardVersion(orders, order),
    updateRow(rt.db, orders, id, changed),
    ...checkoutFollows(rt, seen, next, changed),
    ...subscriptionFollows(rt, checkout),
    ...(payment.origin === "shop" ? newsOfOrder(rt, changed, next, checkout, kinds) : []),
    ...(wantsReceipts(seen) ? receiptsFollow(rt, payment, next, checkout.order.email) : []),
    ...workFollows(rt, seen, next, (surplus && undoes(seen)) || late === "return"),
  ];
}

/** What of a standing is kept beside the payment, so that lists need not fold. */
export const projected = (standing: Standing, currency: string) => {
  const { state, authorised, captured, released, held, refunded, refunding, inDispute, lost } = standing;
  const { dispute, review, paidOut } = standing;
  const heldUntil = held > 0 ? standing.until : null;
  const sums = { authorised, captured, released, held, refunded, refunding, inDispute, lost };
  return {
    state,
    ...sums,
    heldUntil,
    paidOut,
    dispute: dispute?.state ?? null,
    disputeDue: dispute?.due ?? null,
    review,
    decline: isOver(state) ? (standing.refusal?.reason ?? null) : null,
    fee: Object.hasOwn(standing.fees, currency) ? (standing.fees[currency] ?? null) : null,
  };
};

/** Renews the projection; its guard fails, and undoes the batch, when another process wrote in between. */
function projection(rt: Runtime, before: Payment, next: Payment): Statement[] {
  const { id } = next;
  return [guardVersion(payments, before), updateRow(rt.db, payments, id, next)];
}

/** What there is to be done in the background after a payment has moved. */
function workFollows(
  rt: Runtime,
  { document, checkout }: Pick<Seen, "document" | "checkout">,
  payment: Payment,
  surplus: boolean,
): Statement[] {
  const { id: key, mode, origin, state } = payment;
  // What is charged without the shopper is walked by nobody.
  const { subscription } = checkout.order;
  const walked = mode === "test" && origin !== "rehearsal" && (!subscription || subscription.begins);
  const lane = laneOf(payment);
  const through = isThroughProvider(payment);
  const waiting = state === "created" || state === "pending";
  return [
    through && isUnsettled(payment)
      ? seeTo(rt, { kind: "look-up", key, lane, at: rt.now() + 15_000 })
      : takeOff("look-up", key),
    ...(through ? captureFollows(rt, document, payment) : reminderFollows(rt, document, payment)),
    ...(surplus ? [askFor(rt, { kind: "undo-surplus", key, lane })] : []),
    // A purchase that a person walked through the test checkout may show a case.
    ...(through && walked && !waiting ? [askFor(rt, { kind: "judge-walk", key, lane })] : []),
  ];
}

/** Sees to it that what is held is captured once its days are over, where the offer says so. */
function captureFollows(rt: Runtime, { captureAfterDays }: Seen["document"], payment: Payment): Statement[] {
  const due = captureDue(captureAfterDays, payment);
  if (due === null) return [];
  const { id: key, held } = payment;
  return [
    held > 0
      ? askFor(rt, { kind: "capture-due", key, lane: laneOf(payment), at: due })
      : takeOff("capture-due", key),
  ];
}

/** Sees to it that a shopper is reminded of what is still to be paid, where the offer says so. */
function reminderFollows(
  rt: Runtime,
  { offline }: Seen["document"],
  { id: key, state, dueAt }: Payment,
): Statement[] {
  const [first] = offline ? remindersOf(offline) : [];
  if (first === undefined || dueAt === null) return [];
  return [
    state === "pending"
      ? seeTo(rt, { kind: "remind", key, lane: "mail", at: dueAt + first * DAY })
      : takeOff("remind", key),
  ];
}

/** Closes the checkout that was paid, with the others of its order; frees one whose payment came to nothing. */
function checkoutFollows(
  rt: Runtime,
  { checkout, payment, others }: Seen,
  next: Payment,
  order: Seen["order"],
): Statement[] {
  const mine = and(eq(checkouts.id, checkout.id), eq(checkouts.activePaymentId, payment.id));
  if (Object.hasOwn(order.parts, next.id) && checkout.state !== "paid") {
    const over = others.filter(
      (one) => !hasRoom(order, { amount: askedOf(one.order), isPart: one.order.payNow !== undefined }),
    );
    const [asked, idle] = [
      over.filter((one) => one.activePaymentId !== null),
      over.filter((one) => one.activePaymentId === null),
    ];
    return [
      rt.db.orm
        .update(checkouts)
        .set({ state: "paid", activePaymentId: payment.id, closedAt: rt.now() })
        .where(and(eq(checkouts.id, checkout.id), ne(checkouts.state, "paid"))),
      takeOff("expire-checkout", checkout.id),
      ...idle.map(({ id }) =>
        rt.db.orm
          .update(checkouts)
          .set({ state: "cancelled", closedAt: rt.now() })
          .where(and(eq(checkouts.id, id), eq(checkouts.state, "open"), isNull(checkouts.activePaymentId))),
      ),
      // Whoever pays another way meanwhile is not charged twice.
      ...(checkout.activePaymentId !== null && checkout.activePaymentId !== payment.id
        ? [askFor(rt, { kind: "let-go-payment", key: checkout.activePaymentId, lane: laneOf(next) })]
        : []),
      // What is asked of a shopper there is let go of.
      ...asked.map(({ id }) => askFor(rt, { kind: "let-go", key: id, lane: laneOf(next) })),
    ];
  }
  if (isOver(next.state) && checkout.state === "open")
    return [rt.db.orm.update(checkouts).set({ activePaymentId: null }).where(mine)];
  return [];
}

const byId = rowsBy(payments, ["id"]);

export async function paymentOf(rt: Runtime, id: string): Promise<Payment | null> {
  const [row] = await byId(rt.db).all({ id });
  return row ?? null;
}

/** Whether a payment is to be undone: its order is paid by another, or it came too late for a storefront that gives back. */
export async function isToBeUndone(rt: Runtime, { id }: Payment): Promise<boolean> {
  const seen = await readForRecording(rt, id);
  if (!seen) return false;
  const { order, payment, facts: known } = seen;
  return isSurplus(order, inOrder(seen, payment)) || lateTermOf(seen, payment, known) === "return";
}
