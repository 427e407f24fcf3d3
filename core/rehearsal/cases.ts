import { type Said, said } from "../said";
import { type CaseId, caseIds } from "./case-ids";
import type { CaseGroup, RehearsalCase, Repeating, Step } from "./script";

export { type CaseId, caseIds } from "./case-ids";

type Changes = Partial<Omit<RehearsalCase, "id" | "group">>;

const scripted =
  (group: CaseGroup) =>
  (id: CaseId, change: Changes = {}): RehearsalCase => ({
    id,
    group,
    instrument: "approved",
    capture: "offer",
    steps: [],
    expects: "paid",
    checks: ["webhook-arrived", "one-charge", "amounts-agree"],
    needs: [],
    ...change,
  });
const paying = scripted("paying");
const asked = scripted("asked");
const afterwards = scripted("afterwards");
const messages = scripted("messages");

/** A case of a subscription; one that is refused on the way has to have been refused, and its shopper asked. */
const repeating = (id: CaseId, repeats: Repeating, change: Changes = {}): RehearsalCase =>
  afterwards(id, {
    ...{ repeats, needs: ["repeats"], ...change },
    checks: [
      "periods-as-planned",
      ...(repeats === "rescued" ? (["refused-first", "shopper-asked"] as const) : []),
      ...(repeats === "forgotten"
        ? (["shopper-asked", "no-charge"] as const)
        : (["one-charge", "amounts-agree"] as const)),
    ],
  });

/** A case whose instrument, which has its name, is refused. */
const refused = (id: CaseId, expects: RehearsalCase["expects"] = "declined") =>
  paying(id, { instrument: id, expects });

const take: Step = { do: "take" };
const pass: Step = { do: "answer", as: "pass" };
const all = (kind: "capture" | "void" | "refund", answer?: "lost" | "broken"): Step => ({
  do: "move",
  kind,
  share: "all",
  ...(answer && { answer }),
});
const half: Step = { do: "move", kind: "refund", share: "half" };
const play = (what: Extract<Step, { do: "play" }>["what"]): Step => ({ do: "play", what });
const later = { capture: "later", needs: ["later"] } satisfies Changes;

/** The cases of confirmations, captures, voids and refunds that were carried out and whose answer told something else. */
const unanswered = (["lost", "broken"] as const).flatMap((answer) => [
  // Held back, so that nothing is confirmed before it is to be.
  messages(`confirm-${answer}`, {
    ...{ steps: [{ do: "confirm", answer }], fault: "delay-webhooks", needs: ["webhooks", "confirm"] },
  }),
  messages(`capture-${answer}`, { ...later, steps: [all("capture", answer)], expects: "captured" }),
  messages(`void-${answer}`, {
    ...{ capture: "later", needs: ["later", "void"] },
    ...{ steps: [all("void", answer)], expects: "voided" },
  }),
  messages(`refund-${answer}`, {
    ...{ steps: [take, all("refund", answer)], expects: "refunded" },
    needs: ["refund"],
  }),
]);
const disputed = (id: CaseId, dispute: "open" | "won" | "lost", ...ends: Step[]) =>
  afterwards(id, {
    steps: [take, play("dispute-opens"), ...ends],
    expects: dispute === "won" ? "captured" : "disputed",
    dispute,
  });

const scripts: readonly RehearsalCase[] = [
  paying("approved"),
  paying("captured-later", { ...later, steps: [all("capture")], expects: "captured" }),
  paying("each-currency", { eachCurrency: true, needs: ["currencies"] }),
  paying("notice-agrees", { checks: ["plan-as-told", "one-charge", "amounts-agree"], needs: ["notices"] }),
  paying("button-agrees", { button: true, checks: ["one-charge", "amounts-agree"], needs: ["button"] }),
  paying("shop-answers", {
    ...{ shop: true, expects: "none", checks: ["shop-answered", "strangers-refused"], needs: ["button"] },
  }),
  refused("insufficient-funds"),
  refused("expired-card"),
  refused("wrong-code"),
  refused("do-not-honour"),
  refused("suspected-fraud"),
  refused("processing-error", "failed"),
  paying("refused-on-device", { instrument: "refused-on-device", expects: "none", checks: ["no-charge"] }),
  asked("challenge-passed", { instrument: "challenge", steps: [pass], needs: ["authentication"] }),
  asked("challenge-failed", {
    ...{ instrument: "challenge", steps: [{ do: "answer", as: "fail" }], needs: ["authentication"] },
    expects: "declined",
  }),
  asked("second-attempt", { instrument: "insufficient-funds", steps: [{ do: "answer", as: "again" }] }),
  asked("turned-back", { steps: [play("shopper-leaves")], expects: "cancelled" }),
  asked("payment-ended", { steps: [play("payment-ends")], expects: "expired" }),
  asked("late-approval", {
    instrument: "late-approval",
    checks: ["waited", "webhook-arrived", "one-charge", "amounts-agree"],
  }),
  afterwards("kept-and-used", {
    ...{ keeps: true, checks: ["kept", "one-charge", "amounts-agree"], needs: ["keeps"] },
  }),
  repeating("repeat-begun", "begun"),
  repeating("repeat-charged", "charged"),
  repeating("repeat-rescued", "rescued", { instrument: "renewal-refused" }),
  repeating("repeat-asked", "rescued", { instrument: "renewal-asked" }),
  repeating("repeat-forgotten", "forgotten", { expects: "failed" }),
  repeating("repeat-cancelled", "cancelled"),
  repeating("repeat-two-years", "two-years"),
  afterwards("refund", { steps: [take, all("refund")], expects: "refunded", needs: ["refund"] }),
  afterwards("part-refund", { steps: [take, half], expects: "partly-refunded", needs: ["partial-refund"] }),
  afterwards("refund-twice", {
    ...{ steps: [take, half, { do: "move", kind: "refund", share: "rest" }], expects: "refunded" },
    needs: ["partial-refund"],
  }),
  afterwards("refund-waits", {
    ...{ instrument: "refund-waits", steps: [take, all("refund")], expects: "refunded", needs: ["refund"] },
    checks: ["refund-waited", "webhook-arrived", "one-charge", "amounts-agree"],
  }),
  afterwards("refund-fails", {
    ...{ instrument: "refund-fails", steps: [take, all("refund")], expects: "captured", needs: ["refund"] },
    checks: ["refund-failed", "webhook-arrived", "one-charge", "amounts-agree"],
  }),
  afterwards("void", {
    ...{ capture: "later", steps: [all("void")], expects: "voided", needs: ["later", "void"] },
  }),
  afterwards("part-captured", {
    ...{ capture: "later", expects: "partly-captured", needs: ["later", "partial-capture"] },
    steps: [{ do: "move", kind: "capture", share: "half", final: true }],
  }),
  afterwards("authorisation-ended", { ...later, steps: [play("authorisation-ends")], expects: "expired" }),
  disputed("dispute-opened", "open"),
  disputed("dispute-won", "won", play("dispute-won")),
  disputed("dispute-lost", "lost", play("dispute-lost")),
  messages("answer-lost", { fault: "lose-answer" }),
  messages("provider-busy", {
    fault: "busy",
    checks: ["asked-again", "webhook-arrived", "one-charge", "amounts-agree"],
  }),
  ...unanswered,
  messages("other-amount", {
    ...{ fault: "other-amount", expects: "created", checks: ["amount-told", "one-charge"] },
  }),
  messages("webhook-lost", {
    ...{ instrument: "challenge", fault: "lose-webhook", steps: [pass, { do: "look-up" }] },
    ...{ checks: ["webhook-withheld", "one-charge", "amounts-agree"], needs: ["webhooks"] },
  }),
  messages("webhook-early", {
    ...{ fault: "hold-answer", needs: ["webhooks"] },
    checks: ["webhook-early", "one-charge", "amounts-agree"],
  }),
  messages("webhook-late", {
    ...{ fault: "delay-webhooks", steps: [{ do: "look-up" }], needs: ["webhooks"] },
    checks: ["webhook-arrived", "webhook-late", "one-charge", "amounts-agree"],
  }),
  messages("webhook-doubled", {
    ...{ fault: "double-webhook", needs: ["webhooks"] },
    checks: ["webhook-arrived", "webhook-repeated", "one-charge", "amounts-agree"],
  }),
  messages("webhooks-reordered", {
    ...{ fault: "reorder-webhooks", capture: "at-once", needs: ["webhooks"] },
    checks: ["webhook-arrived", "webhook-overtaken", "one-charge", "amounts-agree"],
  }),
  messages("webhook-forged", {
    ...{ steps: [{ do: "forge-webhook" }], needs: ["webhooks"] },
    checks: ["webhook-arrived", "one-charge", "forgery-refused", "amounts-agree"],
  }),
];

/** Every case, in the order in which a board shows them. */
export const rehearsalCases: readonly RehearsalCase[] = caseIds.flatMap((id) =>
  scripts.filter((one) => one.id === id),
);

/** What a case is called. */
export const caseTitle = (id: CaseId): Said => said(`cases.${id}.title`);

export const caseOf = (id: string) => rehearsalCases.find((one) => one.id === id);
