import { decimalText } from "#core/money/money";
import { type Problem, problem } from "#core/said";
import { type Plan, type Repeats, type Trying, usualTrying } from "#core/subscriptions/plan";
import type { Rhythm, RhythmUnit } from "#core/subscriptions/schedule";

type Texts = Record<string, string>;

/** A plan as a person edits it: sums and counts are text until they are saved. */
export interface PlanDraft {
  id: string;
  names: Texts;
  count: string;
  unit: RhythmUnit;
  times: string;
  prices: Texts;
  setUp: Texts;
  setUpNames: Texts;
  begins: "at-once" | "trial" | "fixed-day" | "trial-then-day";
  trialDays: string;
  trialPrices: Texts;
  day: string;
  prorated: boolean;
  /** Percent; empty where nothing is said of tax. */
  tax: string;
  taxIncluded: boolean;
}

/** What an offer says of repeating payments, as it is edited. Without plans it takes none. */
export interface RepeatsDraft {
  plans: PlanDraft[];
  trying: Trying;
  /** Empty: the viewer's. */
  timeZone: string;
}

export const hasTrial = ({ begins }: Pick<PlanDraft, "begins">): boolean => begins.startsWith("trial");
export const hasFixedDay = ({ begins }: Pick<PlanDraft, "begins">): boolean => begins.endsWith("day");

const texts = (sums: Record<string, number>): Texts =>
  Object.fromEntries(
    Object.entries(sums).map(([currency, amount]) => [currency, decimalText({ amount, currency })]),
  );

export const draftOfRepeats = (repeats: Repeats | undefined): RepeatsDraft => ({
  plans: (repeats?.plans ?? []).map(draftOfPlan),
  trying: repeats?.trying ?? usualTrying,
  timeZone: repeats?.timeZone ?? "",
});

const draftOfPlan = ({ rhythm, times, trial, fixedDay, tax, ...plan }: Plan): PlanDraft => ({
  ...{ id: plan.id, names: plan.names, count: String(rhythm.count), unit: rhythm.unit },
  ...{ times: times === null ? "" : String(times), prices: texts(plan.prices) },
  ...{ setUp: texts(plan.setUp), setUpNames: plan.setUpNames },
  begins: trial ? (fixedDay ? "trial-then-day" : "trial") : fixedDay ? "fixed-day" : "at-once",
  ...{ trialDays: trial ? String(trial.days) : "", trialPrices: texts(trial?.prices ?? {}) },
  ...{ day: fixedDay ? String(fixedDay.day) : "", prorated: fixedDay?.prorated ?? true },
  ...{ tax: tax ? String(tax.share / 100) : "", taxIncluded: tax?.included ?? true },
});

/** What a new plan starts from: every month, until it is ended. */
export const blankPlan = (others: readonly PlanDraft[]): PlanDraft => ({
  id: `plan-${others.length + 1}`,
  ...{ names: {}, count: "1", unit: "month", times: "", prices: {}, setUp: {}, setUpNames: {} },
  ...{ begins: "at-once", trialDays: "14", trialPrices: {}, day: "1", prorated: true },
  ...{ tax: "", taxIncluded: true },
});

/** Reads an amount at a path; null where nothing is written, or it is none, which is said. */
export type ReadAmount = (path: string, currency: string, typed: string) => number | null;

/** Reads the draft back; what cannot be read is named and left out. Undefined: the offer takes no repeating payments. */
export function readRepeats(
  { plans, trying, timeZone }: RepeatsDraft,
  amount: ReadAmount,
): { repeats: Repeats | undefined; problems: Problem[] } {
  const problems: Problem[] = [];
  if (plans.length === 0) return { repeats: undefined, problems };
  const read = plans.map((plan, i) => readPlan(plan, `repeats.plans.${i}`, amount, problems));
  return { repeats: { plans: read, trying, timeZone: timeZone.trim() }, problems };
}

function readPlan(draft: PlanDraft, path: string, amount: ReadAmount, problems: Problem[]): Plan {
  const whole = (name: string, text: string, most: number): number => {
    const typed = text.trim();
    const value = /^\d{1,4}$/.test(typed) ? Number(typed) : 0;
    if (value >= 1 && value <= most) return value;
    problems.push(problem(`${path}.${name}`, "offer.no-count", { most }));
    return 1;
  };
  const sums = (name: string, typed: Texts) =>
    Object.fromEntries(
      Object.entries(typed).flatMap(([currency, text]) => {
        const sum = amount(`${path}.${name}`, currency, text);
        return sum === null ? [] : [[currency, sum] as const];
      }),
    );
  const rhythm: Rhythm = { count: whole("rhythm", draft.count, 400), unit: draft.unit };
  const setUp = Object.fromEntries(Object.entries(sums("setUp", draft.setUp)).filter(([, sum]) => sum > 0));
  const share = /^\d{1,2}([.,]\d{1,2})?$/.test(draft.tax.trim())
    ? Math.round(Number(draft.tax.trim().replace(",", ".")) * 100)
    : null;
  if (share === null && draft.tax.trim() !== "")
    problems.push(problem(`${path}.tax`, "offer.no-share", { text: draft.tax.slice(0, 20) }));
  return {
    ...{ id: draft.id.trim(), names: trimmed(draft.names), rhythm },
    times: draft.times.trim() === "" ? null : whole("times", draft.times, 1_000),
    prices: sums("prices", draft.prices),
    setUp,
    setUpNames: Object.keys(setUp).length > 0 ? trimmed(draft.setUpNames) : {},
    trial: hasTrial(draft)
      ? {
          days: whole("trial.days", draft.trialDays, 730),
          prices: sums("trial.prices", draft.trialPrices),
        }
      : null,
    fixedDay: hasFixedDay(draft) ? { day: whole("fixedDay", draft.day, 31), prorated: draft.prorated } : null,
    tax: share === null ? null : { share, included: draft.taxIncluded },
  };
}

const trimmed = (names: Texts): Texts =>
  Object.fromEntries(
    Object.entries(names).flatMap(([language, name]) => (name.trim() ? [[language, name.trim()]] : [])),
  );
