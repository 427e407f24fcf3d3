import { and, count, eq, isNull, ne, sql } from "drizzle-orm";
import { changedParts, type FingerprintParts } from "#core/fingerprint";
import { methodOf, ridesAlong } from "#core/profiles/profile";
import {
  type CaseId,
  caseIds,
  rehearsalCases,
  playableCases,
  requiredCases,
  type Verdict,
} from "#core/rehearsal/cases";
import { proofs, rehearsals } from "../database/schema";
import { type Carrier, carrierOf } from "../offers/carrier";
import { offersOf, type OfferWithRevisions } from "../offers/offers";
import { partsOf } from "../offers/parts";
import type { Runtime } from "../runtime";

export interface BoardCell {
  caseId: CaseId;
  title: string;
  about: string;
  required: boolean;
  /** What about the offer decides that; null where every offer needs it. */
  because: string | null;
  proof: {
    id: string;
    state: "running" | "passed" | "failed" | "stopped";
    how: "rehearsed" | "walked";
    at: number;
    duration: number | null;
    /** Names of settings that changed since; empty when it is fresh. */
    changed: string[];
    verdicts: Verdict[];
    error: string | null;
    paymentId: string | null;
  } | null;
}

export interface Board {
  cells: BoardCell[];
  running: { id: string; done: number; total: number; stopping: boolean } | null;
}

/** The case board of one offer: each case with its newest proof, and whether that is still fresh. */
export async function boardOf(rt: Runtime, offer: OfferWithRevisions): Promise<Board> {
  const all = ridesAlong(offer.profile) ? await offersOf(rt, offer.offer.storefrontId) : [];
  const [parts, carrier] = await Promise.all([partsOf(rt, offer), carrierOf(rt, all, offer.profile, "test")]);
  return boardWith(rt, offer, parts, carrier);
}

/** The same, held against fingerprints that have been taken already. */
export async function boardWith(
  rt: Runtime,
  offer: OfferWithRevisions,
  parts: FingerprintParts,
  carrier: Carrier | null,
): Promise<Board> {
  const { id } = offer.offer;
  const [all, [running]] = await Promise.all([
    rt.db.orm.select().from(proofs).where(newestOfEachCase(id)),
    rt.db.orm
      .select()
      .from(rehearsals)
      .where(and(eq(rehearsals.offerId, id), isNull(rehearsals.endedAt))),
  ]);
  const method = methodOf(offer.profile, offer.offer.methodId);
  const required = requiredCases({
    capture: offer.working.document.capture,
    authentication: method?.authentication ?? [],
    void: method?.void ?? false,
    refund: method?.refund ?? false,
    partialRefund: method?.partialRefund ?? false,
    webhooks: (carrier?.offer ?? offer).profile.webhooks !== undefined,
    playable: playableCases(offer.profile),
  });
  const cells = rehearsalCases.map((one): BoardCell => {
    const need = required.find((entry) => entry.id === one.id);
    const newest = all.find((proof) => proof.caseId === one.id);
    return {
      caseId: one.id,
      title: one.title,
      about: one.about,
      required: need?.required ?? false,
      because: need?.because ?? null,
      proof: newest
        ? {
            id: newest.id,
            state: newest.state,
            how: newest.how,
            at: newest.endedAt ?? newest.startedAt,
            duration: newest.endedAt === null ? null : newest.endedAt - newest.startedAt,
            changed: changedParts(newest.parts, parts),
            verdicts: newest.verdicts,
            error: newest.error,
            paymentId: newest.paymentId,
          }
        : null,
    };
  });
  if (!running) return { cells, running: null };
  // A proof that a walked purchase has overtaken during the run still counts as done.
  const [done] = await rt.db.orm
    .select({ n: count() })
    .from(proofs)
    .where(and(eq(proofs.rehearsalId, running.id), ne(proofs.state, "running")));
  const { id: runId, cases, stopAt } = running;
  return {
    cells,
    running: { id: runId, done: done?.n ?? 0, total: cases.length, stopping: stopAt !== null },
  };
}

/** However many purchases have been walked, a look into the index for each case finds its newest proof. */
const newestOfEachCase = (offerId: string) =>
  sql`${proofs.id} in (select (
    select id from proofs where offer_id = ${offerId} and case_id = value and state <> 'stopped'
    order by started_at desc limit 1) from json_each(${JSON.stringify(caseIds)}))`;

export interface CaseCount {
  required: number;
  green: number;
  missing: string[];
  stale: string[];
  failed: string[];
  at?: number;
}

/** How the required cases stand, for the gates and the track. */
export function countCases(cells: readonly BoardCell[]): CaseCount {
  const required = cells.filter((cell) => cell.required);
  const titles = (list: BoardCell[]) => list.map((cell) => cell.title);
  const isFresh = (cell: BoardCell) => cell.proof?.changed.length === 0;
  const green = required.filter((cell) => cell.proof?.state === "passed" && isFresh(cell));
  const times = green.map((cell) => cell.proof?.at ?? 0);
  return {
    required: required.length,
    green: green.length,
    missing: titles(required.filter((cell) => !cell.proof || cell.proof.state === "running")),
    stale: titles(required.filter((cell) => cell.proof?.state === "passed" && !isFresh(cell))),
    failed: titles(required.filter((cell) => cell.proof?.state === "failed")),
    ...(times.length > 0 && { at: Math.max(...times) }),
  };
}

export async function proofOf(rt: Runtime, id: string): Promise<typeof proofs.$inferSelect | null> {
  const [row] = await rt.db.orm.select().from(proofs).where(eq(proofs.id, id));
  return row ?? null;
}
