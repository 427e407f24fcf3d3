import { eq } from "drizzle-orm";
import type { PaymentReading } from "#core/profiles/response";
import { payments } from "../database/schema";
import { call, type Line, openLine } from "../gateway/gateway";
import { recordReading } from "../payments/readings";
import { type Payment, paymentOf, recordFacts } from "../payments/record";
import type { Runtime } from "../runtime";

const GIVE_UP_AFTER = 90_000;
const WAITS = [3_000, 5_000, 10_000, 20_000, 60_000, 300_000, 1_800_000];

/** States that a payment failed: nobody can say more. */
export async function fail(
  rt: Runtime,
  payment: Payment,
  source: "answer" | "look-up",
  code: string,
  text: string,
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
  const answer = await call<{ payments: PaymentReading[] }>(
    rt,
    line,
    "find",
    { reference: payment.reference },
    marks,
  );
  if (answer.kind === "refused" && answer.problem.kind === "not-found") return "absent";
  if (answer.kind !== "answered") return "unanswered";
  const found = answer.value.payments.find((one) => one.reference === payment.reference);
  if (!found) return "absent";
  await recordReading(rt, line.profile, payment, found, "look-up");
  return "known";
}

/** Asks the provider what became of a payment whose outcome is open. */
export async function lookUp(rt: Runtime, payment: Payment): Promise<Payment | null> {
  const line = await openLine(rt, payment.connectionId, payment.mode, payment.keySetId);
  if (!line) return payment;
  const found = await findAndRecord(rt, line, payment);
  if (found === "absent" && rt.now() - payment.createdAt > GIVE_UP_AFTER) {
    await fail(rt, payment, "look-up", "absent", `${line.profile.name} has no record of it.`);
  }
  const now = await paymentOf(rt, payment.id);
  // A settled payment is asked about once each time that it is due; only one that is open waits for the next look.
  const open = now?.state === "created" || now?.state === "pending";
  const wait = WAITS[Math.min(payment.lookUps, WAITS.length - 1)] ?? 0;
  await rt.db.write([
    rt.db.orm
      .update(payments)
      .set({
        lookUps: payment.lookUps + 1,
        lookUpAt: open ? rt.now() + wait : null,
      })
      .where(eq(payments.id, payment.id)),
  ]);
  return paymentOf(rt, payment.id);
}
