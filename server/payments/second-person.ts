import { and, desc, eq } from "drizzle-orm";
import { needsSecondPerson } from "#core/storefronts/money-terms";
import { said, type Told } from "#core/said";
import { changeSettings } from "../audit/audit";
import { guard, guardFailed, isConflict } from "../database/guard";
import type { Payment } from "../database/rows";
import { refundRequests } from "../database/schema";
import { ending, opening } from "../findings/record";
import type { Runtime } from "../runtime";
import { storefrontOf } from "../storefronts/storefronts";
import { act, type Acted, type Press } from "./actions";

export type RefundRequest = typeof refundRequests.$inferSelect;

/** What was asked for about a payment, the newest first. */
export const refundRequestsOf = (rt: Runtime, paymentId: string): Promise<RefundRequest[]> =>
  rt.db.orm
    .select()
    .from(refundRequests)
    .where(eq(refundRequests.paymentId, paymentId))
    .orderBy(desc(refundRequests.at), desc(refundRequests.id))
    .limit(50)
    .execute();

/**
 * Whether an owner has set that a refund of this amount, minor units, wants two people. With what was refunded of the
 * payment before: in parts it is no smaller.
 */
export async function wantsTwo(rt: Runtime, payment: Payment, amount: number): Promise<boolean> {
  const storefront = await storefrontOf(rt, payment.storefrontId);
  const { refunded, refunding, currency } = payment;
  const all = { amount: refunded + refunding + amount, currency };
  return storefront !== null && needsSecondPerson(storefront.money, all);
}

/** Whether a press did what it was for, or waits for somebody else to agree. */
export type Refunded = Acted | { ok: false; says: Told; waits: true };

/** Refunds, or where that wants two people asks for a second one. */
export async function refundOrAsk(
  rt: Runtime,
  person: string,
  payment: Payment,
  press: Press,
): Promise<Refunded> {
  const { amount, reason } = press;
  if (!(await wantsTwo(rt, payment, amount))) return act(rt, person, payment, press);
  if (!reason) return { ok: false, says: said("actions.say-why-to-second-person") };
  const left = payment.captured - payment.refunded - payment.refunding;
  if (!Number.isSafeInteger(amount) || amount <= 0 || amount > left)
    return { ok: false, says: said("actions.more-than-there-is") };
  const id = rt.ids.next("rrq");
  const row = { id, paymentId: payment.id, amount, reason, person, at: rt.now(), state: "open" as const };
  const sum = { amount, currency: payment.currency };
  try {
    await changeSettings(
      rt,
      { person, action: "refund asked for", subject: payment.id, detail: { ...sum, reason } },
      [
        rt.db.orm.insert(refundRequests).values(row),
        opening(rt, payment, { kind: "refund-to-agree", detail: id, values: { sum, person, reason } }),
      ],
    );
  } catch (error) {
    // One of a payment waits at a time: the index holds to it.
    if (!isConflict(error)) throw error;
    return { ok: false, says: said("actions.another-waits-for-agreement") };
  }
  return { ok: false, says: said("actions.second-person-asked"), waits: true };
}

/** A second person agrees to a refund, and it is carried out; or declines it. */
export async function decideRefund(
  rt: Runtime,
  person: string,
  payment: Payment,
  id: string,
  agrees: boolean,
): Promise<Refunded | { ok: true; payment: Payment }> {
  const [request] = await rt.db.orm
    .select()
    .from(refundRequests)
    .where(and(eq(refundRequests.id, id), eq(refundRequests.paymentId, payment.id)));
  if (request?.state !== "open") return { ok: false, says: said("actions.decided-already") };
  if (agrees && request.person === person) return { ok: false, says: said("actions.somebody-else-agrees") };
  const { amount, reason } = request;
  const detail = { amount, currency: payment.currency, reason, asked: request.person };
  try {
    await changeSettings(
      rt,
      { person, action: agrees ? "refund agreed to" : "refund declined", subject: payment.id, detail },
      [
        guard(refundRequests, and(eq(refundRequests.id, id), eq(refundRequests.state, "open"))),
        rt.db.orm
          .update(refundRequests)
          .set({ state: agrees ? "agreed" : "declined", decidedBy: person, decidedAt: rt.now() })
          .where(eq(refundRequests.id, id)),
        ending(rt, payment.id, "refund-to-agree"),
      ],
    );
  } catch (error) {
    if (!guardFailed(error)) throw error;
    return { ok: false, says: said("actions.decided-already") };
  }
  if (!agrees) return { ok: true, payment };
  return act(rt, `${request.person}, ${person}`, payment, { kind: "refund", amount, once: id, reason });
}
