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
  const { rows } = await rt.db.client.execute({
    sql: `select ${APPROVED} as approved, ${DECLINED} as declined
          from payments where storefront_id = ? and mode = 'live' and created_at >= ? and created_at < ?
          group by created_at / ${DAY}`,
    args: [storefrontId, since - WEEKS, since],
  });
  const shares = rows
    .map((row) => ({ approved: Number(row.approved), declined: Number(row.declined) }))
    .filter(({ approved, declined }) => approved + declined >= ENOUGH)
    .map(({ approved, declined }) => approved / (approved + declined))
    .sort((a, b) => a - b);
  if (shares.length < ENOUGH) return null;
  const at = (share: number) => shares[Math.round(share * (shares.length - 1))] ?? 0;
  return { low: at(0.1), high: at(0.9) };
}
