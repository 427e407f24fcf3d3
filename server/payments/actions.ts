import { type Said, said, sentences, type Told } from "#core/said";
import { and, eq } from "drizzle-orm";
import { type ActionKind, type Allowed, allowedActions, amountRefused } from "#core/payments/actions";
import { fold } from "#core/payments/fold";
import { type Money } from "#core/money/money";
import { methodOf, type Profile } from "#core/profiles/profile";
import { changeSettings } from "../audit/audit";
import { isConflict } from "../database/guard";
import type { Payment } from "../database/rows";
import { facts, paymentActs } from "../database/schema";
import { call, lineOf, saysWhat } from "../gateway/gateway";
import type { Runtime } from "../runtime";
import { paymentOf } from "./record";
import { recordReading } from "./readings";

/** What may be done with a payment now, decided from its facts and its method. */
export async function actionsOf(
  rt: Runtime,
  payment: Payment,
  profile: Profile,
): Promise<Record<ActionKind, Allowed>> {
  const known = await rt.db.orm.select().from(facts).where(eq(facts.paymentId, payment.id));
  const method = methodOf(profile, payment.methodId);
  return allowedActions(fold(known), {
    capture: method?.capture.includes("later") ?? false,
    partialCapture: method?.partialCapture ?? false,
    void: method?.void ?? false,
    refund: method?.refund ?? false,
    partialRefund: method?.partialRefund ?? false,
  });
}

export type Acted = { ok: true; payment: Payment } | { ok: false; says: Told; code?: string };

/**
 * Captures, voids or refunds at the provider, with the keys and the profile version the payment began with. `amount` is
 * minor units; `once` tells one press from another: the same press moves money once, and never another amount. A silence
 * is settled by look-up.
 */
export async function act(
  rt: Runtime,
  person: string,
  payment: Payment,
  kind: ActionKind,
  amount: number,
  once: string,
): Promise<Acted> {
  const line = await lineOf(rt, payment);
  if (!line || !payment.providerRef) return { ok: false, says: said("actions.provider-no-record-payment") };
  const before = await actOf(rt, payment, once);
  if (before && (before.kind !== kind || before.amount !== amount))
    return {
      ok: false,
      says: said("actions.form-used-look-what"),
    };
  if (before?.done) return { ok: true, payment: (await paymentOf(rt, payment.id)) ?? payment };
  const allowed = (await actionsOf(rt, payment, line.profile))[kind];
  const refused = amountRefused(allowed, kind === "void" && allowed.allowed ? allowed.most : amount);
  if (refused) return { ok: false, says: refused };
  const marks = { paymentId: payment.id, checkoutId: payment.checkoutId };
  const input = {
    ref: payment.providerRef,
    amount,
    currency: payment.currency,
    idempotencyKey: `${payment.id}-${kind}-${once}`.slice(0, 100),
  };
  const detail = { kind, amount, currency: payment.currency };
  const row = { paymentId: payment.id, once, kind, amount, person, at: rt.now() };
  try {
    await changeSettings(
      rt,
      { person, action: `payment ${kind}`, subject: payment.id, detail },
      before ? [] : [rt.db.orm.insert(paymentActs).values(row)],
    );
  } catch (error) {
    if (!isConflict(error)) throw error;
    return { ok: false, says: said("actions.same-press-being-carried") };
  }
  let answer = await call(rt, line, kind, input, marks);
  // The idempotency key makes asking again safe; twice silent, a look-up tells what holds.
  if (answer.kind === "unanswered") answer = await call(rt, line, kind, input, marks);
  if (answer.kind === "unanswered") {
    const looked = await call(rt, line, "read", { ref: payment.providerRef }, marks);
    if (looked.kind === "answered") await recordReading(rt, line.profile, payment, looked.value, "look-up");
    const seen =
      looked.kind === "answered"
        ? said("actions.what-reports-now-shown")
        : said("actions.what-became-could-not");
    return { ok: false, says: sentences([saysWhat(line.profile.name, answer), seen]) };
  }
  if (answer.kind === "refused")
    return { ok: false, says: saysWhat(line.profile.name, answer), code: answer.problem.code };
  await rt.db.write([rt.db.orm.update(paymentActs).set({ done: true }).where(pressed(payment, once))]);
  await recordReading(rt, line.profile, payment, answer.value, "answer");
  return { ok: true, payment: (await paymentOf(rt, payment.id)) ?? payment };
}

const pressed = (payment: Payment, once: string) =>
  and(eq(paymentActs.paymentId, payment.id), eq(paymentActs.once, once));

async function actOf(rt: Runtime, payment: Payment, once: string) {
  const [row] = await rt.db.orm.select().from(paymentActs).where(pressed(payment, once));
  return row ?? null;
}

/** Says what was done, for the person who did it. */
export const actedWords = (kind: ActionKind, amount: Money): Said => said(`actions.done-${kind}`, { amount });
