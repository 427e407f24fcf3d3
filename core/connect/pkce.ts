import { createHash } from "node:crypto";

/** The S256 challenge of a verifier (RFC 7636, section 4.2). */
export const pkceChallenge = (verifier: string): string =>
  createHash("sha256").update(verifier).digest("base64url");
