import { and, eq, gte, sql } from "drizzle-orm";
import { payments } from "../database/schema";
import type { Shelf } from "../memory";
import type { Runtime } from "../runtime";

const DAY = 86_400_000;
/** The usual band is of the last four weeks, made anew once in ten minutes. */
const WEEKS = 28 * DAY;
const KEPT = 600_000;
/** A day with fewer payments than this says nothing about a share. */
const ENOUGH = 3;

/** How a storefront's live payments of a day went. Amounts in minor units by currency. */
export interface Today {
  approved: number;
  declined: number;
  /** Still waiting for the shopper or the provider. */
  pending: number;
  captured: Record<string, number>;
  /** Held and not yet captured, whatever the day. */
  held: { payments: number; amounts: Record<string, number> };
  refunded: Record<string, number>;
  /** The shares of approved payments between which four of five of the last days lay; null without a history. */
  usual: { low: number; high: number } | null;
}

const shelf: Shelf<Today["usual"]> = { name: "usual approvals" };

const APPROVED = "sum(authorised > 0 or captured > 0)";
const DECLINED = "sum(state in ('declined', 'failed'))";

/** How today's live payments go, against the usual. `since` is when the day began where the viewer is. */
export async function todayOf(rt: Runtime, storefrontId: string, since: number): Promise<Today> {
  const live = and(eq(payments.storefrontId, storefrontId), eq(payments.mode, "live"));
  const byCurrency = {
    currency: payments.currency,
    n: sql<number>`count(*)`.mapWith(Number),
  };
  const [[rows, held], usual] = await Promise.all([
    rt.db.orm.batch([
      rt.db.orm
        .select({
          ...byCurrency,
          approved: sql<number>`${sql.raw(APPROVED)}`.mapWith(Number),
          declined: sql<number>`${sql.raw(DECLINED)}`.mapWith(Number),
          pending: sql<number>`sum(state in ('created', 'pending'))`.mapWith(Number),
          captured: sql<number>`sum(captured)`.mapWith(Number),
          refunded: sql<number>`sum(refunded)`.mapWith(Number),
        })
        .from(payments)
        .where(and(live, gte(payments.createdAt, since)))
        .groupBy(payments.currency),
      rt.db.orm
        .select({ ...byCurrency, amount: sql<number>`sum(held)`.mapWith(Number) })
        .from(payments)
        .where(and(live, sql`held > 0`))
        .groupBy(payments.currency),
    ]),
    rt.memory.recall(shelf, storefrontId, Math.floor(rt.now() / KEPT), () =>
      usualBand(rt, storefrontId, since),
    ),
  ]);
  const sum = (name: "approved" | "declined" | "pending") =>
    rows.reduce((total, row) => total + row[name], 0);
  const amounts = (name: "captured" | "refunded") =>
    Object.fromEntries(rows.filter((row) => row[name] > 0).map((row) => [row.currency, row[name]]));
  return {
    approved: sum("approved"),
    declined: sum("declined"),
    pending: sum("pending"),
    captured: amounts("captured"),
    refunded: amounts("refunded"),
    held: {
      payments: held.reduce((total, row) => total + row.n, 0),
      amounts: Object.fromEntries(held.map((row) => [row.currency, row.amount])),
    },
    usual,
  };
}

/** Between which shares of approval the middle four fifths of the days before lay. */
async function usualBand(rt: Runtime, storefrontId: string, since: number): Promise<Today["usual"]> {
  const days = await sharesOf(rt, storefrontId, { from: since - WEEKS, to: since, every: DAY });
  return bandOf(days.filter(({ decided }) => decided >= ENOUGH).map(shareOf));
}

function bandOf(shares: number[]): Today["usual"] {
  if (shares.length < ENOUGH) return null;
  const sorted = [...shares].sort((a, b) => a - b);
  const at = (share: number) => sorted[Math.round(share * (sorted.length - 1))] ?? 0;
  return { low: at(0.1), high: at(0.9) };
}

interface Share {
  connectionId: string;
  approved: number;
  decided: number;
}

/** How many live payments were approved of those that were decided, by stretches of time and by account. */
async function sharesOf(
  rt: Runtime,
  storefrontId: string,
  { from, to, every }: { from: number; to: number; every: number },
  byAccount = false,
): Promise<Share[]> {
  const { rows } = await rt.db.client.execute({
    sql: `select connection_id as account, ${APPROVED} as approved, ${DECLINED} as declined
          from payments where storefront_id = ? and mode = 'live' and created_at >= ? and created_at < ?
          group by cast((created_at - ?) / ? as integer)${byAccount ? ", connection_id" : ""}`,
    args: [storefrontId, from, to, from, every],
  });
  return rows.map((row) => ({
    connectionId: String(row.account),
    approved: Number(row.approved),
    decided: Number(row.approved) + Number(row.declined),
  }));
}

/** A last day with fewer payments than this says nothing about a share. */
const ENOUGH_LATELY = 10;

/** How the last day's live payments of an account went, and the share below which four of five of its days never fell. */
export interface Approvals {
  approved: number;
  decided: number;
  /** Null: there is no history to tell. */
  low: number | null;
}

/** The same of every account of a storefront that had enough payments in the last 24 hours to tell. */
export async function approvalsOf(rt: Runtime, storefrontId: string): Promise<Map<string, Approvals>> {
  const [now, since] = [rt.now(), rt.now() - DAY];
  const lately = await sharesOf(rt, storefrontId, { from: since, to: now, every: DAY }, true);
  const enough = lately.filter(({ decided }) => decided >= ENOUGH_LATELY);
  if (enough.length === 0) return new Map();
  const before = await sharesOf(rt, storefrontId, { from: since - WEEKS, to: since, every: DAY }, true);
  return new Map(
    enough.map(({ connectionId, approved, decided }) => {
      const mine = before.filter((one) => one.connectionId === connectionId && one.decided >= ENOUGH);
      return [connectionId, { approved, decided, low: bandOf(mine.map(shareOf))?.low ?? null }];
    }),
  );
}

const shareOf = ({ approved, decided }: Share) => approved / decided;
