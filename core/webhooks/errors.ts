/** Why a message is not believed. Each has a stable code that the interface turns into words. */
export const verificationCodes = [
  "header-missing",
  "timestamp-malformed",
  "timestamp-too-old",
  "timestamp-too-new",
  "signature-malformed",
  "signature-mismatch",
  "component-missing",
  "algorithm-refused",
  "digest-mismatch",
  "key-unknown",
  "key-missing",
  "body-unreadable",
  "secret-malformed",
] as const;
export type VerificationCode = (typeof verificationCodes)[number];

/** Thrown by every verifier in this folder. */
export class VerificationError extends Error {
  constructor(
    readonly code: VerificationCode,
    message: string,
  ) {
    super(message);
    this.name = "VerificationError";
  }
}
