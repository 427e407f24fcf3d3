import type { Payment } from "../database/rows";
import { lineOf } from "../gateway/gateway";
import { lookUpNow, readAtProvider } from "../operations/carry-out";
import { underWayOf } from "../operations/operations";
import { recordReading } from "../payments/readings";
import { paymentOf } from "../payments/record";
import type { Runtime } from "../runtime";

const WAITS = [3_000, 5_000, 10_000, 20_000, 60_000, 300_000, 1_800_000];

/** How long to wait after so many look-ups that left the outcome open, milliseconds. */
export const lookUpWait = (looks: number): number => WAITS[Math.min(looks, WAITS.length - 1)] ?? 0;

/**
 * Asks the provider what became of a payment, and records it. An operation whose end is not known goes on from what is
 * found.
 */
export async function lookUp(rt: Runtime, payment: Payment): Promise<Payment | null> {
  const operation = await underWayOf(rt, payment.id);
  if (operation) await lookUpNow(rt, operation);
  else {
    const line = await lineOf(rt, payment);
    const reading = line && (await readAtProvider(rt, line, payment));
    if (line && reading) await recordReading(rt, line.profile, payment, reading, "look-up");
  }
  return paymentOf(rt, payment.id);
}
