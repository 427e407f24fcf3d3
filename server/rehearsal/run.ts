import { said } from "#core/said";
import { and, eq, isNull } from "drizzle-orm";
import { caseOf, type CaseId } from "#core/rehearsal/cases";
import { inCurrency, judge, type Verdict } from "#core/rehearsal/judge";
import { playableCases } from "#core/rehearsal/required";
import type { RehearsalCase } from "#core/rehearsal/script";
import { isConflict } from "../database/guard";
import { insertRow, rowsBy, updateRow } from "../database/prepared";
import type { Rehearsal } from "../database/rows";
import { offers, proofs, rehearsals } from "../database/schema";
import { askFor } from "../jobs/jobs";
import { carrierOf } from "../offers/carrier";
import { currenciesOf } from "../offers/currencies";
import { partsOf } from "../offers/parts";
import type { Runtime } from "../runtime";
import { mustStand, offerIn, type OfferWithRevisions, type StorefrontNow } from "../storefronts/now";
import { playCase } from "./play";

const AT_ONCE = 4;

/** Starts a rehearsal of those of the given cases that the provider's sandbox can play; the worker runs it. One at a time for an offer. */
export async function startRehearsal(
  rt: Runtime,
  person: string,
  offer: OfferWithRevisions,
  cases: CaseId[],
): Promise<string | null> {
  const id = rt.ids.next("reh");
  const playable = playableCases(offer.profile);
  const row = {
    id,
    connectionId: offer.connection.id,
    offerId: offer.offer.id,
    person,
    startedAt: rt.now(),
    cases: cases.filter((one) => playable.has(one)),
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

const byId = rowsBy(rehearsals, ["id"]);

/** Runs a rehearsal from where it stands to its end; one that was left behind by another process goes on. */
export async function runRehearsal(rt: Runtime, id: string): Promise<void> {
  const [found] = await byId(rt.db).all({ id });
  if (found?.endedAt === null) await run(rt, found);
}

async function run(rt: Runtime, rehearsal: Rehearsal): Promise<void> {
  const storefrontId = await storefrontIdOf(rt, rehearsal.offerId);
  const done = await rt.db.orm.select().from(proofs).where(eq(proofs.rehearsalId, rehearsal.id));
  const begun = new Set(done.filter((one) => one.state !== "running").map((one) => one.caseId));
  const left = rehearsal.cases.filter((id) => !begun.has(id));
  const stopped = async () => {
    const [row] = await byId(rt.db).all({ id: rehearsal.id });
    return row?.stopAt != null;
  };
  const lane = async () => {
    for (let id = left.shift(); id !== undefined && !(await stopped()); id = left.shift())
      await runCase(rt, storefrontId, rehearsal, id);
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

async function runCase(
  rt: Runtime,
  storefrontId: string,
  rehearsal: Rehearsal,
  caseId: CaseId,
): Promise<void> {
  const script = caseOf(caseId);
  const now = await mustStand(rt, storefrontId);
  const offer = offerIn(now, rehearsal.offerId);
  if (!script || !offer) return;
  const id = rt.ids.next("prf");
  await rt.db.write([
    insertRow(rt.db, proofs, {
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
    rt.db.write([updateRow(rt.db, proofs, id, { endedAt: rt.now(), ...change })]);
  try {
    await finish(await playedThrough(rt, now, offer, script));
  } catch (error) {
    rt.log.error({ err: error, caseId }, "a case broke down");
    await finish({ state: "failed", error: said("run.zahlung-broke-down-case") });
  }
}

/** Plays a case, once or in each currency that the offer takes, and says what its proof is to hold. */
async function playedThrough(
  rt: Runtime,
  now: StorefrontNow,
  offer: OfferWithRevisions,
  script: RehearsalCase,
): Promise<Partial<typeof proofs.$inferInsert>> {
  const taken = currenciesOf(offer, now.storefront, carrierOf(now, offer.profile, "test"));
  const currencies = taken.length > 0 ? taken : now.storefront.currencies;
  const verdicts: Verdict[] = [];
  let paymentId: string | null = null;
  for (const currency of script.eachCurrency ? currencies : currencies.slice(0, 1)) {
    const play = await playCase(rt, offer, script, currency);
    paymentId = play.paymentId ?? paymentId;
    if (!play.ok) return { state: "failed", error: play.says, verdicts, paymentId };
    const judged = judge(script, offer.working.document.capture, play.observed);
    verdicts.push(...(script.eachCurrency ? inCurrency(judged, currency) : judged));
  }
  return { state: verdicts.every((one) => one.ok) ? "passed" : "failed", verdicts, paymentId };
}

async function storefrontIdOf(rt: Runtime, offerId: string): Promise<string> {
  const [row] = await rt.db.orm
    .select({ storefrontId: offers.storefrontId })
    .from(offers)
    .where(eq(offers.id, offerId));
  if (!row) throw new Error(`there is no offer ${offerId}`);
  return row.storefrontId;
}
