import { fingerprint } from "#core/fingerprint";
import type { FactSource } from "#core/payments/facts";
import type { PaymentReading } from "#core/profiles/answers";
import { statementsOf } from "#core/profiles/response";
import type { Profile } from "#core/profiles/profile";
import type { Runtime } from "../runtime";
import type { Payment } from "../database/rows";
import { type NewFact, type Recorded, recordFacts } from "./record";

/** Whether a provider's report is about this payment at all: reference, currency and amount must agree. */
export const isAbout = (payment: Payment, reading: PaymentReading) =>
  reading.reference === payment.reference &&
  reading.currency === payment.currency &&
  reading.amount === payment.amount;

/**
 * The facts in a provider's report. `id` tells one report from another: a webhook's message id. An answer or
 * look-up that states what the same source has stated before adds nothing, so its facts are known by what they say.
 */
export function factsOf(
  profile: Profile,
  reading: PaymentReading,
  source: FactSource,
  at: number,
  id?: string,
): NewFact[] {
  return statementsOf(profile, reading).map((statement) => ({
    key: `${source}:${id ? `${id}:${statement.kind}` : fingerprint(statement)}`,
    source,
    at,
    statement,
  }));
}

/** Records what a provider answered about a payment. A report about something else is left alone (null). */
export async function recordReading(
  rt: Runtime,
  profile: Profile,
  payment: Payment,
  reading: PaymentReading,
  source: "answer" | "look-up",
): Promise<Recorded | null> {
  if (!isAbout(payment, reading)) {
    rt.log.warn({ payment: payment.id, source }, "a provider's report does not fit the payment");
    return null;
  }
  return recordFacts(rt, payment.id, factsOf(profile, reading, source, rt.now()), {
    providerRef: reading.ref,
    ...(reading.instrument && { instrument: reading.instrument }),
  });
}
