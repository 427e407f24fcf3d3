import { ToldError } from "#core/said";
import { fold } from "#core/payments/fold";
import { judge } from "#core/rehearsal/judge";
import { walkedCase } from "#core/rehearsal/walked";
import { proofs } from "../database/schema";
import { recordedOf } from "../payments/facts";
import { paymentOf } from "../payments/record";
import { isThroughProvider } from "../payments/road";
import { nextOf } from "../payments/steps";
import type { Runtime } from "../runtime";
import { allApplied, observeNow, webhooksAbout } from "./observe";

/** What became of judging a walk: it is judged, it shows nothing, or messages are still on their way. */
export type Judged = "judged" | "nothing" | "waits";

/**
 * Judges a purchase that a person walked through the test checkout: it counts for the case whose instrument, steps and
 * end it shows, by the same checks as when the case is played. Messages are waited for as long as a played case would.
 */
export async function judgeWalk(rt: Runtime, paymentId: string): Promise<Judged> {
  const payment = await paymentOf(rt, paymentId);
  if (!payment || !isThroughProvider(payment)) return "nothing";
  if (payment.mode !== "test" || payment.origin === "rehearsal") return "nothing";
  const [known, { profile }] = await Promise.all([
    recordedOf(rt, payment.id),
    rt.library.version(payment.profileVersionId),
  ]);
  const script = walkedCase({
    statements: known.map((fact) => fact.statement),
    capture: payment.capture,
    instrument: payment.instrument,
    profile,
  });
  if (!script) return "nothing";
  const about = await webhooksAbout(rt, payment);
  const arrived = about.some((one) => one.verdict === "verified" && one.paymentId === payment.id);
  const late = rt.now() - payment.updatedAt > rt.settings.rehearsalPatience;
  const expects = script.checks.includes("webhook-arrived") && profile.webhooks !== undefined;
  const underWay = nextOf(profile, payment, fold(known)) !== null;
  if (!late && ((expects && !arrived) || !allApplied(about) || underWay)) return "waits";
  const observation = await observeNow(rt, payment);
  if (!observation.ok) throw new ToldError(observation.says);
  const verdicts = judge(script, payment.capture, observation.observed);
  const result = {
    caseId: script.id,
    state: verdicts.every((one) => one.ok) ? ("passed" as const) : ("failed" as const),
    endedAt: rt.now(),
    verdicts,
  };
  await rt.db.write([
    rt.db.orm
      .insert(proofs)
      .values({
        id: rt.ids.next("prf"),
        connectionId: payment.connectionId,
        offerId: payment.offerId,
        how: "walked",
        startedAt: payment.createdAt,
        paymentId: payment.id,
        parts: payment.parts,
        ...result,
      })
      .onConflictDoUpdate({ target: [proofs.paymentId, proofs.how], set: result }),
  ]);
  return "judged";
}
