import { said, type Told } from "#core/said";
import type { Payment } from "../database/rows";
import { call, type Line, lineOf } from "../gateway/gateway";
import { recordReading } from "../payments/readings";
import { paymentOf, recordFacts } from "../payments/record";
import type { Runtime } from "../runtime";

const GIVE_UP_AFTER = 90_000;
const WAITS = [3_000, 5_000, 10_000, 20_000, 60_000, 300_000, 1_800_000];

/** How long to wait after so many look-ups that left the outcome open, milliseconds. */
export const lookUpWait = (looks: number): number => WAITS[Math.min(looks, WAITS.length - 1)] ?? 0;

/** Whether a payment's outcome is open, so that the provider is asked again. */
export const isOpen = ({ state }: Pick<Payment, "state">): boolean =>
  state === "created" || state === "pending";

/** States that a payment failed: nobody can say more. */
export async function fail(
  rt: Runtime,
  payment: Payment,
  source: "answer" | "look-up",
  code: string,
  text: Told,
): Promise<void> {
  await recordFacts(rt, payment.id, [
    { key: `${source}:failed:${code}`, source, at: rt.now(), statement: { kind: "failed", code, text } },
  ]);
}

/** Looks a payment up by our reference and records what is found. */
export async function findAndRecord(
  rt: Runtime,
  line: Line,
  payment: Payment,
): Promise<"known" | "absent" | "unanswered"> {
  const marks = { paymentId: payment.id, checkoutId: payment.checkoutId };
  const answer = await call(rt, line, "find", { reference: payment.reference }, marks);
  if (answer.kind === "refused" && answer.problem.kind === "not-found") return "absent";
  if (answer.kind !== "answered") return "unanswered";
  const found = answer.value.payments.find((one) => one.reference === payment.reference);
  if (!found) return "absent";
  await recordReading(rt, line.profile, payment, found, "look-up");
  return "known";
}

/** Asks the provider what became of a payment, and records it. */
export async function lookUp(rt: Runtime, payment: Payment): Promise<Payment | null> {
  const line = await lineOf(rt, payment);
  if (!line) return payment;
  const found = await findAndRecord(rt, line, payment);
  if (found === "absent" && rt.now() - payment.createdAt > GIVE_UP_AFTER) {
    await fail(rt, payment, "look-up", "absent", said("look-up.no-record", { provider: line.profile.name }));
  }
  return paymentOf(rt, payment.id);
}
