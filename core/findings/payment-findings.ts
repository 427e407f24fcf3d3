import type { LateTerm } from "../storefronts/money-terms";
import type { Standing } from "../payments/fold";
import type { SaidValues } from "../said";

/** What a person should look at about one payment. */
export const paymentFindings = [
  "surplus",
  "late",
  "other-amount",
  "unknown-status",
  "contradiction",
  "part-approved",
  "too-much",
  "dispute",
  "refund-failed",
  "question",
  "stage-unknown",
  "held-ends",
  "held-back",
  "refund-to-agree",
] as const;
/** What is held for no longer than this, in milliseconds, is told of. */
export const ENDS_SOON = 2 * 86_400_000;
export type PaymentFindingKind = (typeof paymentFindings)[number];

/** One finding; `detail` tells it from others of its kind about the same payment. */
export interface PaymentFinding {
  kind: PaymentFindingKind;
  detail: string;
  values: SaidValues;
}

/** What of the world around a payment matters for its findings. */
export interface Around {
  /** Minor units that were asked for, and their ISO 4217 code. */
  amount: number;
  currency: string;
  /** Whether the order is paid by another payment. */
  surplus: boolean;
  /** Whether it came to money after its checkout was over, and what becomes of that; null: it did not. */
  late: LateTerm | null;
  /** A stage that the offer names and the shop no longer declares. */
  unknownStage: string | null;
  /** Milliseconds since the epoch. */
  now: number;
}

/** What a person should look at about a payment, as it follows from where it stands. */
export function findingsOfPayment(standing: Standing, around: Around): PaymentFinding[] {
  const { amount, currency } = around;
  const sum = (minor: number) => ({ amount: minor, currency });
  const { authorised, captured, refunded, dispute, refundsFailed, unknownStatus } = standing;
  const most = Math.max(authorised, captured);
  const findings: PaymentFinding[] = [];
  const find = (kind: PaymentFindingKind, detail: string, values: SaidValues = {}) =>
    findings.push({ kind, detail, values });
  // What came without a provider goes back the same way: nobody can do that but a person.
  const by = standing.expected > 0 ? "person" : "itself";
  if (around.surplus) find("surplus", "", { sum: sum(most), by });
  if (around.late) find("late", "", { sum: sum(most), term: around.late, by });
  for (const misfit of standing.misfits)
    find("other-amount", `${misfit.amount} ${misfit.currency} ${misfit.reference ?? ""}`, {
      sum: sum(amount),
      told: { amount: misfit.amount, currency: misfit.currency },
    });
  if (unknownStatus !== null) find("unknown-status", unknownStatus, { word: unknownStatus });
  if (standing.contradiction)
    find("contradiction", `${refunded} of ${captured}`, { refunded: sum(refunded), captured: sum(captured) });
  if (most > 0 && most < amount && standing.expected === 0)
    find("part-approved", String(most), { approved: sum(most), sum: sum(amount) });
  if (most > amount) find("too-much", String(most), { told: sum(most), sum: sum(amount) });
  if (dispute && dispute.state === "open")
    find("dispute", `${dispute.id} ${dispute.stage}`, {
      sum: sum(dispute.amount),
      reason: dispute.reason ?? "none",
    });
  if (refundsFailed > 0) find("refund-failed", String(refundsFailed), { sum: sum(refundsFailed) });
  const { held, until } = standing;
  if (held > 0 && until !== null && until - around.now < ENDS_SOON)
    find("held-ends", String(until), {
      sum: sum(held),
      day: { day: new Date(until).toISOString().slice(0, 10) },
    });
  if (standing.heldBack && held > 0) {
    const because = standing.heldBack;
    find("held-back", "", {
      ...{ sum: sum(held), by: because.by },
      where: because.by === "country" ? { country: because.country } : "",
      from: because.by === "total" ? because.from : "",
    });
  }
  if (around.unknownStage !== null)
    find("stage-unknown", around.unknownStage, { stage: around.unknownStage });
  return findings;
}

/** One finding, of whichever kind, and what is known of one that was made before. */
interface AnyFinding<Kind extends string = string> {
  kind: Kind;
  detail: string;
}
export interface KnownFinding extends AnyFinding {
  state: "open" | "snoozed" | "resolved";
  /** Who resolved it; null: it went away by itself. */
  person: string | null;
}

/** Findings that do not follow from where a payment stands: whatever made them ends them. */
const standAlone: ReadonlySet<string> = new Set<PaymentFindingKind>(["question", "refund-to-agree"]);

/** What changes about the findings of one subject: new ones, those that came back, those that stay, and those that went away by themselves. */
export function changesOf<Wanted extends AnyFinding, Known extends KnownFinding>(
  wanted: readonly Wanted[],
  known: readonly Known[],
) {
  const same = (one: AnyFinding) => (other: AnyFinding) =>
    one.kind === other.kind && one.detail === other.detail;
  return {
    opened: wanted.filter((one) => !known.some(same(one))),
    // What a person has settled stays settled.
    back: known.filter(
      (one) => one.state === "resolved" && one.person === null && wanted.some((other) => same(other)(one)),
    ),
    kept: known.flatMap((one): [Known, Wanted][] => {
      const other = one.state === "resolved" ? undefined : wanted.find(same(one));
      return other ? [[one, other]] : [];
    }),
    gone: known.filter(
      (one) =>
        one.state !== "resolved" && !standAlone.has(one.kind) && !wanted.some((other) => same(other)(one)),
    ),
  };
}

/** The kinds that wait for somebody once what changes has changed: what was settled or put off does not. */
export function waitingKinds(wanted: readonly AnyFinding[], known: readonly KnownFinding[]): string[] {
  const { opened, back, gone } = changesOf(wanted, known);
  const left = known.filter((one) => one.state === "open" && !gone.includes(one));
  return [...opened, ...back, ...left].map(({ kind }) => kind);
}
