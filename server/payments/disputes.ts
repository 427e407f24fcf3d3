import { eq } from "drizzle-orm";
import type { Dispute } from "#core/payments/facts";
import { fold } from "#core/payments/fold";
import { type Said, said, type Told } from "#core/said";
import { changeSettings } from "../audit/audit";
import type { Payment } from "../database/rows";
import { facts } from "../database/schema";
import { call, lineOf, saysWhat } from "../gateway/gateway";
import { readAtProvider } from "../operations/carry-out";
import type { Runtime } from "../runtime";
import { LONGEST_NOTE } from "./notes";
import { recordReading } from "./readings";

/** What a shop does about a dispute: hands in what speaks for it, or gives in. */
export type DisputeMove = { as: "answer"; text: string } | { as: "accept" };

const operations = { answer: "answerDispute", accept: "acceptDispute" } as const;
const becomes = { answer: "answered", accept: "lost" } as const;

/** The dispute about a payment that is to be looked at; null where there is none. */
export async function disputeOf(rt: Runtime, paymentId: string): Promise<Dispute | null> {
  return fold(await rt.db.orm.select().from(facts).where(eq(facts.paymentId, paymentId))).dispute;
}

/**
 * Answers or accepts the dispute about a payment that is open. Doing the same twice changes nothing, so a silence is looked
 * up and may be tried again.
 */
export async function moveDispute(
  rt: Runtime,
  person: string,
  payment: Payment,
  move: DisputeMove,
): Promise<{ ok: true; says: Said } | { ok: false; says: Told }> {
  const dispute = await disputeOf(rt, payment.id);
  if (dispute?.state !== "open") return { ok: false, says: said("actions.no-dispute-open") };
  const text = move.as === "answer" ? move.text.trim() : "";
  if (move.as === "answer" && (text === "" || text.length > LONGEST_NOTE))
    return { ok: false, says: said("actions.say-what-speaks") };
  const line = await lineOf(rt, payment);
  if (!line) return { ok: false, says: said("actions.provider-no-record-payment") };
  const name = operations[move.as];
  if (!line.profile.operations[name])
    return { ok: false, says: said("actions.provider-cannot-dispute", { provider: line.profile.name }) };
  const detail = { dispute: dispute.id, stage: dispute.stage, ...(text && { text }) };
  await changeSettings(
    rt,
    { person, action: `dispute ${becomes[move.as]}`, subject: payment.id, detail },
    [],
  );
  const answer = await call(
    rt,
    line,
    name,
    {
      ...{ ref: payment.providerRef, reference: payment.reference, dispute: dispute.id, text },
      idempotencyKey: `${dispute.id}-${dispute.stage}-${move.as}`.slice(0, 100),
    },
    { paymentId: payment.id, checkoutId: payment.checkoutId },
  );
  if (answer.kind === "answered") await recordReading(rt, line.profile, payment, answer.value, "answer");
  else {
    const reading = await readAtProvider(rt, line, payment);
    if (reading) await recordReading(rt, line.profile, payment, reading, "look-up");
  }
  const now = (await disputeOf(rt, payment.id))?.state;
  if (now === becomes[move.as]) return { ok: true, says: said(`actions.dispute-${move.as}ed`) };
  if (answer.kind === "refused" && answer.problem.kind !== "provider-fault")
    return { ok: false, says: saysWhat(line.profile.name, answer) };
  return { ok: false, says: said("actions.dispute-not-known") };
}
