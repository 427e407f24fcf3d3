import { and, desc, eq, gte, sql } from "drizzle-orm";
import { findingsOfPayment } from "#core/findings/payment-findings";
import { money } from "#core/money/money";
import type { CapturePolicy } from "#core/offers/offer";
import type { Identified, PaymentState } from "#core/payments/facts";
import { fold } from "#core/payments/fold";
import { expectedState, isTold, type Observed } from "#core/rehearsal/judge";
import type { RehearsalCase } from "#core/rehearsal/script";
import { said, type Told } from "#core/said";
import { prepared } from "../database/prepared";
import type { Payment, ProviderPayment } from "../database/rows";
import { rimFaults, webhooks } from "../database/schema";
import { call, lineOf, saysWhat } from "../gateway/gateway";
import { releaseHeld } from "../intake/apply";
import { recordedOf } from "../payments/facts";
import { paymentOf } from "../payments/record";
import { throughProvider } from "../payments/road";
import type { Runtime } from "../runtime";
import { operationsOf } from "../operations/operations";

const TEST = "test";
const NEWEST = 500;
/** By how much the clocks of two processes may differ, milliseconds. */
const CLOCKS_DIFFER = 60_000;

/** What a rehearsal asks of each message; what it says is not among it, because it is asked for again and again. */
const asked = {
  number: webhooks.number,
  verdict: webhooks.verdict,
  outcome: webhooks.outcome,
  paymentId: webhooks.paymentId,
  receivedAt: webhooks.receivedAt,
  appliedAt: webhooks.appliedAt,
};

const messages = prepared((orm) =>
  orm
    .select(asked)
    .from(webhooks)
    .where(
      and(
        // Read by their age: since the payment was made there are few, and of the connection there may be many.
        gte(webhooks.receivedAt, sql.placeholder("since")),
        sql`+${webhooks.connectionId} = ${sql.placeholder("connection")} and +${webhooks.mode} = ${TEST}`,
        // What is applied says whose it is. Only of what is not, what it says is looked through.
        sql`(+${webhooks.paymentId} = ${sql.placeholder("payment")} or
          (${webhooks.paymentId} is null and instr(${webhooks.body}, ${sql.placeholder("reference")}) > 0))`,
      ),
    )
    .orderBy(desc(webhooks.number))
    .limit(NEWEST)
    .prepare(),
);

/** What is known of the webhooks of the connection that speak of a payment, the newest first. */
export const webhooksAbout = (rt: Runtime, payment: Payment) =>
  messages(rt.db).all({
    since: payment.createdAt - CLOCKS_DIFFER,
    connection: payment.connectionId,
    payment: payment.id,
    reference: payment.reference,
  });

/** Whether nothing of these messages is still to be applied. */
export const allApplied = (list: readonly { outcome: string }[]): boolean =>
  list.every((one) => !["waiting", "held", "failing"].includes(one.outcome));

/** Waits until something holds, no longer than the settings allow a case. */
export async function waitFor(rt: Runtime, holds: () => Promise<boolean>): Promise<void> {
  const until = performance.now() + rt.settings.rehearsalPatience;
  while (!(await holds()) && performance.now() < until)
    await new Promise((resolve) => setTimeout(resolve, 60));
}

/** What a case led to: what was observed, and the payment if there is one; or what got in its way. */
export type Play =
  { ok: true; paymentId: string | null; observed: Observed } | { ok: false; says: Told; paymentId?: string };

export type Observation = { ok: true; observed: Observed } | { ok: false; says: Told };

/** Waits until everything expected has come, as long as patience lasts, and counts what is there. */
export async function observe(
  rt: Runtime,
  policy: CapturePolicy,
  script: RehearsalCase,
  paymentId: string,
): Promise<Observation> {
  const payment = async () => throughProvider((await paymentOf(rt, paymentId)) as Payment);
  const wanted = expectedState(script, (await payment()).amount === 0 ? "at-once" : policy);
  const held = async () =>
    (await webhooksAbout(rt, await payment())).filter((one) => one.outcome === "held").length;
  let late = 0;
  if (script.fault === "reorder-webhooks") {
    await waitFor(rt, async () => (await held()) >= 2);
    await letIn(rt, await payment());
  }
  if (script.fault === "delay-webhooks") {
    await waitFor(rt, async () => (await payment()).state === wanted && (await held()) > 0);
    if ((await payment()).state === wanted) late = await held();
    await letIn(rt, await payment());
  }
  const needsWebhook =
    script.checks.includes("webhook-arrived") && !(await isUntold(rt, await payment(), wanted));
  await waitFor(rt, async () => {
    const now = await payment();
    const ended = now.state === wanted && now.refunding === 0;
    const letsIn = late > 0 || script.fault === "reorder-webhooks";
    if (!letsIn && (!ended || !needsWebhook)) return ended;
    const about = await webhooksAbout(rt, now);
    // One that was on its way in while the others were let in.
    if (letsIn && about.some((one) => one.outcome === "held")) await letIn(rt, now);
    const arrived = about.filter((one) => one.verdict === "verified" && one.paymentId === paymentId).length;
    const enough = script.fault === "double-webhook" ? 2 : 1;
    return ended && (!needsWebhook || (arrived >= enough && allApplied(about)));
  });
  const seen = await observeNow(rt, await payment());
  return seen.ok ? { ok: true, observed: { ...seen.observed, late } } : seen;
}

/** Lets messages in that were held back; from now on they come as they are. */
async function letIn(rt: Runtime, { connectionId, reference }: ProviderPayment): Promise<void> {
  await rt.db.write([rt.db.orm.delete(rimFaults).where(eq(rimFaults.reference, reference))]);
  await releaseHeld(rt, connectionId, reference);
  rt.nudge();
}

/** Whether the provider sends no message of an outcome. */
async function isUntold(rt: Runtime, { profileVersionId }: ProviderPayment, state: PaymentState | "none") {
  const { profile } = await rt.library.version(profileVersionId);
  return !isTold(state, profile.webhooks?.silent ?? []);
}

/** Counts what there is of a payment now, here and at the provider. */
export async function observeNow(rt: Runtime, now: Payment): Promise<Observation> {
  const line = await lineOf(rt, now);
  const marks = { paymentId: now.id, checkoutId: now.checkoutId };
  const charges = line && (await call(rt, line, "find", { reference: now.reference }, marks));
  if (!line || !charges) return { ok: false, says: said("observe.keys-gone") };
  if (charges.kind !== "answered") return { ok: false, says: saysWhat(line.profile.name, charges) };
  const [own] = charges.value.payments;
  const about = (await webhooksAbout(rt, now)).sort((a, b) => a.number - b.number);
  const [known, operations] = await Promise.all([recordedOf(rt, now.id), operationsOf(rt, now.id)]);
  const answered = known.find((one) => one.source === "answer")?.recordedAt ?? 0;
  const standing = fold(known);
  const reports = known.flatMap(({ statement }) => (statement.object === "report" ? [statement] : []));
  const around = { amount: now.amount, currency: now.currency, surplus: false, late: null };
  const findings = findingsOfPayment(standing, { ...around, unknownStage: null, now: rt.now() });
  const totals = (one: { authorised: number; captured: number; refunded: number } | undefined) =>
    one
      ? {
          authorised: money(one.authorised, now.currency),
          captured: money(one.captured, now.currency),
          refunded: money(one.refunded, now.currency),
        }
      : null;
  return {
    ok: true,
    observed: {
      state: now.state,
      dispute: now.dispute,
      webhooks: about.filter((one) => one.verdict === "verified" && one.outcome !== "lost").length,
      withheld: about.filter((one) => one.outcome === "lost").length,
      repeated: about.filter((one) => one.outcome === "repeated").length,
      overtaken: about.filter((one, i) => (about[i - 1]?.receivedAt ?? 0) > one.receivedAt).length,
      early: about.filter((one) => one.appliedAt !== null && one.appliedAt <= answered).length,
      late: 0,
      untold: await isUntold(rt, throughProvider(now), now.state),
      refused: about.filter((one) => one.verdict !== "verified").length,
      charges: charges.value.payments.length,
      asks: operations.find((one) => one.kind === "create")?.asks ?? 0,
      waits: reports.filter((one) => one.status === "pending" && !one.challenge && !one.scan).length,
      refundsWaited: reports.filter((one) => one.parts?.some(isUnderWay)).length,
      refundsFailed: standing.refundsFailed > 0 ? 1 : 0,
      amountsTold: findings.filter((one) => one.kind === "other-amount").length,
      ...{ kept: 0, renewals: 0, planned: null, refusals: 0, asked: 0, plansTold: [] },
      ...{ shopAnswers: 0, strangersRefused: 0 },
      planAgreed: standing.instalments && {
        payments: standing.instalments.payments,
        each: money(standing.instalments.amount, now.currency),
        total: money(standing.instalments.total, now.currency),
      },
      free: now.amount === 0,
      ours: totals(now),
      theirs: totals(own),
    },
  };
}

const isUnderWay = (part: Identified): boolean =>
  part.object === "refund" && (part.state === "pending" || part.state === "requested");
