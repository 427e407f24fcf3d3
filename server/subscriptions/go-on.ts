import { and, desc, eq } from "drizzle-orm";
import { said, ToldError } from "#core/said";
import { asksBy, type Ending, nextDeed } from "#core/subscriptions/course";
import { orderNumberOf, orderOf } from "#core/subscriptions/order";
import { dayAt, dueAt, firstDayOf } from "#core/subscriptions/schedule";
import { regularSum, scheduleFrom } from "#core/subscriptions/terms";
import { LONGEST_TRYING } from "#core/subscriptions/plan";
import { checkoutAddress, closing, newCheckout, paymentsOf } from "../checkouts/checkouts";
import { chargeLater } from "../checkouts/pay";
import { guard, guardFailed, isConflict } from "../database/guard";
import type { Statement } from "../database/open";
import { insertRow, updateRow } from "../database/prepared";
import type { Checkout, Period, Subscription } from "../database/rows";
import { checkouts, subscriptionPeriods, subscriptions } from "../database/schema";
import { chargeable } from "../instruments/instruments";
import { askFor } from "../jobs/jobs";
import { operationsOf } from "../operations/operations";
import { orderOf as knownOrder } from "../orders/orders";
import type { Runtime } from "../runtime";
import { changing, see, type Seen, type Unsettled } from "./subscriptions";

const DAY = 86_400_000;
/** No subscription has more to do at once; what goes on for longer is taken up again. */
const MOST_DEEDS = 24;

/**
 * Does what is to be done for a subscription at a time, deed after deed, until there is but to wait. Whatever dies in
 * between, the next call goes on from what is written: a period is there once, and its order is paid once.
 * @returns until when there is nothing to do, milliseconds since the epoch; null: until somebody does something.
 */
export async function goOn(rt: Runtime, id: string, at: number = rt.now()): Promise<number | null> {
  for (let deeds = 0; deeds < MOST_DEEDS; deeds++) {
    const seen = await see(rt, id);
    if (!seen) return null;
    try {
      const until = await goOnOnce(rt, seen, at);
      if (until !== "again") return until;
    } catch (error) {
      // Somebody else was quicker: what they wrote is read and gone on from.
      if (!guardFailed(error) && !isConflict(error)) throw error;
    }
  }
  return at;
}

async function goOnOnce(rt: Runtime, seen: Seen, at: number): Promise<number | null | "again"> {
  const { subscription, unsettled, course } = seen;
  if (subscription.state === "waiting") return (await begin(rt, subscription, at)) ? "again" : null;
  if (subscription.state === "ended" && !subscription.schedule) return endFirst(rt, subscription);
  if (await tellChange(rt, subscription)) return "again";
  if (unsettled && (await noteRefusal(rt, subscription, unsettled, at))) return "again";
  const deed = nextDeed(course, at);
  if (deed.do === "wait" && (await tellEnd(rt, subscription, at))) return "again";
  switch (deed.do) {
    case "wait":
      return wakeFor(subscription, deed.until, at);
    case "open":
      await open(rt, subscription, at);
      return "again";
    case "end":
      await rt.db.write(ending(rt, subscription, deed.because, { at }));
      return "again";
  }
  if (!unsettled) throw new Error("nothing is open");
  switch (deed.do) {
    case "charge":
      await charge(rt, subscription, unsettled, at);
      return "again";
    case "ask-shopper":
      await askShopper(rt, subscription, unsettled, at);
      return "again";
    case "settle":
    case "let-off":
      await rt.db.write(settling(rt, subscription, unsettled, deed.do === "settle", at));
      return "again";
  }
}

/** When it is looked at again: as it waits for a charge, once before that as well. */
function wakeFor({ nextDue }: Subscription, until: number | null, at: number): number | null {
  if (until === null || until !== nextDue || until - TOLD_BEFORE <= at) return until;
  return until - TOLD_BEFORE;
}

/** How long before a charge it is told that what it goes to ends before. */
const TOLD_BEFORE = 14 * DAY;

/** Tells once that what a subscription is charged to ends before the next charge. False where there is nothing to tell. */
async function tellEnd(rt: Runtime, seen: Subscription, at: number): Promise<boolean> {
  const { id, state, nextDue, instrumentId, toldEnds, ends, customer, origin } = seen;
  if (state !== "running" || ends || nextDue === null || toldEnds === instrumentId) return false;
  if (nextDue - TOLD_BEFORE > at) return false;
  const until = (await chargeable(rt, instrumentId))?.row.until ?? null;
  if (until === null || until + DAY > nextDue) return false;
  const writes = customer.email !== "" && origin !== "rehearsal";
  await rt.db.write([
    ...changing(rt, seen, { toldEnds: instrumentId }, { event: { what: "instrument-ends" }, at }),
    ...(writes ? [askFor(rt, { kind: "ask-shopper", key: `${id}:ends:${instrumentId}`, lane: "mail" })] : []),
  ]);
  return true;
}

/**
 * Tells once that a subscription is charged to something else: what its shopper has paid a refused period with, or given for
 * nothing. False where there is nothing to tell.
 */
async function tellChange(rt: Runtime, seen: Subscription): Promise<boolean> {
  const { id, instrumentId, toldInstrument } = seen;
  if (instrumentId === null || instrumentId === toldInstrument) return false;
  const change = { toldInstrument: instrumentId };
  await rt.db.write(
    toldInstrument === null
      ? [updateRow(rt.db, subscriptions, id, change)]
      : changing(rt, seen, change, { event: { what: "instrument-changed" } }),
  );
  return true;
}

/** Has a subscription run once its first order is paid, or ends one whose shopper never paid. */
async function begin(rt: Runtime, seen: Subscription, at: number): Promise<boolean> {
  const checkout = await firstCheckout(rt, seen);
  if (!checkout) return false;
  if (checkout.state === "open") return beginByItself(rt, seen, checkout);
  if (checkout.state !== "paid") {
    await rt.db.write(ending(rt, seen, "never-begun", { at }));
    return true;
  }
  const { terms } = seen;
  const began = dayAt(seen.createdAt, terms.timeZone);
  const schedule = scheduleFrom(terms, began);
  const first = insertRow(rt.db, subscriptionPeriods, {
    ...{ subscriptionId: seen.id, number: 0, first: began.day, until: firstDayOf(schedule, 1) },
    ...{ dueAt: seen.createdAt, amount: checkout.order.total, state: "paid", checkoutId: checkout.id },
    settledAt: at,
  });
  await rt.db.write([
    ...changing(
      rt,
      seen,
      {
        ...{ state: "running", schedule, next: 1, nextDue: dueAt(schedule, 1) },
        toldInstrument: seen.instrumentId,
        charged: terms.trial ? 0 : 1,
      },
      { event: { what: "begun" }, at, more: { order: checkout.reference } },
    ),
    first,
  ]);
  return true;
}

/** The checkout at which a subscription begins. */
async function firstCheckout(rt: Runtime, seen: Subscription): Promise<Checkout | null> {
  const opened = await rt.db.orm
    .select()
    .from(checkouts)
    .where(
      and(
        eq(checkouts.storefrontId, seen.storefrontId),
        eq(checkouts.mode, seen.mode),
        eq(checkouts.reference, seen.reference),
      ),
    )
    .orderBy(desc(checkouts.createdAt));
  return opened.find(({ order }) => order.subscription?.id === seen.id) ?? null;
}

/** Closes the checkout of a subscription that was ended before it began: nobody pays it any more. */
async function endFirst(rt: Runtime, seen: Subscription): Promise<null> {
  const checkout = await firstCheckout(rt, seen);
  if (checkout?.state === "open" && checkout.activePaymentId === null)
    await rt.db.write(closing(rt, checkout, "cancelled"));
  return null;
}

/** Charges the first order to what the shopper has kept, once, where the shop has begun the subscription with that. */
async function beginByItself(rt: Runtime, seen: Subscription, checkout: Checkout): Promise<boolean> {
  const by = await chargeable(rt, seen.instrumentId);
  if (!by || !seen.mandate || checkout.activePaymentId !== null) return false;
  if ((await paymentsOf(rt, checkout.id)).length > 0) return false;
  const { kept, networkReference, row } = by;
  await rt.db.write([
    rt.db.orm.update(subscriptions).set({ offerId: row.offerId }).where(eq(subscriptions.id, seen.id)),
  ]);
  const later = { kept, networkReference, instrumentId: row.id, statements: [] };
  const paid = await chargeLater(rt, checkout, row.offerId, later);
  if (paid.kind === "away") throw new ToldError(said("subscriptions.offer-away"));
  return paid.kind === "payment";
}

/** Writes the next period down with its order, so that it is charged from then on, once. */
async function open(rt: Runtime, seen: Subscription, at: number): Promise<void> {
  const { id, storefrontId, mode, origin, terms, quantity, schedule, next, customer, shopper } = seen;
  if (!schedule) throw new Error(`subscription ${id} runs without a schedule`);
  const sum = regularSum(terms, quantity);
  const subscription = { id, terms, quantity, begins: false };
  const whose = { storefrontId, mode, origin };
  const wished = orderNumberOf(seen.reference, next);
  // The shop may have an order of that number already, which is none of this.
  const taken = await knownOrder(rt, { ...whose, reference: wished });
  const reference = taken ? `${wished}-${id.slice(-4)}` : wished;
  const due = dueAt(schedule, next);
  const days = (terms.trying.ends ?? 12 * LONGEST_TRYING) + LONGEST_TRYING;
  const { checkout, statements } = newCheckout(
    rt,
    {
      ...whose,
      ...{ order: orderOf(reference, customer, sum, { shopper, subscription }), known: null },
      // The shopper may be asked for something else to pay it with for as long as it is tried.
      until: Math.max(rt.now(), at) + days * DAY,
    },
    { at: rt.now(), from: "zahlung", to: "zahlung", label: said("subscriptions.period-opened"), ok: true },
  );
  await rt.db.write([
    ...changing(
      rt,
      seen,
      { next: next + 1, nextDue: dueAt(schedule, next + 1), charged: seen.charged + 1 },
      { event: { what: "opened", number: next }, at, more: { order: reference } },
    ),
    ...statements,
    insertRow(rt.db, subscriptionPeriods, {
      ...{ subscriptionId: id, number: next, first: firstDayOf(schedule, next) },
      ...{ until: firstDayOf(schedule, next + 1), dueAt: due, amount: sum.total, state: "open" },
      checkoutId: checkout.id,
    }),
  ]);
}

const isOne = ({ subscriptionId, number }: Period) =>
  and(eq(subscriptionPeriods.subscriptionId, subscriptionId), eq(subscriptionPeriods.number, number));

/** Charges an open period to what its shopper has kept. The try is counted in the transaction that writes its payment. */
async function charge(
  rt: Runtime,
  { instrumentId, offerId }: Subscription,
  { period, checkout }: Unsettled,
  at: number,
): Promise<void> {
  const by = await chargeable(rt, instrumentId);
  if (!by || offerId === null) return;
  const { kept, networkReference, row } = by;
  const statements: Statement[] = [
    guard(subscriptionPeriods, and(isOne(period), eq(subscriptionPeriods.tries, period.tries))),
    rt.db.orm
      .update(subscriptionPeriods)
      .set({ tries: period.tries + 1, triedAt: at })
      .where(isOne(period)),
  ];
  const paid = await chargeLater(rt, checkout, offerId, {
    kept,
    networkReference,
    instrumentId: row.id,
    statements,
  });
  if (paid.kind === "away") throw new ToldError(said("subscriptions.offer-away"));
  if (paid.kind !== "refused" || (await wasTriedSince(rt, period))) return;
  throw new ToldError(said("subscriptions.not-charged"));
}

/** Whether somebody else has charged a period in between: what came of that is read and gone on from. */
async function wasTriedSince(rt: Runtime, period: Period): Promise<boolean> {
  const [row] = await rt.db.orm.select().from(subscriptionPeriods).where(isOne(period));
  return row?.tries !== period.tries;
}

const MOST_UNHEARD = 5;

/** Whether nothing came of asking for a payment, so that nobody has refused it either. */
const cameToNothing = async (rt: Runtime, paymentId: string): Promise<boolean> =>
  (await operationsOf(rt, paymentId)).some(({ kind, state }) => kind === "create" && state === "nothing");

/**
 * Writes down that a period was refused, once for each charge that was made without the shopper: what they try at the page
 * that they were asked to says nothing of what they have kept. False where there is nothing new.
 */
async function noteRefusal(
  rt: Runtime,
  seen: Subscription,
  { period, checkout, payments }: Unsettled,
  at: number,
): Promise<boolean> {
  const last = payments.filter(({ keeping }) => keeping === null).at(-1);
  if (!last || checkout.activePaymentId !== null || checkout.state !== "open") return false;
  if (last.id === period.refusedPaymentId) return false;
  // A charge that the provider has never heard of was no try: it is made anew, unless that happens again and again.
  if (payments.length < MOST_UNHEARD && (await cameToNothing(rt, last.id))) {
    await rt.db.write([
      rt.db.orm
        .update(subscriptionPeriods)
        .set({ refusedPaymentId: last.id, tries: 0 })
        .where(and(isOne(period), eq(subscriptionPeriods.tries, period.tries))),
    ]);
    return true;
  }
  const { number } = period;
  const reason = last.decline;
  await rt.db.write([
    ...changing(
      rt,
      seen,
      { state: seen.state === "running" ? "behind" : seen.state },
      {
        ...{ event: { what: "refused", number, reason }, at },
        more: { order: checkout.reference, address: checkoutAddress(rt, checkout) },
      },
    ),
    rt.db.orm.update(subscriptionPeriods).set({ refusedPaymentId: last.id, reason }).where(isOne(period)),
  ]);
  return true;
}

/** Asks the shopper by mail for something else to pay with. */
async function askShopper(
  rt: Runtime,
  seen: Subscription,
  { period, checkout }: Unsettled,
  at: number,
): Promise<void> {
  const { number, dueAt: due } = period;
  const asks = Math.max(period.asks + 1, asksBy(seen.terms.trying, due, at));
  const sent = seen.customer.email !== "" && seen.origin !== "rehearsal";
  await rt.db.write([
    ...changing(
      rt,
      seen,
      { state: seen.state === "running" ? "behind" : seen.state },
      {
        ...{ event: { what: "asked", number, sent }, at },
        more: { order: checkout.reference, address: checkoutAddress(rt, checkout) },
      },
    ),
    rt.db.orm.update(subscriptionPeriods).set({ asks }).where(isOne(period)),
    ...(sent ? [askFor(rt, { kind: "ask-shopper", key: `${seen.id}:${number}:${asks}`, lane: "mail" })] : []),
  ]);
}

/** The statements that close a period: it was paid, or its order is called off. */
function settling(
  rt: Runtime,
  seen: Subscription,
  { period, checkout }: Unsettled,
  paid: boolean,
  at: number,
): Statement[] {
  const { number } = period;
  const idle = checkout.state === "open" && checkout.activePaymentId === null;
  return [
    ...changing(
      rt,
      seen,
      { state: seen.state === "behind" ? "running" : seen.state },
      { event: paid ? { what: "paid", number } : { what: "let-off", number }, at },
    ),
    rt.db.orm
      .update(subscriptionPeriods)
      .set({ state: paid ? "paid" : "unpaid", settledAt: at })
      .where(isOne(period)),
    ...(idle ? closing(rt, checkout, "cancelled") : []),
  ];
}

/** The statements that end a subscription. What is open of it is settled after that. */
export const ending = (
  rt: Runtime,
  seen: Subscription,
  because: Ending,
  { at = rt.now(), by }: { at?: number; by?: string } = {},
): Statement[] =>
  changing(
    rt,
    seen,
    { state: "ended", ending: because, nextDue: null, endedAt: at },
    { event: { what: "ended", because }, at, ...(by !== undefined && { by }) },
  );
