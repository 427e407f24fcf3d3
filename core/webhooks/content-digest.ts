import { createHash, timingSafeEqual } from "node:crypto";
import { parseDictionary } from "structured-headers";
import { VerificationError } from "./errors";

const hashes: Record<string, string> = { "sha-256": "sha256", "sha-512": "sha512" };

/**
 * Checks a Content-Digest header field (RFC 9530) against the body's bytes. Unknown algorithms are passed over, as
 * the standard asks; at least one known must be there, and every known one must hold.
 * Throws `signature-malformed` or `digest-mismatch`.
 */
export function checkContentDigest(header: string, body: Uint8Array): void {
  let entries: [string, unknown][];
  try {
    entries = [...parseDictionary(header)].map(([name, item]) => [name, item[0]]);
  } catch {
    throw new VerificationError("signature-malformed", "Content-Digest is not a dictionary");
  }
  const known = entries.filter(([name]) => Object.hasOwn(hashes, name));
  if (known.length === 0)
    throw new VerificationError("digest-mismatch", "Content-Digest names no digest that is known here");
  for (const [name, value] of known) {
    const expected = createHash(hashes[name] ?? "")
      .update(body)
      .digest();
    const given = value instanceof ArrayBuffer ? Buffer.from(value) : Buffer.alloc(0);
    if (given.length !== expected.length || !timingSafeEqual(given, expected))
      throw new VerificationError(
        "digest-mismatch",
        "the body is not the one that Content-Digest was made of",
      );
  }
}
