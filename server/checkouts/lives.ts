import { desc, eq } from "drizzle-orm";
import { methodOf } from "#core/profiles/profile";
import type { Payment } from "../database/rows";
import { facts } from "../database/schema";
import { isThroughProvider } from "../payments/road";
import { offlineUntil } from "../ways/offline/money";
import type { Runtime } from "../runtime";

/**
 * Until when a pending payment is waited for although its checkout's time is over, in milliseconds since the epoch: where
 * its method says that the provider takes its time, and the shopper has done what there was to do. 0: no longer.
 */
export async function waitsUntil(rt: Runtime, payment: Payment): Promise<number> {
  if (payment.state !== "pending") return 0;
  if (!isThroughProvider(payment)) return offlineUntil(rt, payment);
  const { profile } = await rt.library.version(payment.profileVersionId);
  const pending = methodOf(profile, payment.methodId)?.pending;
  if (!pending || pending.waitsFor === "shopper" || (await asksShopper(rt, payment))) return 0;
  return payment.createdAt + pending.lives * 1000;
}

/** Whether the provider last said that the shopper has something to do. */
async function asksShopper(rt: Runtime, { id }: Payment): Promise<boolean> {
  const known = await rt.db.orm
    .select()
    .from(facts)
    .where(eq(facts.paymentId, id))
    .orderBy(desc(facts.at), desc(facts.number));
  const reports = known.flatMap(({ statement }) => (statement.object === "report" ? [statement] : []));
  const newest = reports.reduce<(typeof reports)[number] | null>(
    (last, one) => (last === null || (one.sequence ?? -1) > (last.sequence ?? -1) ? one : last),
    null,
  );
  return newest?.challenge !== undefined || newest?.scan !== undefined;
}
