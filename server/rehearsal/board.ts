import { type Said, type Told } from "#core/said";
import { changedParts, type FingerprintParts } from "#core/fingerprint";
import { methodOf } from "#core/profiles/profile";
import { type CaseId, caseTitle, rehearsalCases } from "#core/rehearsal/cases";
import type { Verdict } from "#core/rehearsal/judge";
import { playableCases, requiredCases } from "#core/rehearsal/required";
import type { Proof, Rehearsal, Storefront } from "../database/rows";
import type { Carrier } from "../offers/carrier";
import { currenciesOf } from "../offers/currencies";
import type { OfferWithRevisions } from "../storefronts/now";

export interface BoardCell {
  caseId: CaseId;
  title: Said;
  required: boolean;
  /** What about the offer decides that; null where every offer needs it. */
  because: Said | null;
  proof: {
    id: string;
    state: "running" | "passed" | "failed" | "stopped";
    how: "rehearsed" | "walked";
    at: number;
    duration: number | null;
    /** Names of settings that changed since; empty when it is fresh. */
    changed: string[];
    verdicts: Verdict[];
    error: Told | null;
    paymentId: string | null;
  } | null;
}

export interface Board {
  cells: BoardCell[];
  running: { id: string; done: number; total: number; stopping: boolean } | null;
}

/** A rehearsal that is under way, with how many of its cases have ended. */
export interface RunningRehearsal {
  rehearsal: Rehearsal;
  done: number;
}

/** A provider changes as well: what was shown longer ago than this, in milliseconds, is shown anew. */
const HOLDS_FOR = 180 * 86_400_000;

/** The case board of one offer: each case with its newest proof, and whether that is still fresh. */
export function boardFrom(
  offer: OfferWithRevisions,
  storefront: Storefront,
  parts: FingerprintParts,
  carrier: Carrier | null,
  newest: readonly Proof[],
  running: RunningRehearsal | null,
  now: number,
): Board {
  const method = methodOf(offer.profile, offer.offer.methodId);
  const required = requiredCases({
    confirm: (carrier?.offer ?? offer).profile.operations.confirm !== undefined,
    capture: offer.working.document.capture,
    authentication: method?.authentication ?? [],
    void: method?.void ?? false,
    refund: method?.refund ?? false,
    partialRefund: method?.partialRefund ?? false,
    partialCapture: method?.partialCapture ?? false,
    webhooks: (carrier?.offer ?? offer).profile.webhooks !== undefined,
    currencies: currenciesOf(offer, storefront, carrier).length,
    keeps: offer.working.document.keeps !== undefined,
    repeats: offer.working.document.repeats !== undefined,
    button: offer.working.document.button !== undefined,
    notices: offer.working.document.notices !== undefined,
    playable: playableCases(offer.profile),
  });
  const cells = rehearsalCases.map((one): BoardCell => {
    const need = required.find((entry) => entry.id === one.id);
    const proof = newest.find((each) => each.caseId === one.id);
    return {
      caseId: one.id,
      title: caseTitle(one.id),
      required: need?.required ?? false,
      because: need?.because ?? null,
      proof: proof
        ? {
            id: proof.id,
            state: proof.state,
            how: proof.how,
            at: proof.endedAt ?? proof.startedAt,
            duration: proof.endedAt === null ? null : proof.endedAt - proof.startedAt,
            changed: [
              ...changedParts(proof.parts, parts),
              ...(now - proof.startedAt > HOLDS_FOR ? ["age"] : []),
            ],
            verdicts: proof.verdicts,
            error: proof.error,
            paymentId: proof.paymentId,
          }
        : null,
    };
  });
  if (!running) return { cells, running: null };
  // A proof that a walked purchase has overtaken during the run still counts as done.
  const { rehearsal, done } = running;
  const { id, cases, stopAt } = rehearsal;
  return { cells, running: { id, done, total: cases.length, stopping: stopAt !== null } };
}

export interface CaseCount {
  required: number;
  green: number;
  missing: Said[];
  stale: Said[];
  failed: Said[];
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
