import type { ActionKind } from "../payments/actions";
import type { CapturePolicy } from "../offers/offer";
import type { PaymentState } from "../payments/facts";
import type { SandboxPlay } from "../profiles/profile";
import type { CaseId } from "./case-ids";

/** What is done to a provider's answer at Zahlung's own rim: thrown away, or taken for a fault; it was carried out all the same. */
export type AnswerFault = "lost" | "broken";

/** A step after the payment was asked for. */
export type Step =
  /** The shopper answers what is asked, or tries once more with a good instrument after a refusal. */
  | { do: "answer"; as: "pass" | "fail" | "again" }
  /** Confirms what the shopper has agreed to; no message tells of it before. */
  | { do: "confirm"; answer: AnswerFault }
  /** Takes what is held, where the offer takes it later. */
  | { do: "take" }
  | { do: "move"; kind: ActionKind; share: "all" | "half" | "rest"; final?: true; answer?: AnswerFault }
  /** What otherwise banks, shoppers and time do, played by the provider's sandbox. */
  | { do: "play"; what: SandboxPlay }
  | { do: "forge-webhook" }
  | { do: "look-up" };

/** What is done to the traffic at Zahlung's own rim while the payment is made. */
export type Fault =
  | "lose-answer"
  /** The answer is held back until the provider's message is there. */
  | "hold-answer"
  /** The provider is too busy to be asked, the first time. */
  | "busy"
  /** Another amount is asked for than the order's, so that the provider reports one that does not fit. */
  | "other-amount"
  | WebhookFault;

/** What is done to the messages about one payment; held back, they come reordered, or only after a look-up. */
export const webhookFaults = [
  "lose-webhook",
  "double-webhook",
  "reorder-webhooks",
  "delay-webhooks",
] as const;
export type WebhookFault = (typeof webhookFaults)[number];
export const isWebhookFault = (fault: Fault | undefined): fault is WebhookFault =>
  (webhookFaults as readonly (Fault | undefined)[]).includes(fault);

export type Check =
  | "webhook-arrived"
  | "webhook-withheld"
  | "webhook-repeated"
  | "webhook-overtaken"
  | "webhook-early"
  | "webhook-late"
  | "forgery-refused"
  | "one-charge"
  | "no-charge"
  | "amounts-agree"
  | "asked-again"
  | "waited"
  | "refund-waited"
  | "refund-failed"
  | "amount-told"
  | "plan-as-told"
  | "periods-as-planned"
  | "refused-first"
  | "shopper-asked"
  | "kept"
  | "shop-answered"
  | "strangers-refused";

/**
 * What becomes of a rehearsed subscription: it is begun and no more, charged once, refused and then paid with something
 * else, what it is charged to is forgotten over there, it is cancelled before the next period, or it runs for two years.
 */
export type Repeating = "begun" | "charged" | "rescued" | "forgotten" | "cancelled" | "two-years";

/** What of an offer or its connection a case is needed for. */
export type Need =
  | "confirm"
  | "later"
  | "void"
  | "refund"
  | "partial-refund"
  | "partial-capture"
  | "authentication"
  | "webhooks"
  | "currencies"
  | "notices"
  | "button"
  | "keeps"
  | "repeats";

/** What cases are about, in the order in which a board shows them. */
export const caseGroups = ["paying", "asked", "afterwards", "messages"] as const;
export type CaseGroup = (typeof caseGroups)[number];

/** One scripted test transaction. */
export interface RehearsalCase {
  id: CaseId;
  group: CaseGroup;
  /** Which test instrument of the profile plays the shopper, by the instrument's `case`. */
  instrument: string;
  /** `offer`: as the offer captures; otherwise what the case needs. */
  capture: "offer" | CapturePolicy;
  steps: Step[];
  fault?: Fault;
  /** Whether it is played once in every currency that the offer takes. */
  eachCurrency?: true;
  /** Whether what is paid with is kept by one payment and pays the next, which is the one that is judged. */
  keeps?: true;
  /** Whether it is begun by the offer's button, and agreed to at the wallet with another delivery than the first. */
  button?: true;
  /** Whether the shop itself is asked what the basket of its test page comes to, and no payment is made. */
  shop?: true;
  /** What becomes of a subscription that is begun and charged; the last of its payments is the one that is judged. */
  repeats?: Repeating;
  /** The state it must end in. `paid` is authorised or captured, as the case captures; `none`: there is no payment. */
  expects: PaymentState | "paid" | "none";
  /** Where its dispute must stand at the end. */
  dispute?: "open" | "won" | "lost";
  checks: Check[];
  needs: Need[];
}

/** Whether a step stands for a shopper who answers, or does not: nobody answers for them beforehand. */
export const standsForShopper = (step: Step): boolean =>
  step.do === "answer"
    ? step.as !== "again"
    : step.do === "play" && (step.what === "payment-ends" || step.what === "shopper-leaves");
