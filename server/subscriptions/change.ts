import { and, eq } from "drizzle-orm";
import { type Told, said } from "#core/said";
import type { Terms } from "#core/subscriptions/agreed";
import { dueAt, firstDayOf } from "#core/subscriptions/schedule";
import { regularSum } from "#core/subscriptions/terms";
import { guardFailed, isConflict } from "../database/guard";
import type { Statement } from "../database/open";
import { insertRow } from "../database/prepared";
import { instrumentRow, keptOf } from "../instruments/instruments";
import type { Period, Subscription } from "../database/rows";
import { subscriptionPeriods } from "../database/schema";
import type { Runtime } from "../runtime";
import { ending } from "./go-on";
import { changing, see, type Seen, subscriptionOf } from "./subscriptions";

/** What can be done to a subscription, by the shop, a person here, or its shopper. */
export const subscriptionActs = ["pause", "resume", "skip", "cancel", "cancel-at-end", "go-on"] as const;
export type SubscriptionAct = (typeof subscriptionActs)[number];
export const isSubscriptionAct = (value: unknown): value is SubscriptionAct =>
  subscriptionActs.some((one) => one === value);

export type Changed = { ok: true; subscription: Subscription } | { ok: false; says: Told };

/** Which acts a subscription takes as it stands. */
export function actsOf({ state, ends, schedule }: Subscription): SubscriptionAct[] {
  if (state === "ended") return [];
  if (state === "waiting" || !schedule) return ["cancel"];
  return [
    ...(state === "paused" ? (["resume"] as const) : (["pause"] as const)),
    ...(ends ? (["go-on"] as const) : (["skip", "cancel-at-end"] as const)),
    "cancel",
  ];
}

/** Does something to a subscription. What is there already is as it was wanted; who was quicker is taken into account. */
export async function actOn(rt: Runtime, id: string, act: SubscriptionAct, by: string): Promise<Changed> {
  return write(rt, id, (seen) => {
    if (isDone(seen.subscription, act)) return [];
    if (!actsOf(seen.subscription).includes(act))
      return said("subscriptions.cannot", { act, state: seen.subscription.state });
    return deeds[act](rt, seen, by);
  });
}

const isDone = ({ state, ends }: Subscription, act: SubscriptionAct): boolean =>
  (act === "pause" && state === "paused") ||
  (act === "cancel" && state === "ended") ||
  (act === "cancel-at-end" && (ends || state === "ended")) ||
  (act === "go-on" && !ends && state !== "ended") ||
  (act === "resume" && (state === "running" || state === "behind"));

const deeds: Record<SubscriptionAct, (rt: Runtime, seen: Seen, by: string) => Statement[]> = {
  pause: (rt, { subscription }, by) =>
    changing(rt, subscription, { state: "paused" }, { event: { what: "paused" }, by }),
  resume: (rt, { subscription, unsettled }, by) => {
    const { schedule, next } = subscription;
    // What went by meanwhile is not charged.
    let number = next;
    while (schedule && dueAt(schedule, number) <= rt.now()) number += 1;
    const state = unsettled?.period.refusedPaymentId ? "behind" : "running";
    return changing(
      rt,
      subscription,
      { state, next: number, nextDue: schedule && dueAt(schedule, number) },
      { event: { what: "resumed" }, by },
    );
  },
  skip: (rt, { subscription }, by) => {
    const { id, schedule, next: number } = subscription;
    if (!schedule) return [];
    return [
      ...changing(
        rt,
        subscription,
        { next: number + 1, nextDue: dueAt(schedule, number + 1) },
        { event: { what: "skipped", number }, by },
      ),
      insertRow(rt.db, subscriptionPeriods, {
        ...{ subscriptionId: id, number, first: firstDayOf(schedule, number) },
        ...{ until: firstDayOf(schedule, number + 1), dueAt: dueAt(schedule, number) },
        ...{ amount: 0, state: "skipped", settledAt: rt.now() },
      }),
    ];
  },
  cancel: (rt, { subscription }, by) => ending(rt, subscription, "cancelled", { by }),
  "cancel-at-end": (rt, { subscription }, by) =>
    changing(rt, subscription, { ends: true }, { event: { what: "ends-then" }, by }),
  "go-on": (rt, { subscription }, by) =>
    changing(rt, subscription, { ends: false }, { event: { what: "goes-on" }, by }),
};

/**
 * Changes plan or quantity from the next period on; what was charged stays as it was. The periods of another rhythm are
 * counted from the day on which the next would have begun.
 */
export const changePlan = (
  rt: Runtime,
  id: string,
  { terms, quantity }: { terms?: Terms; quantity?: number },
  by: string,
): Promise<Changed> =>
  write(rt, id, ({ subscription }) => {
    const { schedule, next, state } = subscription;
    if (state === "ended" || !schedule) return said("subscriptions.cannot", { act: "change", state });
    const plan = terms ?? subscription.terms;
    const pieces = quantity ?? subscription.quantity;
    const { rhythm, timeZone, fixedDay } = plan;
    const anew = {
      ...{ rhythm, timeZone, minute: schedule.minute },
      ...{ anchor: firstDayOf(schedule, next), anchorNumber: next },
      ...(fixedDay && { dayOfMonth: fixedDay.day }),
    };
    return changing(
      rt,
      subscription,
      {
        ...{ terms: plan, quantity: pieces },
        ...{ amount: regularSum(plan, pieces).total, currency: plan.currency },
        // A plan of so many times begins anew.
        ...(terms && { schedule: anew, nextDue: dueAt(anew, next), charged: 0 }),
      },
      { event: { what: "changed", plan: plan.plan, quantity: pieces }, by },
    );
  });

/**
 * Has a subscription charged to something else that its shopper has kept, and agreed to be charged by; where a charge is
 * refused at the moment, it is tried with that at once.
 */
export async function changeInstrument(
  rt: Runtime,
  id: string,
  instrumentId: string,
  by: string,
): Promise<Changed> {
  const subscription = await subscriptionOf(rt, id);
  const usable = subscription ? await instrumentsFor(rt, subscription) : [];
  const one = usable.find((each) => each.id === instrumentId);
  if (!one) return { ok: false, says: said("subscriptions.no-instrument") };
  return write(rt, id, (seen) => {
    const { state } = seen.subscription;
    if (seen.subscription.instrumentId === instrumentId) return [];
    if (state === "ended" || state === "waiting")
      return said("subscriptions.cannot", { act: "change", state });
    return [
      ...changing(
        rt,
        seen.subscription,
        { instrumentId, toldInstrument: instrumentId, offerId: one.offerId },
        { event: { what: "instrument-changed" }, by },
      ),
      ...(seen.unsettled ? [tryAnew(rt, seen.unsettled.period)] : []),
    ];
  });
}

/** The statement that has an open period tried as if it never had been. */
const tryAnew = (rt: Runtime, { subscriptionId, number }: Period): Statement =>
  rt.db.orm
    .update(subscriptionPeriods)
    .set({ tries: 0, reason: null })
    .where(
      and(
        eq(subscriptionPeriods.subscriptionId, subscriptionId),
        eq(subscriptionPeriods.number, number),
        eq(subscriptionPeriods.state, "open"),
      ),
    );

/** What a subscription's shopper has kept that it can be charged to: of the same account, and agreed to by as much as now. */
export async function instrumentsFor(rt: Runtime, subscription: Subscription) {
  const { storefrontId, mode, shopper, instrumentId } = subscription;
  const [all, now] = await Promise.all([
    keptOf(rt, { storefrontId, mode, shopper }),
    instrumentRow(rt, instrumentId),
  ]);
  return all.filter(
    (one) =>
      one.connectionId === now?.connectionId &&
      one.methodId === now.methodId &&
      (one.mayBeCharged || now.networkReference === null),
  );
}

/** Reads, decides and writes; read anew where somebody else has written in between. */
async function write(rt: Runtime, id: string, decide: (seen: Seen) => Statement[] | Told): Promise<Changed> {
  for (let attempt = 1; ; attempt++) {
    const seen = await see(rt, id);
    if (!seen) return { ok: false, says: said("subscriptions.none") };
    const decided = decide(seen);
    if (!Array.isArray(decided)) return { ok: false, says: decided as Told };
    if (decided.length === 0) return { ok: true, subscription: seen.subscription };
    try {
      await rt.db.write(decided as Statement[]);
      rt.nudge();
      const after = await see(rt, id);
      return { ok: true, subscription: after?.subscription ?? seen.subscription };
    } catch (error) {
      if (!(guardFailed(error) || isConflict(error)) || attempt === 8) throw error;
    }
  }
}
