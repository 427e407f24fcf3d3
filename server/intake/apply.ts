import { said, ToldError } from "#core/said";
import { and, desc, eq, inArray, sql } from "drizzle-orm";
import { fingerprint } from "#core/fingerprint";
import { type ObjectEvent, type PaymentEvent, readEvent } from "#core/profiles/event";
import { disputeOf, refundOf } from "#core/profiles/statements";
import { connectionOf } from "../connections/connections";
import { proveKeys } from "../connections/proving";
import type { Statement } from "../database/open";
import { prepared, rowsBy } from "../database/prepared";
import type { ProviderPayment, Webhook } from "../database/rows";
import { endpoints, payments, type WebhookOutcome, webhooks } from "../database/schema";
import { askFor } from "../jobs/jobs";
import { changed } from "../instruments/instruments";
import { paymentsNamed } from "../payments/named";
import { factsOf } from "../payments/readings";
import { paymentOf, recordFacts } from "../payments/record";
import { isThroughProvider } from "../payments/road";
import { askForPayouts } from "../payouts/read";
import type { ProfileVersion } from "../profiles/library";
import type { Runtime } from "../runtime";

const AT_A_TIME = 100;
const MOST_WORDS = 500;

const waitingAt = prepared((orm) =>
  orm
    .select()
    .from(webhooks)
    .where(and(eq(webhooks.endpointId, sql.placeholder("endpointId")), sql`outcome = 'waiting'`))
    .orderBy(webhooks.number)
    .limit(AT_A_TIME)
    .prepare(),
);

/**
 * Applies the verified messages that wait at one address, oldest first, until none does. One that cannot be applied gets
 * a job of its own, is tried again for three days and stands in nobody's way.
 */
export async function applyWaiting(rt: Runtime, endpointId: string): Promise<void> {
  for (;;) {
    const waiting = await waitingAt(rt.db).all({ endpointId });
    for (const webhook of waiting) {
      try {
        await apply(rt, webhook);
      } catch (error) {
        rt.log.warn({ err: error, webhook: webhook.number }, "a webhook could not be applied");
        await rt.db.write([
          outcomeOf(rt, webhook, { outcome: "failing", error: wordsOf(error) }),
          askFor(rt, { kind: "apply-webhook", key: String(webhook.number), lane: webhook.connectionId }),
        ]);
      }
    }
    if (waiting.length < AT_A_TIME) return;
  }
}

const wordsOf = (error: unknown) =>
  (error instanceof Error ? error.message : String(error)).slice(0, MOST_WORDS);

const outcomeOf = (
  rt: Runtime,
  { number, outcome }: Webhook,
  change: {
    outcome: WebhookOutcome;
    event?: string | null;
    paymentId?: string | null;
    error?: string | null;
  },
): Statement =>
  rt.db.orm
    .update(webhooks)
    .set({ error: null, ...change, ...(change.outcome !== "failing" && { appliedAt: rt.now() }) })
    // Two workers may hold the same row; only one may say what became of it.
    .where(and(eq(webhooks.number, number), eq(webhooks.outcome, outcome)));

/** Outcomes after which a person can have a message applied again. */
export const applicableAgain: readonly WebhookOutcome[] = [
  "failing",
  "given-up",
  "not-understood",
  "unknown-payment",
];

/** Applies one message again that could not be applied. Throws what still speaks against it. */
export async function applyAgain(rt: Runtime, number: number): Promise<void> {
  const [webhook] = await rt.db.orm.select().from(webhooks).where(eq(webhooks.number, number));
  if (!webhook || webhook.verdict !== "verified" || !applicableAgain.includes(webhook.outcome)) return;
  try {
    await apply(rt, webhook);
  } catch (error) {
    await rt.db.write([outcomeOf(rt, webhook, { outcome: "failing", error: wordsOf(error) })]);
    throw error;
  }
}

/** Says that a message is not tried any more until a person asks for it. */
export const giveUp = (rt: Runtime, number: number) =>
  rt.db.write([
    rt.db.orm
      .update(webhooks)
      .set({ outcome: "given-up" })
      .where(and(eq(webhooks.number, number), eq(webhooks.outcome, "failing"))),
  ]);

async function apply(rt: Runtime, webhook: Webhook): Promise<void> {
  const where = await connectionOf(rt, webhook.connectionId);
  if (!where) throw new ToldError(said("apply.connection-gone"));
  const side = where.versions[webhook.mode];
  const event = await readEvent(side.profile, webhook.body);
  const done = (outcome: WebhookOutcome, paymentId: string | null = null): Statement[] => [
    outcomeOf(rt, webhook, { outcome, event: event.name, paymentId }),
    rt.db.orm
      .update(endpoints)
      .set({
        provenAt: sql`coalesce(${endpoints.provenAt}, ${webhook.receivedAt})`,
        heardAt: sql`max(coalesce(${endpoints.heardAt}, 0), ${webhook.receivedAt})`,
      })
      .where(eq(endpoints.id, webhook.endpointId)),
  ];
  if (event.kind === "account") {
    await rt.db.write(done("account"));
    await proveKeys(rt, where, webhook.mode);
    return;
  }
  if (event.kind === "payout") {
    await rt.db.write([...done("account"), askForPayouts(rt, webhook.connectionId, webhook.mode)]);
    rt.nudge();
    return;
  }
  if (event.kind === "kept") {
    await rt.db.write([...done("account"), ...changed(rt, webhook, event.kept)]);
    return;
  }
  if (event.kind === "refund" || event.kind === "dispute") {
    const told = await objectTold(rt, webhook, event);
    if (!told) return void (await rt.db.write(done("unknown-payment")));
    const repeated = await isRepeat(rt, webhook);
    await recordFacts(rt, told.payment.id, [told.fact], {
      with: done(repeated ? "repeated" : "applied", told.payment.id),
    });
    return;
  }
  if (event.kind !== "payment") {
    await rt.db.write(done(event.kind === "ping" ? "ping" : "not-understood"));
    return;
  }
  const payment = await paymentSpokenOf(rt, webhook, event.payment.reference);
  const own = payment && (await asThePaymentReads(rt, payment, webhook, side, event));
  if (!payment || !own) {
    await rt.db.write(done("unknown-payment"));
    return;
  }
  const repeated = await isRepeat(rt, webhook);
  const { payment: reading, at } = own.event;
  await recordFacts(
    rt,
    payment.id,
    factsOf(own.profile, payment, reading, "webhook", at, webhook.messageId ?? ""),
    {
      providerRef: reading.ref,
      ...(reading.instrument && { instrument: reading.instrument }),
      ...(reading.kept && { kept: reading.kept }),
      with: done(repeated ? "repeated" : "applied", payment.id),
    },
  );
}

/** What a message about one refund or dispute states, in the words of the profile version that its payment pins. */
async function objectTold(rt: Runtime, { connectionId, mode, body }: Webhook, event: ObjectEvent) {
  const told = event.kind === "refund" ? event.refund : event.dispute;
  const named = (await paymentsNamed(rt, { connectionId, mode }, [told]))(told);
  const payment = named && (await paymentOf(rt, named.id));
  if (!payment || !isThroughProvider(payment) || payment.currency !== told.currency) return null;
  const { profile } = await rt.library.version(payment.profileVersionId);
  // Where that version cannot read it, it is as the one reads it that the connection runs now.
  const pinned = await readEvent(profile, body).catch(() => null);
  const statement =
    event.kind === "refund"
      ? refundOf(profile, pinned?.kind === "refund" ? pinned.refund : event.refund)
      : disputeOf(profile, pinned?.kind === "dispute" ? pinned.dispute : event.dispute);
  const key = `${event.kind}:${fingerprint(statement)}`;
  return { payment, fact: { key, source: "webhook" as const, at: event.at, statement } };
}

const byReference = rowsBy(payments, ["reference", "connectionId", "mode"]);

async function paymentSpokenOf(
  rt: Runtime,
  { connectionId, mode }: Webhook,
  reference: string,
): Promise<ProviderPayment | null> {
  const [payment] = await byReference(rt.db).all({ reference, connectionId, mode });
  return payment && isThroughProvider(payment) ? payment : null;
}

/**
 * A message read with the profile version that the payment pins; null when that takes it for another's. Where that version
 * cannot read it, it is as `side`, the version that the connection runs now, reads it: that one may have been mended.
 */
async function asThePaymentReads(
  rt: Runtime,
  payment: ProviderPayment,
  webhook: Webhook,
  side: ProfileVersion,
  event: PaymentEvent,
) {
  const { id, profile } = await rt.library.version(payment.profileVersionId);
  if (id === side.id) return { profile, event };
  const pinned = await readEvent(profile, webhook.body).catch(() => null);
  if (pinned?.kind !== "payment") return { profile: side.profile, event };
  return pinned.payment.reference === event.payment.reference ? { profile, event: pinned } : null;
}

const earlier = prepared((orm) =>
  orm
    .select({ number: webhooks.number })
    .from(webhooks)
    .where(
      and(
        eq(webhooks.endpointId, sql.placeholder("endpointId")),
        eq(webhooks.messageId, sql.placeholder("messageId")),
        eq(webhooks.verdict, "verified"),
        sql`number < ${sql.placeholder("number")}`,
      ),
    )
    .limit(1)
    .prepare(),
);

/** Whether the same message was received before, under the same id. */
async function isRepeat(rt: Runtime, { endpointId, messageId, number }: Webhook): Promise<boolean> {
  const [before] = await earlier(rt.db).all({ endpointId, messageId: messageId ?? "", number });
  return before !== undefined;
}

/** Lets go of messages that a rehearsal held back, newest first, so that later news overtakes earlier news. */
export async function releaseHeld(rt: Runtime, connectionId: string, reference: string): Promise<number> {
  const held = await rt.db.orm
    .select()
    .from(webhooks)
    .where(and(eq(webhooks.connectionId, connectionId), eq(webhooks.outcome, "held")))
    .orderBy(desc(webhooks.number));
  const mine = held.filter((one) => one.body.includes(reference));
  if (mine.length === 0) return 0;
  const numbers = mine.map((one) => one.number);
  const addresses = new Set(mine.map((one) => one.endpointId));
  await rt.db.write([
    rt.db.orm
      .insert(webhooks)
      .values(mine.map(({ number: _, ...one }) => ({ ...one, outcome: "waiting" as const }))),
    rt.db.orm.delete(webhooks).where(inArray(webhooks.number, numbers)),
    ...[...addresses].map((id) => askFor(rt, { kind: "apply-webhooks", key: id, lane: id })),
  ]);
  return mine.length;
}
