import { and, eq, sql } from "drizzle-orm";
import type { Course, OpenPeriod } from "#core/subscriptions/course";
import type { SubscriptionEvent } from "#core/subscriptions/event";
import { isOver } from "#core/payments/fold";
import { guardVersion } from "../database/guard";
import type { Statement } from "../database/open";
import { insertRow, prepared, rowsBy, updateRow, within } from "../database/prepared";
import type { Checkout, Payment, Period, Subscription } from "../database/rows";
import {
  checkouts,
  payments,
  subscriptionEvents,
  subscriptionPeriods,
  subscriptions,
} from "../database/schema";
import { chargeable } from "../instruments/instruments";
import { askFor } from "../jobs/jobs";
import type { Runtime } from "../runtime";
import { repeatLane } from "./follow";
import { tellShop } from "./news";

const byId = rowsBy(subscriptions, ["id"]);
const isOpen = () =>
  and(eq(subscriptionPeriods.subscriptionId, sql.placeholder("id")), eq(subscriptionPeriods.state, "open"));
/** The period of a subscription that is neither paid nor given up, with its order's checkout. */
const openOf = prepared((orm) =>
  orm
    .select({ period: subscriptionPeriods, checkout: checkouts })
    .from(subscriptionPeriods)
    .innerJoin(checkouts, eq(checkouts.id, subscriptionPeriods.checkoutId))
    .where(isOpen())
    .prepare(),
);
/** The payments of that checkout, in their order. */
const paymentsOfOpen = prepared((orm) =>
  orm
    .select({ payment: payments })
    .from(subscriptionPeriods)
    .innerJoin(payments, eq(payments.checkoutId, subscriptionPeriods.checkoutId))
    .where(isOpen())
    .orderBy(payments.createdAt)
    .prepare(),
);

export async function subscriptionOf(rt: Runtime, id: string): Promise<Subscription | null> {
  const [row] = await byId(rt.db).all({ id });
  return row ?? null;
}

/** A subscription by its shop's own number. */
export async function subscriptionByReference(
  rt: Runtime,
  {
    storefrontId,
    mode,
    origin,
    reference,
  }: Pick<Subscription, "storefrontId" | "mode" | "origin" | "reference">,
): Promise<Subscription | null> {
  const [row] = await rt.db.orm
    .select()
    .from(subscriptions)
    .where(
      and(
        eq(subscriptions.storefrontId, storefrontId),
        eq(subscriptions.mode, mode),
        eq(subscriptions.origin, origin),
        eq(subscriptions.reference, reference),
      ),
    );
  return row ?? null;
}

/** The period that was charged and is not settled, with its order's checkout and payments. */
export interface Unsettled {
  period: Period;
  checkout: Checkout;
  payments: Payment[];
}

/** A subscription with what decides its next deed. */
export interface Seen {
  subscription: Subscription;
  unsettled: Unsettled | null;
  course: Course;
}

/**
 * Reads a subscription as it stands, all of it at one moment: a checkout that is read before a charge of it would seem to
 * have been refused that charge. Null for one that is not there.
 */
export async function see(rt: Runtime, id: string): Promise<Seen | null> {
  const [[subscription], [found], tried] = await rt.db.orm.batch([
    within(byId(rt.db), { id }),
    within(openOf(rt.db), { id }),
    within(paymentsOfOpen(rt.db), { id }),
  ]);
  if (!subscription) return null;
  const unsettled = found ? { ...found, payments: tried.map(({ payment }) => payment) } : null;
  const { terms, state, nextDue, ends } = subscription;
  const open = unsettled && (await openPeriod(rt, subscription, unsettled));
  return {
    subscription,
    unsettled,
    course: {
      ...{ state, open, trying: terms.trying, nextDue: nextDue ?? Number.MAX_SAFE_INTEGER },
      // The last period is over when the one after it would begin.
      lastBefore: ends ? "cancelled" : chargedOut(subscription) ? "complete" : null,
    },
  };
}

/** Whether as many regular periods were charged as were agreed to; those that were left out are charged later. */
const chargedOut = ({ terms, charged }: Subscription): boolean =>
  terms.times !== null && charged >= terms.times;

async function openPeriod(
  rt: Runtime,
  { instrumentId, offerId }: Subscription,
  { period, checkout, payments }: Unsettled,
): Promise<OpenPeriod> {
  const { number, dueAt, tries, triedAt, asks, reason } = period;
  const chargedBy = offerId === null ? null : await chargeable(rt, instrumentId);
  return {
    ...{ number, dueAt, tries, triedAt, asks, reason, chargeable: chargedBy !== null },
    payment: standingOf(checkout, payments),
  };
}

function standingOf(checkout: Checkout, payments: readonly Payment[]): OpenPeriod["payment"] {
  if (checkout.state === "paid") return "paid";
  if (checkout.state !== "open") return "called-off";
  if (checkout.activePaymentId !== null) return "under-way";
  return payments.some(({ state }) => isOver(state)) ? "refused" : "none";
}

/** Changes of a subscription's row that a statement may write. */
export type Change = Partial<Omit<Subscription, "id" | "version" | "updatedAt">>;

/**
 * The statements that change a subscription, say what happened and by whom, tell the shop, and have it looked at again.
 * They fail as a whole, by a guard, where somebody else has changed it meanwhile.
 */
export function changing(
  rt: Runtime,
  seen: Subscription,
  change: Change,
  {
    event,
    by = "zahlung",
    more,
    at = rt.now(),
  }: {
    event: SubscriptionEvent;
    by?: string;
    more?: { order?: string; address?: string };
    /** The time that the subscription goes by. */
    at?: number;
  },
): Statement[] {
  const next: Subscription = { ...seen, ...change, version: seen.version + 1, updatedAt: at };
  const { id, ...rest } = next;
  return [
    guardVersion(subscriptions, seen),
    // What a payment has written in between stays.
    updateRow(rt.db, subscriptions, id, { ...without(rest, change), version: rest.version, updatedAt: at }),
    insertRow(rt.db, subscriptionEvents, { subscriptionId: id, at, by, event }),
    ...tellShop(rt, next, event, more),
    askFor(rt, { kind: "repeat", key: id, lane: repeatLane(seen.storefrontId) }),
  ];
}

/** Only what is changed: the mandate and the instrument are written by the payment that brings them. */
const without = (rest: Omit<Subscription, "id">, change: Change): Change =>
  Object.fromEntries(Object.keys(change).map((name) => [name, rest[name as keyof typeof rest]]));
