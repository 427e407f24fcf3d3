import { FORGED, type WebhookOutcome } from "#server/database/schema";
import { verdictWords } from "#core/webhooks/verdict-words";
import { t } from "../words/pages/intake";

const words: Partial<Record<WebhookOutcome, string>> = {
  waiting: t("being-applied"),
  applied: t("applied"),
  repeated: t("known-already-changed-nothing"),
  "unknown-payment": t("about-no-payment-of-ours"),
  "not-understood": t("not-understood-changed-nothing"),
  failing: t("could-not-be-applied-yet"),
  "given-up": t("could-not-be-applied-in"),
  ping: t("a-test-message"),
  account: t("the-account-was-read-again"),
  lost: t("lost-on-purpose-by-a"),
  held: t("held-back-by-a-rehearsal"),
};

/** What became of a message, in words. */
export const outcomeWords = ({
  verdict,
  outcome,
  event,
}: {
  verdict: string;
  outcome: WebhookOutcome;
  event: string | null;
}): string =>
  event === FORGED
    ? t("forged-by-a-rehearsal-and")
    : verdict === "verified"
      ? (words[outcome] ?? outcome)
      : t("refused-verdict", { verdict: verdictWords(verdict as Parameters<typeof verdictWords>[0]) });
