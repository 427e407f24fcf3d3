import { and, eq, inArray, sql } from "drizzle-orm";
import { readEvent } from "#core/profiles/event";
import type { Statement } from "../database/open";
import { connections, endpoints, payments, profiles, webhooks } from "../database/schema";
import { proveKeys } from "../connections/proving";
import { factsOf, isAbout } from "../payments/readings";
import { recordFacts } from "../payments/record";
import type { Runtime } from "../runtime";

type Webhook = typeof webhooks.$inferSelect;

const AT_A_TIME = 100;
const MOST_TRIES = 10;

/** Applies verified webhooks that wait, oldest first. Returns how many were worked on. */
export async function applyWebhooks(rt: Runtime): Promise<number> {
  const waiting = await rt.db.orm
    .select()
    .from(webhooks)
    .where(sql`outcome = 'waiting'`)
    .orderBy(webhooks.number)
    .limit(AT_A_TIME);
  for (const webhook of waiting) {
    try {
      await applyOne(rt, webhook);
    } catch (error) {
      rt.log.error({ error, webhook: webhook.number }, "webhook could not be applied");
      const outcome = webhook.tries + 1 >= MOST_TRIES ? "not-understood" : "waiting";
      await rt.db.write([
        rt.db.orm
          .update(webhooks)
          .set({ tries: webhook.tries + 1, outcome })
          .where(eq(webhooks.number, webhook.number)),
      ]);
    }
  }
  return waiting.length;
}

async function applyOne(rt: Runtime, webhook: Webhook): Promise<void> {
  const [row] = await rt.db.orm
    .select({ connection: connections, profile: profiles.document })
    .from(connections)
    .innerJoin(profiles, eq(profiles.id, connections.profileId))
    .where(eq(connections.id, webhook.connectionId));
  if (!row) return;
  const event = await readEvent(row.profile, webhook.body);
  const done = (outcome: string, paymentId: string | null = null): Statement[] => [
    rt.db.orm
      .update(webhooks)
      .set({ outcome, event: event.name, paymentId, appliedAt: rt.now() })
      // Two workers may hold the same row; only one may say what became of it.
      .where(and(eq(webhooks.number, webhook.number), eq(webhooks.outcome, "waiting"))),
    rt.db.orm
      .update(endpoints)
      .set({
        provenAt: sql`coalesce(${endpoints.provenAt}, ${webhook.receivedAt})`,
        heardAt: webhook.receivedAt,
      })
      .where(eq(endpoints.id, webhook.endpointId)),
  ];
  if (event.kind === "account") {
    await rt.db.write(done("account"));
    await proveKeys(rt, row, webhook.mode);
    return;
  }
  if (event.kind !== "payment") {
    await rt.db.write(done(event.kind === "ping" ? "ping" : "not-understood"));
    return;
  }
  const [payment] = await rt.db.orm
    .select()
    .from(payments)
    .where(
      and(
        eq(payments.reference, event.payment.reference),
        eq(payments.connectionId, webhook.connectionId),
        eq(payments.mode, webhook.mode),
      ),
    );
  if (!payment || !isAbout(payment, event.payment)) {
    await rt.db.write(done("unknown-payment"));
    return;
  }
  const repeated = await isRepeat(rt, webhook);
  await recordFacts(
    rt,
    payment.id,
    factsOf(row.profile, event.payment, "webhook", event.at, webhook.messageId ?? ""),
    {
      providerRef: event.payment.ref,
      ...(event.payment.instrument && { instrument: event.payment.instrument }),
      with: done(repeated ? "repeated" : "applied", payment.id),
    },
  );
}

/** Whether the same message was received before, under the same id. */
async function isRepeat(rt: Runtime, webhook: Webhook): Promise<boolean> {
  const [before] = await rt.db.orm
    .select({ number: webhooks.number })
    .from(webhooks)
    .where(
      and(
        eq(webhooks.endpointId, webhook.endpointId),
        eq(webhooks.messageId, webhook.messageId ?? ""),
        eq(webhooks.verdict, "verified"),
        sql`number < ${webhook.number}`,
      ),
    )
    .limit(1);
  return before !== undefined;
}

/** Lets go of messages that a rehearsal held back, newest first, so that later news overtakes earlier news. */
export async function releaseHeld(rt: Runtime, connectionId: string, reference: string): Promise<number> {
  const held = await rt.db.orm
    .select()
    .from(webhooks)
    .where(and(eq(webhooks.connectionId, connectionId), eq(webhooks.outcome, "held")))
    .orderBy(sql`number desc`);
  const mine = held.filter((one) => one.body.includes(reference));
  if (mine.length === 0) return 0;
  await rt.db.write([
    rt.db.orm.insert(webhooks).values(mine.map(({ number: _, ...one }) => ({ ...one, outcome: "waiting" }))),
    rt.db.orm.delete(webhooks).where(
      inArray(
        webhooks.number,
        mine.map((one) => one.number),
      ),
    ),
  ]);
  return mine.length;
}
