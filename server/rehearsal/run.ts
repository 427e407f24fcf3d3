import { said } from "#core/said";
import { and, eq, isNull } from "drizzle-orm";
import { caseOf, type CaseId, judge } from "#core/rehearsal/cases";
import { isConflict } from "../database/guard";
import type { Rehearsal } from "../database/rows";
import { offers, proofs, rehearsals } from "../database/schema";
import { askFor } from "../jobs/jobs";
import { partsOf } from "../offers/parts";
import type { Runtime } from "../runtime";
import { mustStand, offerIn, type OfferWithRevisions } from "../storefronts/now";
import { playCase } from "./play";

const AT_ONCE = 4;

/** Starts a rehearsal of the given cases; the worker runs it. One at a time for an offer. */
export async function startRehearsal(
  rt: Runtime,
  person: string,
  offer: OfferWithRevisions,
  cases: CaseId[],
): Promise<string | null> {
  const id = rt.ids.next("reh");
  const row = {
    id,
    connectionId: offer.connection.id,
    offerId: offer.offer.id,
    person,
    startedAt: rt.now(),
    cases,
  };
  try {
    await rt.db.write([
      rt.db.orm.insert(rehearsals).values(row),
      askFor(rt, { kind: "rehearse", key: id, lane: id }),
    ]);
  } catch (error) {
    // Another is under way: the index holds to one at a time.
    if (isConflict(error)) return null;
    throw error;
  }
  rt.nudge();
  return id;
}

/** Asks a running rehearsal to stop after the cases that are under way. */
export async function stopRehearsal(rt: Runtime, offerId: string): Promise<void> {
  await rt.db.write([
    rt.db.orm
      .update(rehearsals)
      .set({ stopAt: rt.now() })
      .where(and(eq(rehearsals.offerId, offerId), isNull(rehearsals.endedAt))),
  ]);
}

/** Runs a rehearsal from where it stands to its end; one that was left behind by another process goes on. */
export async function runRehearsal(rt: Runtime, id: string): Promise<void> {
  const [found] = await rt.db.orm
    .select()
    .from(rehearsals)
    .where(and(eq(rehearsals.id, id), isNull(rehearsals.endedAt)));
  if (found) await run(rt, found);
}

async function run(rt: Runtime, rehearsal: Rehearsal): Promise<void> {
  const done = await rt.db.orm.select().from(proofs).where(eq(proofs.rehearsalId, rehearsal.id));
  const begun = new Set(done.filter((one) => one.state !== "running").map((one) => one.caseId));
  const left = rehearsal.cases.filter((id) => !begun.has(id));
  const stopped = async () => {
    const [row] = await rt.db.orm
      .select({ stopAt: rehearsals.stopAt })
      .from(rehearsals)
      .where(eq(rehearsals.id, rehearsal.id));
    return row?.stopAt != null;
  };
  const lane = async () => {
    for (let id = left.shift(); id !== undefined && !(await stopped()); id = left.shift())
      await runCase(rt, rehearsal, id);
  };
  await Promise.all(Array.from({ length: AT_ONCE }, lane));
  await rt.db.write([
    rt.db.orm
      .update(proofs)
      .set({ state: "stopped", endedAt: rt.now() })
      .where(and(eq(proofs.rehearsalId, rehearsal.id), eq(proofs.state, "running"))),
    rt.db.orm.update(rehearsals).set({ endedAt: rt.now() }).where(eq(rehearsals.id, rehearsal.id)),
  ]);
}

async function runCase(rt: Runtime, rehearsal: Rehearsal, caseId: CaseId): Promise<void> {
  const script = caseOf(caseId);
  const storefrontId = await storefrontIdOf(rt, rehearsal.offerId);
  const now = storefrontId ? await mustStand(rt, storefrontId) : null;
  const offer = now && offerIn(now, rehearsal.offerId);
  if (!script || !offer) return;
  const id = rt.ids.next("prf");
  await rt.db.write([
    rt.db.orm.insert(proofs).values({
      id,
      connectionId: rehearsal.connectionId,
      offerId: rehearsal.offerId,
      caseId,
      how: "rehearsed",
      rehearsalId: rehearsal.id,
      state: "running",
      startedAt: rt.now(),
      verdicts: [],
      parts: await partsOf(rt, now, offer),
    }),
  ]);
  const finish = (change: Partial<typeof proofs.$inferInsert>) =>
    rt.db.write([
      rt.db.orm
        .update(proofs)
        .set({ endedAt: rt.now(), ...change })
        .where(eq(proofs.id, id)),
    ]);
  try {
    const play = await playCase(rt, offer, script);
    if (!play.ok) {
      await finish({ state: "failed", error: play.says, paymentId: play.paymentId ?? null });
      return;
    }
    const policy = offer.working.document.capture;
    const verdicts = judge(script, policy, play.observed);
    await finish({
      state: verdicts.every((one) => one.ok) ? "passed" : "failed",
      verdicts,
      paymentId: play.paymentId,
    });
  } catch (error) {
    rt.log.error({ err: error, caseId }, "a case broke down");
    await finish({ state: "failed", error: said("run.zahlung-broke-down-case") });
  }
}

async function storefrontIdOf(rt: Runtime, offerId: string): Promise<string | null> {
  const [row] = await rt.db.orm
    .select({ storefrontId: offers.storefrontId })
    .from(offers)
    .where(eq(offers.id, offerId));
  return row?.storefrontId ?? null;
}
