import { fingerprint } from "#core/fingerprint";
import type { FactSource, Misfit, Statement } from "#core/payments/facts";
import type { PaymentReading } from "#core/profiles/answers";
import { statementsOf } from "#core/profiles/statements";
import type { Profile } from "#core/profiles/profile";
import type { Statement as DatabaseStatement } from "../database/open";
import type { Payment } from "../database/rows";
import type { Runtime } from "../runtime";
import { type NewFact, type Recorded, recordFacts } from "./record";

/** Whether a provider's report is about this payment at all: reference, currency and amount must agree. */
export const isAbout = (payment: Payment, reading: PaymentReading) =>
  reading.reference === payment.reference &&
  reading.currency === payment.currency &&
  reading.amount === payment.amount;

/** What is kept of a report that cannot be meant for this payment. */
function misfitOf(payment: Payment, { amount, currency, reference }: PaymentReading): Misfit {
  return { object: "misfit", amount, currency, ...(reference !== payment.reference && { reference }) };
}

/**
 * The facts in a provider's report of a payment; of one that does not fit it, only that. `id` tells one report from another: a webhook's message id. An answer or
 * look-up that states what the same source has stated before adds nothing, so its facts are known by what they say.
 */
export function factsOf(
  profile: Profile,
  payment: Payment,
  reading: PaymentReading,
  source: FactSource,
  at: number,
  id?: string,
): NewFact[] {
  const statements: Statement[] = isAbout(payment, reading)
    ? statementsOf(profile, reading)
    : [misfitOf(payment, reading)];
  return statements.map((statement) => ({ key: keyOf(statement, source, id), source, at, statement }));
}

/** An object that somebody has told of already in these words is no news; a message's report has the message's id. */
const keyOf = (statement: Statement, source: FactSource, id: string | undefined): string =>
  statement.object !== "report"
    ? `${statement.object}:${fingerprint(statement)}`
    : `${source}:${id && statement.status !== null ? id : fingerprint(statement)}`;

/** Records what a provider answered about a payment, with `statements` in the same transaction. */
export async function recordReading(
  rt: Runtime,
  profile: Profile,
  payment: Payment,
  reading: PaymentReading,
  source: "answer" | "look-up",
  statements: readonly DatabaseStatement[] = [],
): Promise<Recorded | null> {
  return recordFacts(rt, payment.id, factsOf(profile, payment, reading, source, rt.now()), {
    with: statements,
    providerRef: reading.ref,
    ...(reading.instrument && { instrument: reading.instrument }),
    ...(reading.kept && { kept: reading.kept }),
  });
}
