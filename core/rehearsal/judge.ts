import type { Money } from "../money/money";
import type { ReadingKind } from "../profiles/profile-types";
import type { CapturePolicy } from "../offers/offer";
import type { Dispute, PaymentState } from "../payments/facts";
import { type Said, said, type Told } from "../said";
import type { Check, RehearsalCase } from "./script";

export interface Totals {
  authorised: Money;
  captured: Money;
  refunded: Money;
}

/** So many payments of an amount, which come to a total. */
export interface AgreedPlan {
  payments: number;
  each: Money;
  total: Money;
}

/** What a case left behind, as far as the judgement needs it. */
export interface Observed {
  state: PaymentState | "none";
  dispute: Dispute["state"] | null;
  /** Messages that were verified, lost at the rim, came a second time, and came after later ones. */
  webhooks: number;
  withheld: number;
  repeated: number;
  overtaken: number;
  /** Messages that were applied before the answer to the request, and such as came after a look-up had settled it. */
  early: number;
  late: number;
  /** Whether the provider sends no message of the outcome. */
  untold: boolean;
  /** Messages whose signature was refused. */
  refused: number;
  /** Whether nothing was asked for, as where something free begins: then there is nothing to capture later. */
  free: boolean;
  /** Payments that the provider has under our reference. */
  charges: number;
  /** How often the provider was asked to make the payment. */
  asks: number;
  /** Reports of a payment that waits although the shopper has done everything. */
  waits: number;
  /** Refunds that were under way for a while, and such as failed. */
  refundsWaited: number;
  refundsFailed: number;
  /** Reports of another amount that are told to a person. */
  amountsTold: number;
  /** What was kept of the payment before, which the judged one was paid with. */
  kept: number;
  /** How many periods of a subscription were paid without the shopper or after they were asked, each once; and how many should have been. */
  renewals: number;
  planned: number | null;
  /** How often a period was refused, and its shopper asked for something else. */
  refusals: number;
  asked: number;
  /** How often the shop said what a basket comes to, and refused to say it to whoever could not sign. */
  shopAnswers: number;
  strangersRefused: number;
  /** The plans that a notice told of for the same order, and the one that the shopper agreed to. */
  plansTold: readonly AgreedPlan[];
  planAgreed: AgreedPlan | null;
  /** What was authorised, captured and refunded, as each side has it. */
  ours: Totals | null;
  theirs: Totals | null;
}

/** What is observed where no payment was made. */
export const nothingObserved: Observed = {
  state: "none",
  dispute: null,
  ...{ webhooks: 0, withheld: 0, repeated: 0, overtaken: 0, early: 0, late: 0, refused: 0 },
  ...{ untold: false, free: false },
  ...{ charges: 0, asks: 0, waits: 0, refundsWaited: 0, refundsFailed: 0, amountsTold: 0 },
  ...{ kept: 0, renewals: 0, planned: null, refusals: 0, asked: 0, plansTold: [], planAgreed: null },
  ...{ shopAnswers: 0, strangersRefused: 0 },
  ours: null,
  theirs: null,
};

export interface Verdict {
  what: Said;
  expected: Told;
  happened: Told;
  ok: boolean;
}

/** The state a case must end in under the offer's capture policy. */
export function expectedState(one: RehearsalCase, policy: CapturePolicy): PaymentState | "none" {
  const capture = one.capture === "offer" ? policy : one.capture;
  if (one.expects === "paid") return capture === "later" ? "authorised" : "captured";
  return one.expects;
}

/** What a check counts, and how many there must be at least; and at most, where more would be wrong as well. */
interface Counted {
  what: Said;
  of: (observed: Observed) => number;
  least: number;
  most?: number;
}

const counted: Record<Exclude<Check, "amounts-agree" | "plan-as-told" | "periods-as-planned">, Counted> = {
  "webhook-arrived": { what: said("cases.webhooks-verified"), of: (one) => one.webhooks, least: 1 },
  "webhook-withheld": { what: said("cases.webhooks-lost-way"), of: (one) => one.withheld, least: 1 },
  "webhook-repeated": { what: said("cases.webhooks-came-twice"), of: (one) => one.repeated, least: 1 },
  "webhook-overtaken": {
    what: said("cases.webhooks-overtaken-later-ones"),
    of: (one) => one.overtaken,
    least: 1,
  },
  "webhook-early": { what: said("cases.webhooks-before-answer"), of: (one) => one.early, least: 1 },
  "webhook-late": { what: said("cases.webhooks-after-look-up"), of: (one) => one.late, least: 1 },
  "forgery-refused": {
    what: said("cases.forged-messages-refused"),
    of: (one) => one.refused,
    ...{ least: 1, most: 1 },
  },
  "one-charge": { what: said("cases.payments-provider"), of: (one) => one.charges, least: 1, most: 1 },
  "no-charge": { what: said("cases.payments-provider"), of: (one) => one.charges, least: 0, most: 0 },
  "asked-again": { what: said("cases.times-asked"), of: (one) => one.asks, least: 2 },
  waited: { what: said("cases.waiting-told"), of: (one) => one.waits, least: 1 },
  "refund-waited": { what: said("cases.refunds-waited"), of: (one) => one.refundsWaited, least: 1 },
  "refund-failed": { what: said("cases.refunds-failed"), of: (one) => one.refundsFailed, least: 1 },
  kept: { what: said("cases.kept-for-next-time"), of: (one) => one.kept, ...{ least: 1, most: 1 } },
  "refused-first": { what: said("cases.periods-refused"), of: (one) => one.refusals, least: 1 },
  "shopper-asked": { what: said("cases.shopper-asked"), of: (one) => one.asked, least: 1 },
  "shop-answered": { what: said("cases.shop-answers-read"), of: (one) => one.shopAnswers, least: 1 },
  "strangers-refused": {
    what: said("cases.strangers-refused"),
    of: (one) => one.strangersRefused,
    ...{ least: 1, most: 1 },
  },
  "amount-told": { what: said("cases.amounts-told"), of: (one) => one.amountsTold, least: 1 },
};

/** Holds what happened against what had to. The case passed when every verdict is ok. */
export function judge(one: RehearsalCase, policy: CapturePolicy, observed: Observed): Verdict[] {
  const state = expectedState(one, observed.free ? "at-once" : policy);
  const stands = { what: said("cases.state"), expected: state, happened: observed.state };
  return [
    // Where only the shop is asked there is no payment to stand anywhere.
    ...(one.shop ? [] : [{ ...stands, ok: observed.state === state }]),
    ...(one.dispute ? [disputeVerdict(one.dispute, observed.dispute)] : []),
    ...one.checks
      .filter((check) => check !== "webhook-arrived" || !observed.untold)
      .map((check) => {
        if (check === "amounts-agree") return amountsVerdict(observed);
        if (check === "periods-as-planned") return periodsVerdict(observed);
        return check === "plan-as-told" ? planVerdict(observed) : countVerdict(counted[check], observed);
      }),
  ];
}

/** Whether the provider sends a message of an outcome; parts of a whole are told as the whole is. */
export const isTold = (state: PaymentState | "none", silent: readonly ReadingKind[]): boolean =>
  !silent.includes(state.replace("partly-", "") as ReadingKind);

function countVerdict({ what, of, least, most = Infinity }: Counted, observed: Observed): Verdict {
  const happened = of(observed);
  const expected = least === most ? String(least) : said("cases.at-least", { count: least });
  return { what, expected, happened: String(happened), ok: happened >= least && happened <= most };
}

const disputeWords = (state: Observed["dispute"]): Said => said("cases.dispute", { state: state ?? "none" });

const disputeVerdict = (expected: "open" | "won" | "lost", happened: Observed["dispute"]): Verdict => ({
  what: said("cases.dispute-stands"),
  expected: disputeWords(expected),
  happened: disputeWords(happened),
  ok: happened === expected,
});

const totals = (one: Totals | null): Said => (one ? said("cases.totals", { ...one }) : said("cases.nothing"));
const sameTotals = (a: Totals | null, b: Totals | null) =>
  a && b
    ? (["authorised", "captured", "refunded"] as const).every(
        (name) => a[name].amount === b[name].amount && a[name].currency === b[name].currency,
      )
    : a === b;

const amountsVerdict = ({ ours, theirs }: Observed): Verdict => ({
  what: said("cases.amounts-as-provider"),
  expected: totals(theirs),
  happened: totals(ours),
  ok: sameTotals(ours, theirs),
});

/** Every period that was due has to be paid, once, and none that was not. */
const periodsVerdict = ({ planned, renewals }: Observed): Verdict => ({
  what: said("cases.periods-paid"),
  expected: planned === null ? said("cases.a-subscription") : String(planned),
  happened: String(renewals),
  ok: planned === renewals,
});

const planSaid = ({ payments, each, total }: AgreedPlan): Said =>
  said("cases.plan", { payments, each, total });
const samePlan = (one: AgreedPlan, other: AgreedPlan): boolean =>
  one.payments === other.payments &&
  (["each", "total"] as const).every(
    (name) => one[name].amount === other[name].amount && one[name].currency === other[name].currency,
  );

/** The plan that the shopper agreed to has to be one of those that a notice told of. */
const planVerdict = ({ plansTold, planAgreed }: Observed): Verdict => ({
  what: said("cases.plan-as-told"),
  expected:
    plansTold.length > 0 ? said("cases.one-of", { plans: plansTold.map(planSaid) }) : said("cases.a-quote"),
  happened: planAgreed ? planSaid(planAgreed) : said("cases.nothing"),
  ok: planAgreed !== null && plansTold.some((one) => samePlan(one, planAgreed)),
});

/** The same verdicts, said of one currency of several. */
export const inCurrency = (verdicts: readonly Verdict[], currency: string): Verdict[] =>
  verdicts.map((one) => ({ ...one, what: said("cases.in-currency", { currency, what: one.what }) }));
