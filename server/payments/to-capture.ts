import { and, eq, gt, inArray, isNull, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { said, type Told } from "#core/said";
import type { Payment } from "../database/rows";
import { payments } from "../database/schema";
import type { Runtime } from "../runtime";
import { act } from "./actions";

/** As many as one press captures. */
export const MOST_AT_ONCE = 100;
const AT_ONCE = 6;

/** Payments of a storefront of which money is held and nothing was taken yet, what ends first in front. */
export const toCapture = (rt: Runtime, storefrontId: string, mode: Mode): Promise<Payment[]> =>
  rt.db.orm
    .select()
    .from(payments)
    .where(
      and(
        eq(payments.storefrontId, storefrontId),
        eq(payments.mode, mode),
        gt(payments.held, 0),
        eq(payments.state, "authorised"),
        isNull(payments.archivedAt),
        sql`${payments.origin} <> 'rehearsal'`,
      ),
    )
    .orderBy(sql`${payments.heldUntil} is null`, payments.heldUntil, payments.createdAt, payments.id)
    .limit(MOST_AT_ONCE)
    .execute();

/** What became of one of several captures; `open`: it is looked up until it is known. */
export interface CaptureResult {
  id: string;
  order: string;
  as: "done" | "open" | "refused";
  says: Told | null;
}

/**
 * Captures all that is held of each of these payments. `once` tells one press from the next, so that the same press moves
 * money once. Nobody is kept waiting for a provider in trouble: the worker goes on from there.
 */
export async function captureMany(
  rt: Runtime,
  person: string,
  storefrontId: string,
  ids: readonly string[],
  once: string,
): Promise<CaptureResult[]> {
  const wanted = [...new Set(ids)].slice(0, MOST_AT_ONCE);
  if (wanted.length === 0) return [];
  const found = await rt.db.orm
    .select()
    .from(payments)
    .where(and(eq(payments.storefrontId, storefrontId), inArray(payments.id, wanted)));
  const results: CaptureResult[] = [];
  const left = [...found];
  const lane = async () => {
    for (let payment = left.shift(); payment; payment = left.shift()) {
      const { id, orderReference: order, held } = payment;
      if (held === 0) {
        results.push({ id, order, as: "refused", says: said("actions.nothing-held") });
        continue;
      }
      const press = { kind: "capture" as const, amount: held, once: `${once} ${id}`, final: true };
      const acted = await act(rt, person, payment, press);
      const as = acted.ok ? "done" : acted.open ? "open" : "refused";
      results.push({ id, order, as, says: acted.ok ? null : acted.says });
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, lane));
  return results.sort((a, b) => wanted.indexOf(a.id) - wanted.indexOf(b.id));
}
