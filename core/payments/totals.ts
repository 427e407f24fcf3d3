import type { ReadingKind } from "../profiles/profile-types";
import type { Refusal, Report } from "./facts";
import { stronger } from "./refusal";

/** The totals that reports of one payment come to, and the statuses that they name. */
export interface Totals {
  sequence: number;
  statuses: Set<ReadingKind>;
  /** The provider's words for a status that nobody has mapped. */
  unknown: string | null;
  authorised: number;
  captured: number;
  released: number | null;
  refunded: number;
  refusal: Refusal | null;
}

export const noTotals = (): Totals => ({
  sequence: -1,
  statuses: new Set(),
  unknown: null,
  authorised: 0,
  captured: 0,
  released: null,
  refunded: 0,
  refusal: null,
});

/**
 * Takes one more report in. A later sequence takes the place of what was told before; reports of the same sequence, and
 * those of a provider that counts nothing, are taken together as maxima and unions.
 */
export function withReport(totals: Totals, report: Report): Totals {
  const sequence = report.sequence ?? -1;
  if (sequence < totals.sequence) return totals;
  const known = sequence > totals.sequence ? { ...noTotals(), sequence } : totals;
  if (report.status) known.statuses.add(report.status);
  if (report.status === null) {
    const word = report.word ?? "";
    known.unknown = known.unknown === null || word > known.unknown ? word : known.unknown;
  }
  known.authorised = Math.max(known.authorised, report.authorised ?? 0);
  known.captured = Math.max(known.captured, report.captured ?? 0);
  known.refunded = Math.max(known.refunded, report.refunded ?? 0);
  if (report.released !== undefined) known.released = Math.max(known.released ?? 0, report.released);
  if (report.status === "declined" || report.status === "failed")
    known.refusal = stronger(known.refusal, report);
  return known;
}
