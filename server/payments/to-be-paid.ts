import { and, eq, inArray, isNull, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import type { Told } from "#core/said";
import type { Payment } from "../database/rows";
import { payments } from "../database/schema";
import type { Runtime } from "../runtime";
import { receive } from "../ways/offline/money";

/** As many as one press writes down. */
export const MOST_AT_ONCE = 100;

/** Payments of a storefront that no provider moves and that are waited for, what is due first in front. */
export const toBePaid = (rt: Runtime, storefrontId: string, mode: Mode): Promise<Payment[]> =>
  rt.db.orm
    .select()
    .from(payments)
    .where(
      and(
        eq(payments.storefrontId, storefrontId),
        eq(payments.mode, mode),
        sql`connection_id is null and state = 'pending'`,
        isNull(payments.archivedAt),
      ),
    )
    .orderBy(payments.dueAt, payments.id)
    .limit(MOST_AT_ONCE)
    .execute();

/** What became of one of several entries. */
export interface EntryResult {
  id: string;
  order: string;
  ok: boolean;
  says: Told;
}

/** Writes down that all that is left came for each of these payments. `once` tells one press from the next. */
export async function receiveMany(
  rt: Runtime,
  person: string,
  storefrontId: string,
  ids: readonly string[],
  { on, once }: { on: number; once: string },
): Promise<EntryResult[]> {
  const wanted = [...new Set(ids)].slice(0, MOST_AT_ONCE);
  if (wanted.length === 0) return [];
  const found = await rt.db.orm
    .select()
    .from(payments)
    .where(and(eq(payments.storefrontId, storefrontId), inArray(payments.id, wanted)));
  const results: EntryResult[] = [];
  for (const payment of found) {
    const { id, orderReference: order, amount, captured } = payment;
    const entry = { amount: amount - captured, on, note: "", once: `${once}-${id.slice(-12)}` };
    const noted = await receive(rt, person, payment, entry);
    results.push({ id, order, ok: noted.ok, says: noted.says });
  }
  return results.sort((a, b) => wanted.indexOf(a.id) - wanted.indexOf(b.id));
}
