import { createHmac, timingSafeEqual } from "node:crypto";
import { checkAge } from "./age";
import { VerificationError } from "./errors";
import type { Clock, Headers } from "./message";

const PREFIX = "whsec_";

/** The key bytes of a secret, with or without the specification's prefix. Throws `secret-malformed`. */
function keyOf(secret: string): Buffer {
  const encoded = secret.startsWith(PREFIX) ? secret.slice(PREFIX.length) : secret;
  const key = Buffer.from(encoded, "base64");
  if (key.length < 16) throw new VerificationError("secret-malformed", "the signing secret is too short");
  return key;
}

/** A secret in the specification's writing from 24 to 64 random bytes. */
export const secretFromBytes = (bytes: Uint8Array) => PREFIX + Buffer.from(bytes).toString("base64");

function mac(key: Buffer, id: string, timestamp: string, body: string | Uint8Array): Buffer {
  return createHmac("sha256", key).update(`${id}.${timestamp}.`).update(body).digest();
}

/**
 * Signs a message by the Standard Webhooks specification, version 1.0 (symmetric, `v1`).
 * `at` is milliseconds since the epoch. Throws `secret-malformed`.
 */
export function sign(
  secret: string,
  id: string,
  at: number,
  body: string | Uint8Array,
): Record<string, string> {
  const timestamp = String(Math.floor(at / 1000));
  return {
    "webhook-id": id,
    "webhook-timestamp": timestamp,
    "webhook-signature": `v1,${mac(keyOf(secret), id, timestamp, body).toString("base64")}`,
  };
}

/**
 * Verifies a message by the Standard Webhooks specification. `now` and `tolerance` are milliseconds; several
 * secrets may be given while one is being replaced. Returns the message id.
 * Throws a `VerificationError`: `header-missing`, `timestamp-malformed`, `timestamp-too-old`,
 * `timestamp-too-new`, `signature-mismatch` or `secret-malformed`.
 */
export function verify(
  secrets: readonly string[],
  headers: Headers,
  body: string | Uint8Array,
  clock: Clock,
): { id: string } {
  const id = headers["webhook-id"];
  const timestamp = headers["webhook-timestamp"];
  const signatures = headers["webhook-signature"];
  if (!id || !timestamp || !signatures) {
    throw new VerificationError("header-missing", "webhook-id, -timestamp or -signature is missing");
  }
  if (!/^\d{1,12}$/.test(timestamp)) {
    throw new VerificationError("timestamp-malformed", "webhook-timestamp is not seconds since the epoch");
  }
  checkAge(Number(timestamp) * 1000, clock);
  const given = signatures
    .split(" ")
    .filter((one) => one.startsWith("v1,"))
    .map((one) => Buffer.from(one.slice(3), "base64"));
  for (const secret of secrets) {
    const expected = mac(keyOf(secret), id, timestamp, body);
    if (given.some((one) => one.length === expected.length && timingSafeEqual(one, expected))) return { id };
  }
  throw new VerificationError("signature-mismatch", "the signature does not fit the secret and the body");
}
