import { fold, type Standing } from "#core/payments/fold";
import type { OperationName } from "#core/profiles/profile";
import { type Said, said, type Told } from "#core/said";
import { changeSettings } from "../audit/audit";
import type { Payment } from "../database/rows";
import { call, type GatewayAnswer, type Line, lineOf, saysWhat } from "../gateway/gateway";
import type { PaymentReading } from "#core/profiles/answers";
import { readAtProvider } from "../operations/carry-out";
import type { Runtime } from "../runtime";
import { recordedOf } from "./facts";
import { recordReading } from "./readings";

export type Moved = { ok: true; says: Said } | { ok: false; says: Told };

/** Something that is asked of a provider about a payment and moves no money by itself: of a dispute, of a check for fraud. */
export interface Asking {
  operation: OperationName;
  input: Readonly<Record<string, unknown>>;
  idempotencyKey: string;
  /** Values that no exchange keeps. */
  secrets?: string[];
  /** What the audit trail keeps of it. */
  action: string;
  detail: Record<string, unknown>;
  /** Whether it shows that it was done. */
  holds: (standing: Standing) => boolean;
  done: Said;
}

export async function standingNow(rt: Runtime, paymentId: string): Promise<Standing> {
  return fold(await recordedOf(rt, paymentId));
}

/** The line to a payment's provider, or why that cannot be asked for an operation. */
export async function lineFor(
  rt: Runtime,
  payment: Payment,
  operation: OperationName,
): Promise<{ ok: true; line: Line } | { ok: false; says: Told }> {
  const line = await lineOf(rt, payment);
  if (!line) return { ok: false, says: said("actions.provider-no-record-payment") };
  if (!line.profile.operations[operation])
    return { ok: false, says: said("actions.provider-cannot", { provider: line.profile.name }) };
  return { ok: true, line };
}

/** Asks for it. Doing the same twice changes nothing, so a silence is looked up and may be tried again. */
export async function askProvider(
  rt: Runtime,
  person: string,
  payment: Payment,
  { operation, input, idempotencyKey, secrets = [], action, detail, holds, done }: Asking,
): Promise<Moved> {
  const found = await lineFor(rt, payment, operation);
  if (!found.ok) return found;
  const { line } = found;
  await changeSettings(rt, { person, action, subject: payment.id, detail }, []);
  const answer = (await call(
    rt,
    line,
    operation,
    {
      ...{ ref: payment.providerRef, reference: payment.reference, currency: payment.currency },
      ...input,
      idempotencyKey: idempotencyKey.slice(0, 100),
    },
    { paymentId: payment.id, checkoutId: payment.checkoutId, secrets },
  )) as GatewayAnswer<PaymentReading>;
  if (answer.kind === "answered") await recordReading(rt, line.profile, payment, answer.value, "answer");
  else {
    const reading = await readAtProvider(rt, line, payment);
    if (reading) await recordReading(rt, line.profile, payment, reading, "look-up");
  }
  if (holds(await standingNow(rt, payment.id))) return { ok: true, says: done };
  if (answer.kind === "refused" && answer.problem.kind !== "provider-fault")
    return { ok: false, says: saysWhat(line.profile.name, answer) };
  return { ok: false, says: said("actions.answer-not-known") };
}
