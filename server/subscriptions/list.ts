import { and, asc, desc, eq, gte, lt, notInArray, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { type DayOfCharges, forecast } from "#core/subscriptions/forecast";
import type { SubscriptionState } from "#core/subscriptions/course";
import { dayAt, daysAfter, momentOf, type RhythmUnit } from "#core/subscriptions/schedule";
import type { Subscription } from "../database/rows";
import {
  checkouts,
  instruments,
  subscriptionEvents,
  subscriptionPeriods,
  subscriptions,
} from "../database/schema";
import { endOf, knownFirst, walk } from "../database/walk";
import { nameOf } from "../instruments/instruments";
import { numberMeant } from "../orders/number-meant";
import type { Runtime } from "../runtime";

export interface SubscriptionFilter {
  mode: Mode;
  state: SubscriptionState | null;
  /** The beginning of the shop's number, or the shop's name of a shopper. */
  query: string;
  /** The id of the last one seen. */
  after: string | null;
}

const PAGE = 25;
/** So many subscriptions of one shopper are found at most. */
const MOST_OF_SHOPPER = 500;
/** No file has more lines. */
const MOST_EXPORTED = 100_000;
const FORECAST_DAYS = 30;

/**
 * A page of a storefront's subscriptions, the newest first; `next` leads to the one after it. What is searched for comes by
 * its number, the last first, on the first page after those of a shopper of that name.
 */
export async function listSubscriptionsHere(
  rt: Runtime,
  storefrontId: string,
  filter: SubscriptionFilter,
  limit = PAGE,
): Promise<{ rows: Subscription[]; next: string | null }> {
  const { mode, state, query, after } = filter;
  const searched = query !== "";
  const number = searched ? await numberMeant(rt, subscriptions, storefrontId, query) : "";
  const here = [
    eq(subscriptions.storefrontId, storefrontId),
    eq(subscriptions.mode, mode),
    ...(state && !searched ? [eq(subscriptions.state, state)] : []),
  ];
  const conditions = [eq(subscriptions.origin, "shop"), ...(state ? [eq(subscriptions.state, state)] : [])];
  const by = searched ? [subscriptions.reference] : [subscriptions.createdAt, subscriptions.id];
  const path = {
    ...{ table: subscriptions, by },
    within: and(...here, ...(searched ? [eq(subscriptions.origin, "shop")] : [])),
    ...(searched ? { least: number, greatest: endOf(number) } : {}),
  };
  const ofShopper = searched
    ? await rt.db.orm
        .select()
        .from(subscriptions)
        .where(and(eq(subscriptions.shopper, query), ...here, ...conditions))
        .limit(MOST_OF_SHOPPER)
    : [];
  const known = ofShopper.sort((a, b) => b.createdAt - a.createdAt || (a.id < b.id ? 1 : -1));
  return knownFirst(known, after, limit, (last, wanted, without) =>
    walk(rt, { ...path, after: last }, wanted, (stretch, left) =>
      rt.db.orm
        .select()
        .from(subscriptions)
        .where(
          and(
            ...conditions,
            without.length > 0 ? notInArray(subscriptions.id, [...without]) : undefined,
            stretch,
          ),
        )
        .orderBy(...by.map((one) => desc(one)))
        .limit(left),
    ),
  );
}

/** All that a filter lets through, for a file. */
export const exportedSubscriptions = async (rt: Runtime, storefrontId: string, filter: SubscriptionFilter) =>
  (await listSubscriptionsHere(rt, storefrontId, { ...filter, after: null }, MOST_EXPORTED)).rows;

/** What of the days before today was due, and what of it came. Minor units. */
export interface DayBefore {
  day: string;
  expected: number;
  came: number;
}

export interface Forecast {
  currency: string;
  before: DayBefore[];
  ahead: DayOfCharges[];
}

/** Every zone's days begin at a whole quarter of an hour: what is gathered by it can be told by any zone's days. */
const QUARTER = 900_000;

/**
 * What was due and came in the last thirty days, and what is to be charged in the next; by currency and by the days of a
 * time zone.
 */
export async function forecastOf(
  rt: Runtime,
  storefrontId: string,
  mode: Mode,
  zone: string,
): Promise<Forecast[]> {
  const now = rt.now();
  const dayOf = (at: number) => dayAt(at, zone).day;
  const today = dayOf(now);
  const firstDay = daysAfter(today, -FORECAST_DAYS);
  const startOf = (day: string) => momentOf(day, { timeZone: zone, minute: 0 });
  const dueQuarter = sql<number>`${subscriptions.nextDue} / ${sql.raw(String(QUARTER))}`;
  const unit = sql<RhythmUnit>`json_extract(${subscriptions.terms}, '$.rhythm.unit')`;
  const count = sql<number>`json_extract(${subscriptions.terms}, '$.rhythm.count')`;
  const left = sql<number | null>`json_extract(${subscriptions.terms}, '$.times') - ${subscriptions.charged}`;
  const quarter = sql<number>`${subscriptionPeriods.dueAt} / ${sql.raw(String(QUARTER))}`;
  const whose = and(
    eq(subscriptions.storefrontId, storefrontId),
    eq(subscriptions.mode, mode),
    eq(subscriptions.origin, "shop"),
  );
  const [due, past] = await rt.db.orm.batch([
    rt.db.orm
      .select({
        currency: subscriptions.currency,
        ...{ quarter: dueQuarter, unit, count, left },
        how: sql<number>`count(*)`,
        amount: sql<number>`sum(${subscriptions.amount})`,
      })
      .from(subscriptions)
      .where(
        and(
          whose,
          lt(subscriptions.nextDue, startOf(daysAfter(today, FORECAST_DAYS))),
          sql`${subscriptions.state} in ('running', 'behind')`,
          eq(subscriptions.ends, false),
        ),
      )
      .groupBy(subscriptions.currency, dueQuarter, unit, count, left),
    rt.db.orm
      .select({
        currency: subscriptions.currency,
        quarter,
        expected: sql<number>`sum(${subscriptionPeriods.amount})`,
        came: sql<number>`sum(case when ${subscriptionPeriods.state} = 'paid' then ${subscriptionPeriods.amount} else 0 end)`,
      })
      .from(subscriptionPeriods)
      .innerJoin(subscriptions, eq(subscriptions.id, subscriptionPeriods.subscriptionId))
      .where(
        and(
          whose,
          gte(subscriptionPeriods.dueAt, startOf(firstDay)),
          lt(subscriptionPeriods.dueAt, startOf(daysAfter(today, 1))),
        ),
      )
      .groupBy(subscriptions.currency, quarter),
  ]);
  const currencies = [...new Set([...due, ...past].map((one) => one.currency))].sort();
  return currencies.map((currency) => {
    const mine = due
      .filter((one) => one.currency === currency)
      .map((one) => ({
        ...{ day: dayOf(one.quarter * QUARTER), left: one.left, count: one.how, amount: one.amount },
        rhythm: { unit: one.unit, count: one.count },
      }));
    // Every day has its place, also one on which nothing was due.
    const before = Array.from({ length: FORECAST_DAYS + 1 }, (_, i) => ({
      ...{ day: daysAfter(firstDay, i), expected: 0, came: 0 },
    }));
    for (const one of past) {
      const then =
        one.currency === currency && before.find(({ day }) => day === dayOf(one.quarter * QUARTER));
      if (!then) continue;
      then.expected += one.expected;
      then.came += one.came;
    }
    return { currency, before, ahead: forecast(mine, today, FORECAST_DAYS) };
  });
}

/** One subscription of a storefront with its periods, the newest first, what happened, and what it is charged to. */
export async function subscriptionHere(rt: Runtime, storefrontId: string, id: string) {
  const [subscription] = await rt.db.orm
    .select()
    .from(subscriptions)
    .where(and(eq(subscriptions.id, id), eq(subscriptions.storefrontId, storefrontId)));
  if (!subscription) return null;
  const [periods, events, [instrument]] = await Promise.all([
    rt.db.orm
      .select({ period: subscriptionPeriods, order: checkouts.reference, orderId: checkouts.orderId })
      .from(subscriptionPeriods)
      .leftJoin(checkouts, eq(checkouts.id, subscriptionPeriods.checkoutId))
      .where(eq(subscriptionPeriods.subscriptionId, id))
      .orderBy(desc(subscriptionPeriods.number))
      .limit(200),
    rt.db.orm
      .select()
      .from(subscriptionEvents)
      .where(eq(subscriptionEvents.subscriptionId, id))
      .orderBy(desc(subscriptionEvents.id))
      .limit(200),
    rt.db.orm
      .select({
        id: instruments.id,
        name: instruments.name,
        called: instruments.called,
        state: instruments.state,
        until: instruments.until,
      })
      .from(instruments)
      .where(eq(instruments.id, subscription.instrumentId ?? "")),
  ]);
  return {
    ...{ subscription, periods, events },
    instrument: instrument ? { ...instrument, name: nameOf(instrument) } : null,
  };
}

/** A shopper's subscriptions that are not over, the oldest first. */
export const subscriptionsOfShopper = (
  rt: Runtime,
  { storefrontId, mode, shopper }: { storefrontId: string; mode: Mode; shopper: string },
): Promise<Subscription[]> =>
  rt.db.orm
    .select()
    .from(subscriptions)
    .where(
      and(
        eq(subscriptions.shopper, shopper),
        eq(subscriptions.mode, mode),
        eq(subscriptions.storefrontId, storefrontId),
        sql`${subscriptions.state} not in ('ended', 'waiting')`,
      ),
    )
    .orderBy(asc(subscriptions.createdAt))
    .execute();
