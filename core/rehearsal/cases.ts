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
export const caseGroups = [
  "The shopper pays",
  "The issuer asks",
  "Money afterwards",
  "Messages go wrong",
] as const;
export type CaseGroup = (typeof caseGroups)[number];

/** One scripted test transaction. */
export interface RehearsalCase {
  id: CaseId;
  title: string;
  about: string;
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

const plain = (
  id: CaseId,
  title: string,
  about: string,
  instrument: string,
  expects: RehearsalCase["expects"],
): RehearsalCase => ({
  id,
  title,
  about,
  instrument,
  capture: "offer",
  steps: [],
  expects,
  checks: ["webhook-arrived", "one-charge", "amounts-agree"],
});
const approved = (
  id: CaseId,
  title: string,
  about: string,
  change: Partial<RehearsalCase>,
): RehearsalCase => ({
  ...plain(id, title, about, "approved", "paid"),
  ...change,
});

export const rehearsalCases: readonly RehearsalCase[] = [
  plain("approved", "Approved", "A good card pays the order.", "approved", "paid"),
  approved("captured-later", "Approved, captured later", "The money is held first and taken afterwards.", {
    capture: "later",
    steps: ["capture"],
    expects: "captured",
  }),
  plain("insufficient-funds", "Insufficient funds", "The issuer says no.", "insufficient-funds", "declined"),
  plain("expired-card", "Expired card", "The issuer says the card has expired.", "expired-card", "declined"),
  plain("wrong-code", "Wrong code", "The security code does not fit.", "wrong-code", "declined"),
  plain("processing-error", "Processing error", "Nobody can say; it fails.", "processing-error", "failed"),
  {
    ...plain(
      "challenge-passed",
      "Challenge passed",
      "The issuer asks, the shopper proves it.",
      "challenge",
      "paid",
    ),
    steps: ["pass-challenge"],
  },
  {
    ...plain(
      "challenge-failed",
      "Challenge failed",
      "The issuer asks, the shopper fails.",
      "challenge",
      "declined",
    ),
    steps: ["fail-challenge"],
  },
  approved("refund", "Refund", "All of it is refunded.", {
    capture: "at-once",
    steps: ["refund"],
    expects: "refunded",
  }),
  approved("part-refund", "Part refund", "Half of it is refunded.", {
    capture: "at-once",
    steps: ["refund-part"],
    expects: "partly-refunded",
  }),
  approved("void", "Void", "What was held is released.", {
    capture: "later",
    steps: ["void"],
    expects: "voided",
  }),
  approved("answer-lost", "Answer lost", "The provider charged, its answer never came.", {
    fault: "lose-answer",
  }),
  {
    ...plain(
      "webhook-lost",
      "Webhook lost",
      "The webhook never arrives; a look-up settles it.",
      "challenge",
      "paid",
    ),
    fault: "lose-webhook",
    steps: ["pass-challenge", "look-up"],
    checks: ["webhook-withheld", "one-charge", "amounts-agree"],
  },
  approved("webhook-doubled", "Webhook doubled", "The same webhook comes twice.", {
    fault: "double-webhook",
    checks: ["webhook-arrived", "webhook-repeated", "one-charge", "amounts-agree"],
  }),
  approved("webhooks-reordered", "Webhooks reordered", "A later webhook overtakes an earlier one.", {
    capture: "at-once",
    fault: "reorder-webhooks",
    checks: ["webhook-arrived", "webhook-overtaken", "one-charge", "amounts-agree"],
  }),
  approved("webhook-forged", "Webhook forged", "Somebody claims a refund without the secret.", {
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
  if (fault || steps.includes("forge-webhook")) return "Messages go wrong";
  if (steps.includes("pass-challenge") || steps.includes("fail-challenge")) return "The issuer asks";
  return steps.length > 0 ? "Money afterwards" : "The shopper pays";
}

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
  because: string | null;
}

/** Which cases an offer needs, as it follows from what it uses. */
export function requiredCases(uses: Uses): ({ id: CaseId } & Requirement)[] {
  return rehearsalCases.map(({ id }) =>
    uses.playable.has(id)
      ? { id, ...requirement(id, uses) }
      : { id, required: false, because: "This provider's sandbox has no such outcome." },
  );
}

function requirement(id: CaseId, uses: Uses): Requirement {
  const when = (required: boolean, yes: string, no: string) => ({ required, because: required ? yes : no });
  switch (id) {
    case "captured-later":
      return when(uses.capture === "later", "The offer captures later.", "The offer captures at once.");
    case "void":
      return when(
        uses.capture === "later" && uses.void,
        "The offer captures later, so it can be voided.",
        "The offer captures at once; there is nothing to void.",
      );
    case "refund":
      return when(uses.refund, "Payments can be refunded.", "The method cannot refund.");
    case "part-refund":
      return when(
        uses.partialRefund,
        "Payments can be refunded in part.",
        "The method cannot refund in part.",
      );
    case "challenge-passed":
    case "challenge-failed":
      return when(
        uses.authentication.length > 0,
        "Issuers may ask for authentication.",
        "Issuers never ask.",
      );
    case "webhook-lost":
    case "webhook-doubled":
    case "webhooks-reordered":
    case "webhook-forged":
      return when(uses.webhooks, "The connection listens to webhooks.", "The connection has no webhook.");
    default:
      return { required: true, because: null };
  }
}

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
  /** Authorised, captured and refunded, as each side has them, in words. */
  ours: string;
  theirs: string;
}

export interface Verdict {
  what: string;
  expected: string;
  happened: string;
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
    { what: "State", expected: state, happened: observed.state, ok: observed.state === state },
  ];
  const count = (what: string, happened: number, least: number, most = Infinity) => {
    const expected = least === most ? String(least) : `${least} or more`;
    verdicts.push({ what, expected, happened: String(happened), ok: happened >= least && happened <= most });
  };
  for (const check of one.checks) {
    if (check === "webhook-arrived") count("Webhooks verified", observed.webhooks, 1);
    if (check === "webhook-withheld") count("Webhooks lost on the way", observed.withheld, 1);
    if (check === "webhook-repeated") count("Webhooks that came twice", observed.repeated, 1);
    if (check === "webhook-overtaken") count("Webhooks overtaken by later ones", observed.overtaken, 1);
    if (check === "one-charge") count("Payments at the provider", observed.charges, 1, 1);
    if (check === "forgery-refused") count("Forged messages refused", observed.refused, 1, 1);
    if (check === "amounts-agree") {
      const { ours, theirs } = observed;
      verdicts.push({
        what: "Amounts as the provider has them",
        expected: theirs,
        happened: ours,
        ok: ours === theirs,
      });
    }
  }
  return verdicts;
}
