import type { VerificationCode } from "./errors";

const words: Record<VerificationCode, string> = {
  "header-missing": "it carries no signature",
  "timestamp-malformed": "its time is malformed",
  "timestamp-too-old": "it is too old",
  "timestamp-too-new": "its time lies in the future; check the clocks",
  "signature-mismatch": "its signature does not fit",
  "signature-malformed": "its signature is malformed",
  "secret-malformed": "the secret is malformed",
  "digest-mismatch": "its body is not the one that was signed",
  "component-missing": "its signature does not cover what it has to",
  "algorithm-refused": "it was signed another way",
  "key-unknown": "it was signed with a key that the provider does not publish",
  "key-missing": "the value it is checked with is not here yet",
  "body-unreadable": "it cannot be read",
};

/** Why a message was refused, in words: the end of a sentence. */
export const verdictWords = (code: string): string =>
  Object.hasOwn(words, code) ? words[code as VerificationCode] : code;
