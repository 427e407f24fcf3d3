import { and, lte, sql } from "drizzle-orm";
import { deliverNews } from "../outbox/deliver";
import { applyWebhooks } from "../intake/apply";
import { expireCheckout } from "../checkout/leave";
import { takeTokens } from "../checkout/device";
import { lookUp } from "../checkout/look-up";
import { overdueCheckouts } from "../checkout/checkouts";
import { followRegistrations, followReviews, followSilence } from "../connections/following";
import { payments } from "../database/schema";
import { act } from "../payments/actions";
import { runWaitingRehearsal } from "../rehearsal/run";
import type { Runtime } from "../runtime";
import { forgetAnswers } from "../shop-api/once";

/** A piece of background work. `every` is the longest sleep between rounds, milliseconds. */
interface Task {
  name: string;
  every: number;
  /** Housekeeping: sleeps through nudges, which come with every payment. */
  unhurried?: true;
  /** Does what is due; true when there may be more at once. */
  round: (rt: Runtime) => Promise<boolean>;
}

const tasks: Task[] = [
  { name: "webhooks", every: 400, round: async (rt) => (await applyWebhooks(rt)) > 0 },
  { name: "news", every: 500, round: async (rt) => (await deliverNews(rt)) > 0 },
  { name: "look-ups", every: 1_000, round: lookUpOpen },
  { name: "devices", every: 1_500, unhurried: true, round: takeTokens },
  { name: "checkouts", every: 5_000, round: expireOverdue },
  { name: "surplus", every: 2_000, round: undoSurplus },
  { name: "rehearsals", every: 500, round: runWaitingRehearsal },
  { name: "reviews", every: 60_000, unhurried: true, round: followReviews },
  { name: "registrations", every: 60_000, unhurried: true, round: followRegistrations },
  { name: "silence", every: 60_000, unhurried: true, round: followSilence },
  { name: "old answers", every: 3_600_000, unhurried: true, round: forgetOldAnswers },
];

/** Asks providers about payments whose outcome is open and whose time has come. */
async function lookUpOpen(rt: Runtime): Promise<boolean> {
  const due = await rt.db.orm
    .select()
    .from(payments)
    .where(and(sql`look_up_at is not null`, lte(payments.lookUpAt, rt.now())))
    .limit(10);
  for (const payment of due) await lookUp(rt, payment);
  return due.length === 10;
}

async function expireOverdue(rt: Runtime): Promise<boolean> {
  const overdue = await overdueCheckouts(rt);
  for (const checkout of overdue) await expireCheckout(rt, checkout);
  return false;
}

async function forgetOldAnswers(rt: Runtime): Promise<boolean> {
  await forgetAnswers(rt);
  return false;
}

/** A second yes for an order that is paid already is let go, or handed back where the money has moved. */
async function undoSurplus(rt: Runtime): Promise<boolean> {
  const surplus = await rt.db.orm
    .select()
    .from(payments)
    .where(sql`attention = 'surplus'`)
    .limit(10);
  for (const payment of surplus) {
    if (payment.state === "authorised")
      await act(rt, "zahlung", payment, "void", payment.authorised, "surplus");
    else if (payment.captured > payment.refunded) {
      await act(rt, "zahlung", payment, "refund", payment.captured - payment.refunded, "surplus");
    }
  }
  return false;
}

/** Starts the background work. The returned function ends it after the rounds under way. */
export function startWorker(rt: Runtime): () => Promise<void> {
  let ended = false;
  const sleepers = new Map<() => void, boolean>();
  const nudged = () => sleepers.forEach((unhurried, wake) => !unhurried && wake());
  rt.onNudge.add(nudged);
  const sleep = (ms: number, unhurried = false) =>
    new Promise<void>((resolve) => {
      const done = () => {
        clearTimeout(timer);
        sleepers.delete(done);
        resolve();
      };
      const timer = setTimeout(done, ms);
      sleepers.set(done, unhurried);
    });
  const loop = async ({ name, every, unhurried, round }: Task) => {
    while (!ended) {
      let more = false;
      try {
        more = await round(rt);
      } catch (error) {
        rt.log.error({ error, task: name }, "background work failed");
        await sleep(1_000);
      }
      if (!more && !ended) await sleep(every, unhurried);
    }
  };
  const loops = tasks.map(loop);
  return async () => {
    ended = true;
    rt.onNudge.delete(nudged);
    sleepers.forEach((_, wake) => wake());
    await Promise.all(loops);
  };
}
