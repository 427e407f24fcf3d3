import { and, desc, eq, gt, isNull, sql } from "drizzle-orm";
import { changeSettings } from "../audit/audit";
import type { KeySet, Payment } from "../database/rows";
import { keySets, payments } from "../database/schema";
import { isThroughProvider } from "./road";
import type { Runtime } from "../runtime";

/**
 * The newest keys that were seen to open the account that a payment's own keys opened, where there are newer ones: they can
 * take over when the provider no longer takes the old ones.
 */
export async function newerKeysOf(rt: Runtime, payment: Payment): Promise<KeySet | null> {
  if (!isThroughProvider(payment)) return null;
  const own = rt.db.orm
    .select({ number: keySets.number })
    .from(keySets)
    .where(eq(keySets.id, payment.keySetId));
  const [row] = await rt.db.orm
    .select()
    .from(keySets)
    .where(
      and(
        eq(keySets.connectionId, payment.connectionId),
        eq(keySets.mode, payment.mode),
        isNull(keySets.retiredAt),
        gt(keySets.number, sql`(${own})`),
        sql`exists (select 1 from key_checks c join key_checks o on o.key_set_id = ${payment.keySetId}
          where c.key_set_id = ${keySets.id} and c.account ->> '$.account' = o.account ->> '$.account')`,
      ),
    )
    .orderBy(desc(keySets.number))
    .limit(1);
  return row ?? null;
}

/** Has every later call about a payment use the newest keys of the same account. False when there are none. */
export async function takeNewerKeys(rt: Runtime, person: string, payment: Payment): Promise<boolean> {
  const newer = await newerKeysOf(rt, payment);
  if (!newer) return false;
  await changeSettings(
    rt,
    {
      person,
      action: "payment keys renewed",
      subject: payment.id,
      detail: { from: payment.keySetId, to: newer.id },
    },
    [
      rt.db.orm
        .update(payments)
        .set({ keySetId: newer.id, version: sql`version + 1` })
        .where(eq(payments.id, payment.id)),
    ],
  );
  return true;
}
