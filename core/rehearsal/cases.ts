import { type Money } from "../money/money";
import { type Said, said, type Told } from "../said";
import type { AuthenticationPolicy, CapturePolicy } from "../offers/offer";
import type { PaymentState } from "../payments/facts";
import { type Operating, type Profile, type ProfileInstrument, ridesAlong } from "../profiles/profile";

/** What of a profile decides how its cases are played. */
export type Playing = Pick<Profile, "instruments" | "ridesOn"> & Operating;

/** A step after the payment was asked for. */
export type Step =
  | "pass-challenge"
  | "fail-challenge"
  | "capture"
  | "void"
  | "refund"
  | "refund-part"
  | "forge-webhook"
  | "look-up";

/** What is done to the traffic at Zahlung's own rim. */
export type Fault = "lose-answer" | "lose-webhook" | "double-webhook" | "reorder-webhooks";

export type Check =
  | "webhook-arrived"
  | "webhook-withheld"
  | "webhook-repeated"
  | "webhook-overtaken"
  | "forgery-refused"
  | "one-charge"
  | "amounts-agree";

/** What cases are about, in the order in which a board shows them. */
export const caseGroups = ["paying", "asked", "afterwards", "messages"] as const;
export type CaseGroup = (typeof caseGroups)[number];

/** One scripted test transaction. */
export interface RehearsalCase {
  id: CaseId;
  /** Which test instrument of the profile plays the shopper, by the instrument's `case`. */
  instrument: string;
  /** `offer`: as the offer captures; otherwise what the case needs. */
  capture: "offer" | CapturePolicy;
  steps: Step[];
  fault?: Fault;
  /** The state it must end in. `paid` is authorised or captured, as the case captures. */
  expects: PaymentState | "paid";
  checks: Check[];
}

export const caseIds = [
  "approved",
  "captured-later",
  "insufficient-funds",
  "expired-card",
  "wrong-code",
  "processing-error",
  "challenge-passed",
  "challenge-failed",
  "refund",
  "part-refund",
  "void",
  "answer-lost",
  "webhook-lost",
  "webhook-doubled",
  "webhooks-reordered",
  "webhook-forged",
] as const;
export type CaseId = (typeof caseIds)[number];

const plain = (id: CaseId, instrument: string, expects: RehearsalCase["expects"]): RehearsalCase => ({
  id,
  instrument,
  capture: "offer",
  steps: [],
  expects,
  checks: ["webhook-arrived", "one-charge", "amounts-agree"],
});
const approved = (id: CaseId, change: Partial<RehearsalCase>): RehearsalCase => ({
  ...plain(id, "approved", "paid"),
  ...change,
});

export const rehearsalCases: readonly RehearsalCase[] = [
  plain("approved", "approved", "paid"),
  approved("captured-later", {
    capture: "later",
    steps: ["capture"],
    expects: "captured",
  }),
  plain("insufficient-funds", "insufficient-funds", "declined"),
  plain("expired-card", "expired-card", "declined"),
  plain("wrong-code", "wrong-code", "declined"),
  plain("processing-error", "processing-error", "failed"),
  {
    ...plain("challenge-passed", "challenge", "paid"),
    steps: ["pass-challenge"],
  },
  {
    ...plain("challenge-failed", "challenge", "declined"),
    steps: ["fail-challenge"],
  },
  approved("refund", {
    capture: "at-once",
    steps: ["refund"],
    expects: "refunded",
  }),
  approved("part-refund", {
    capture: "at-once",
    steps: ["refund-part"],
    expects: "partly-refunded",
  }),
  approved("void", {
    capture: "later",
    steps: ["void"],
    expects: "voided",
  }),
  approved("answer-lost", {
    fault: "lose-answer",
  }),
  {
    ...plain("webhook-lost", "challenge", "paid"),
    fault: "lose-webhook",
    steps: ["pass-challenge", "look-up"],
    checks: ["webhook-withheld", "one-charge", "amounts-agree"],
  },
  approved("webhook-doubled", {
    fault: "double-webhook",
    checks: ["webhook-arrived", "webhook-repeated", "one-charge", "amounts-agree"],
  }),
  approved("webhooks-reordered", {
    capture: "at-once",
    fault: "reorder-webhooks",
    checks: ["webhook-arrived", "webhook-overtaken", "one-charge", "amounts-agree"],
  }),
  approved("webhook-forged", {
    steps: ["forge-webhook"],
    checks: ["webhook-arrived", "one-charge", "forgery-refused", "amounts-agree"],
  }),
];

/**
 * The profile's test instrument that plays a case; where nobody is asked apart, any shopper who goes on does. A device
 * asks before there is a payment, so nothing of it can wait for an answer.
 */
export function instrumentFor(profile: Playing, script: RehearsalCase): ProfileInstrument | undefined {
  const { instruments } = profile;
  const named = instruments.find((one) => one.case === script.instrument);
  if (named || script.instrument !== "challenge" || ridesAlong(profile)) return named;
  return instruments.find((one) => one.case === "approved" && one.answer);
}

/** The group that a case belongs to, as it follows from what is done in it. */
export function groupOf({ fault, steps }: Pick<RehearsalCase, "fault" | "steps">): CaseGroup {
  if (fault || steps.includes("forge-webhook")) return "messages";
  if (steps.includes("pass-challenge") || steps.includes("fail-challenge")) return "asked";
  return steps.length > 0 ? "afterwards" : "paying";
}

/** What a case is called. */
export const caseTitle = (id: CaseId): Said => said(`cases.${id}.title`);

export const caseOf = (id: string) => rehearsalCases.find((one) => one.id === id);

/** What an offer uses, as far as it decides which cases must be shown. */
export interface Uses {
  capture: CapturePolicy;
  authentication: readonly AuthenticationPolicy[];
  void: boolean;
  refund: boolean;
  partialRefund: boolean;
  webhooks: boolean;
  /** Cases that the provider's test instruments can play. */
  playable: ReadonlySet<CaseId>;
}

/** The cases that a profile has a test instrument for. */
export const playableCases = (profile: Playing): ReadonlySet<CaseId> =>
  new Set(rehearsalCases.filter((one) => instrumentFor(profile, one)).map((one) => one.id));

/** Whether a case is required before live, and what about the offer decides it; null where every offer needs it. */
export interface Requirement {
  required: boolean;
  because: Said | null;
}

/** Which cases an offer needs, as it follows from what it uses. */
export function requiredCases(uses: Uses): ({ id: CaseId } & Requirement)[] {
  return rehearsalCases.map(({ id }) =>
    uses.playable.has(id)
      ? { id, ...requirement(id, uses) }
      : { id, required: false, because: said("cases.not-playable") },
  );
}

function requirement(id: CaseId, uses: Uses): Requirement {
  const when = (required: boolean, yes: Said, no: Said) => ({ required, because: required ? yes : no });
  switch (id) {
    case "captured-later":
      return when(
        uses.capture === "later",
        said("cases.offer-captures-later"),
        said("cases.offer-captures-once"),
      );
    case "void":
      return when(
        uses.capture === "later" && uses.void,
        said("cases.offer-captures-later-so"),
        said("cases.offer-captures-once-nothing"),
      );
    case "refund":
      return when(uses.refund, said("cases.payments-can-refunded"), said("cases.method-cannot-refund"));
    case "part-refund":
      return when(
        uses.partialRefund,
        said("cases.payments-can-refunded-part"),
        said("cases.method-cannot-refund-part"),
      );
    case "challenge-passed":
    case "challenge-failed":
      return when(
        uses.authentication.length > 0,
        said("cases.issuers-may-ask-authentication"),
        said("cases.issuers-never-ask"),
      );
    case "webhook-lost":
    case "webhook-doubled":
    case "webhooks-reordered":
    case "webhook-forged":
      return when(
        uses.webhooks,
        said("cases.connection-listens-webhooks"),
        said("cases.connection-no-webhook"),
      );
    default:
      return { required: true, because: null };
  }
}

export interface Totals {
  authorised: Money;
  captured: Money;
  refunded: Money;
}

const totals = (one: Totals | null): Said => (one ? said("cases.totals", { ...one }) : said("cases.nothing"));
const sameTotals = (a: Totals | null, b: Totals | null) =>
  a && b
    ? (["authorised", "captured", "refunded"] as const).every(
        (name) => a[name].amount === b[name].amount && a[name].currency === b[name].currency,
      )
    : a === b;

/** What a case left behind, as far as the judgement needs it. Counts of verified and refused webhooks. */
export interface Observed {
  state: PaymentState | "none";
  webhooks: number;
  withheld: number;
  /** Messages that came a second time, and messages that came after later ones. */
  repeated: number;
  overtaken: number;
  refused: number;
  charges: number;
  /** What was authorised, captured and refunded, as each side has it. */
  ours: Totals | null;
  theirs: Totals | null;
}

export interface Verdict {
  what: Said;
  expected: Told;
  happened: Told;
  ok: boolean;
}

/** The state a case must end in under the offer's capture policy. */
export function expectedState(one: RehearsalCase, policy: CapturePolicy): PaymentState {
  const capture = one.capture === "offer" ? policy : one.capture;
  if (one.expects === "paid") return capture === "later" ? "authorised" : "captured";
  return one.expects;
}

/** Holds what happened against what had to. The case passed when every verdict is ok. */
export function judge(one: RehearsalCase, policy: CapturePolicy, observed: Observed): Verdict[] {
  const state = expectedState(one, policy);
  const verdicts: Verdict[] = [
    { what: said("cases.state"), expected: state, happened: observed.state, ok: observed.state === state },
  ];
  const count = (what: Said, happened: number, least: number, most = Infinity) => {
    const expected = least === most ? String(least) : said("cases.at-least", { count: least });
    verdicts.push({ what, expected, happened: String(happened), ok: happened >= least && happened <= most });
  };
  for (const check of one.checks) {
    if (check === "webhook-arrived") count(said("cases.webhooks-verified"), observed.webhooks, 1);
    if (check === "webhook-withheld") count(said("cases.webhooks-lost-way"), observed.withheld, 1);
    if (check === "webhook-repeated") count(said("cases.webhooks-came-twice"), observed.repeated, 1);
    if (check === "webhook-overtaken")
      count(said("cases.webhooks-overtaken-later-ones"), observed.overtaken, 1);
    if (check === "one-charge") count(said("cases.payments-provider"), observed.charges, 1, 1);
    if (check === "forgery-refused") count(said("cases.forged-messages-refused"), observed.refused, 1, 1);
    if (check === "amounts-agree") {
      const { ours, theirs } = observed;
      verdicts.push({
        what: said("cases.amounts-as-provider"),
        expected: totals(theirs),
        happened: totals(ours),
        ok: sameTotals(ours, theirs),
      });
    }
  }
  return verdicts;
}
