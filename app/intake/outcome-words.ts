import { FORGED, type WebhookOutcome } from "#server/database/schema";
import { verdictWords } from "#core/webhooks/verdict-words";

const words: Partial<Record<WebhookOutcome, string>> = {
  waiting: "being applied",
  applied: "applied",
  repeated: "known already, changed nothing",
  "unknown-payment": "about no payment of ours, changed nothing",
  "not-understood": "not understood, changed nothing",
  failing: "could not be applied yet; it is tried again",
  "given-up": "could not be applied in three days; it waits for you",
  ping: "a test message",
  account: "the account was read again",
  lost: "lost on purpose by a rehearsal",
  held: "held back by a rehearsal",
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
    ? "forged by a rehearsal, and refused as it should be"
    : verdict === "verified"
      ? (words[outcome] ?? outcome)
      : `refused: ${verdictWords(verdict as Parameters<typeof verdictWords>[0])}`;
