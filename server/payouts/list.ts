import { and, desc, eq, inArray, lt, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import type { Told } from "#core/said";
import type { Payout, PayoutEntry } from "../database/rows";
import { connectionStorefronts, payments, payoutEntries, payoutReadings, payouts } from "../database/schema";
import { walk } from "../database/walk";
import type { Runtime } from "../runtime";
import type { StorefrontNow } from "../storefronts/now";
import { accountKey } from "../gateway/accounts";
import { listsPayouts } from "./read";

const PAGE = 50;
const CAME_ABOUT = sql`coalesce(${payoutEntries.at}, 0)`;
const DAY = 86_400_000;
/** Money is missed when it was not paid out so long after it should have been: weekends and holidays are no delay. */
const GRACE = 5 * DAY;

export interface PayoutFilter {
  mode: Mode;
  connectionId: string | null;
  /** The id of the last one seen. */
  after: string | null;
}

/** A page of what the accounts of a storefront were paid out, the newest first; `next` leads to the one after it. */
export async function listPayouts(rt: Runtime, now: StorefrontNow, filter: PayoutFilter) {
  const { mode, connectionId, after } = filter;
  const ids = now.connections.map(({ connection }) => connection.id);
  const mine = connectionId === null ? ids : ids.filter((id) => id === connectionId);
  if (mine.length === 0) return { rows: [] as Payout[], next: null };
  const path = {
    table: payouts,
    by: [payouts.paidAt, payouts.id],
    within: eq(payouts.mode, mode),
    after,
  };
  const rows = await walk(rt, path, PAGE + 1, (stretch, left) =>
    rt.db.orm
      .select()
      .from(payouts)
      .where(and(inArray(payouts.connectionId, mine), stretch))
      .orderBy(desc(payouts.paidAt), desc(payouts.id))
      .limit(left),
  );
  const page = rows.slice(0, PAGE);
  return { rows: page, next: rows.length > PAGE ? (page.at(-1)?.id ?? null) : null };
}

/** How an account's payouts are known, and what of its money is missed. */
export interface PayoutAccount {
  connectionId: string;
  name: string;
  /** Whether its provider tells of payouts at all. */
  tells: boolean;
  askedAt: number | null;
  outcome: Told | null;
  /** Payments that should have been paid out by now, by currency; minor units. */
  missed: { currency: string; payments: number; amount: number }[];
}

export async function payoutAccounts(rt: Runtime, now: StorefrontNow, mode: Mode): Promise<PayoutAccount[]> {
  const accounts = now.connections
    .filter(({ keys }) => keys[mode].current !== null)
    .map(({ connection, versions }) => ({ connection, profile: versions[mode].profile }));
  const keys = accounts.map(({ connection }) => accountKey({ connectionId: connection.id, mode }));
  const readings = await rt.db.orm.select().from(payoutReadings).where(inArray(payoutReadings.id, keys));
  return Promise.all(
    accounts.map(async ({ connection: { id, name }, profile }): Promise<PayoutAccount> => {
      const tells = listsPayouts(profile);
      const reading = readings.find((one) => one.id === accountKey({ connectionId: id, mode }));
      return {
        ...{ connectionId: id, name, tells },
        ...{ askedAt: reading?.askedAt ?? null, outcome: reading?.outcome ?? null },
        missed: tells ? await missedAt(rt, id, mode, rt.now() - profile.payout.days * DAY - GRACE) : [],
      };
    }),
  );
}

/** What was captured before a time and is in no payout. */
const missedAt = (rt: Runtime, connectionId: string, mode: Mode, before: number) =>
  rt.db.orm
    .select({
      currency: payments.currency,
      payments: sql<number>`count(*)`.mapWith(Number),
      amount: sql<number>`sum(captured - refunded - lost - paid_out)`.mapWith(Number),
    })
    .from(payments)
    .where(
      and(
        eq(payments.connectionId, connectionId),
        eq(payments.mode, mode),
        lt(payments.createdAt, before),
        sql`captured - refunded - lost > paid_out and origin = 'shop'`,
      ),
    )
    .groupBy(payments.currency);

export type EntryView = PayoutEntry & {
  /** The order of its payment, and whether that payment is of this storefront. */
  order: string | null;
  here: boolean;
};

/** A payout of an account that serves a storefront, with a page of its entries; null where there is none. */
export async function payoutHere(rt: Runtime, storefrontId: string, id: string, after: string | null) {
  const [found] = await rt.db.orm
    .select({ payout: payouts })
    .from(payouts)
    .innerJoin(connectionStorefronts, eq(connectionStorefronts.connectionId, payouts.connectionId))
    .where(and(eq(payouts.id, id), eq(connectionStorefronts.storefrontId, storefrontId)));
  if (!found) return null;
  const rows = await entriesAfter(rt, storefrontId, id, after ?? "", PAGE + 1);
  const page = rows.slice(0, PAGE);
  return {
    payout: found.payout,
    entries: page,
    next: rows.length > PAGE ? (page.at(-1)?.id ?? null) : null,
    sums: await sumsOf(rt, id),
  };
}

/** A payout's entries after one of them, in the order in which the provider says that they came about. */
export async function entriesAfter(
  rt: Runtime,
  storefrontId: string,
  payoutId: string,
  after: string,
  most: number,
): Promise<EntryView[]> {
  const isLater = sql`(${CAME_ABOUT}, ${payoutEntries.id}) > (select coalesce(e.at, 0), e.id from payout_entries e where e.id = ${after})`;
  const rows = await rt.db.orm
    .select({ entry: payoutEntries, order: payments.orderReference, storefrontId: payments.storefrontId })
    .from(payoutEntries)
    .leftJoin(payments, eq(payments.id, payoutEntries.paymentId))
    .where(and(eq(payoutEntries.payoutId, payoutId), after === "" ? undefined : isLater))
    .orderBy(CAME_ABOUT, payoutEntries.id)
    .limit(most);
  return rows.map((row) => ({ ...row.entry, order: row.order, here: row.storefrontId === storefrontId }));
}

/** What a payout's entries come to by kind, minor units of its currency. */
const sumsOf = (rt: Runtime, payoutId: string) =>
  rt.db.orm
    .select({
      kind: payoutEntries.kind,
      entries: sql<number>`count(*)`.mapWith(Number),
      fee: sql<number>`sum(fee)`.mapWith(Number),
      net: sql<number>`sum(net)`.mapWith(Number),
      /** Entries that name no payment made here. */
      strange: sql<number>`sum(payment_id is null)`.mapWith(Number),
    })
    .from(payoutEntries)
    .where(eq(payoutEntries.payoutId, payoutId))
    .groupBy(payoutEntries.kind);

const EXPORTED = 100_000;

/** All entries of a payout, for a file; null where there is no such payout here. */
export async function exportedEntries(rt: Runtime, storefrontId: string, id: string) {
  const found = await payoutHere(rt, storefrontId, id, null);
  return found && { ...found, entries: await entriesAfter(rt, storefrontId, id, "", EXPORTED) };
}

/** The payouts that hold something of a payment, the newest first. */
export const payoutsOfPayment = (rt: Runtime, paymentId: string) =>
  rt.db.orm
    .select({ payout: payouts, amount: payoutEntries.amount, currency: payoutEntries.currency })
    .from(payoutEntries)
    .innerJoin(payouts, eq(payouts.id, payoutEntries.payoutId))
    .where(eq(payoutEntries.paymentId, paymentId))
    .orderBy(desc(payouts.paidAt), desc(payoutEntries.id));
