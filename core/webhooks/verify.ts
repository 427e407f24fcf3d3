import { createHash } from "node:crypto";
import type { JSONWebKeySet } from "jose";
import { keyedDigest, sameText } from "../profiles/digest";
import { instantOf } from "../profiles/instant";
import type { Signing } from "../profiles/profile";
import { texts } from "../profiles/request";
import { bodyData } from "../profiles/response";
import { checkAge } from "./age";
import { verifyDetachedJws } from "./detached-jws";
import { VerificationError } from "./errors";
import { verifyHttpMessage } from "./http-message-signature";
import type { Clock, SignedMessage } from "./message";
import { verify as verifyStandardWebhook } from "./standard-webhooks";

/** What messages are verified with: secrets or public keys as texts (the newest first), and a set of keys. */
export interface VerifyingKeys {
  secrets: readonly string[];
  set?: JSONWebKeySet;
}

/** A message with neither id of its own is known by what was said, so that the same said twice is a repetition. */
const idFrom = (body: Uint8Array) => createHash("sha256").update(body).digest("hex").slice(0, 40);

/**
 * Verifies a webhook as its profile says it is signed, and returns the message's id, by which a repetition is known.
 * Throws a `VerificationError`; a profile whose key is not there yet is `key-missing`.
 */
export async function verifyMessage(
  signing: Signing,
  format: "json" | "form",
  message: SignedMessage,
  keys: VerifyingKeys,
  now: number,
): Promise<{ id: string }> {
  const clock: Clock = { now, tolerance: signing.toleranceSeconds * 1000 };
  const { headers, body } = message;
  if (signing.scheme !== "detached-jws" && keys.secrets.length === 0)
    throw new VerificationError("key-missing", "there is nothing yet to verify messages with");
  switch (signing.scheme) {
    case "standard-webhooks":
      return verifyStandardWebhook(keys.secrets, headers, body, clock);
    case "http-message-signature":
      verifyHttpMessage(keys.secrets, message, signing, clock);
      return { id: headers[signing.idHeader.toLowerCase()] ?? idFrom(body) };
    case "detached-jws": {
      const jws = headers[signing.header.toLowerCase()];
      if (!jws) throw new VerificationError("header-missing", `${signing.header} is missing`);
      if (!keys.set) throw new VerificationError("key-unknown", "the keys have not been fetched");
      return verifyDetachedJws(keys.set, jws, body, signing.algorithms, clock);
    }
    case "keyed-digest":
      return verifyKeyedDigest(signing, format, body, keys.secrets, clock);
  }
}

function verifyKeyedDigest(
  signing: Extract<Signing, { scheme: "keyed-digest" }>,
  format: "json" | "form",
  body: Uint8Array,
  secrets: readonly string[],
  clock: Clock,
): { id: string } {
  const data = bodyData(Buffer.from(body).toString("utf8"), format);
  if (typeof data !== "object" || data === null)
    throw new VerificationError("body-unreadable", "the body cannot be read");
  const { [signing.from]: given, ...fields } = texts(data);
  if (!given) throw new VerificationError("header-missing", `${signing.from} is missing`);
  if (!secrets.some((secret) => sameText(keyedDigest(secret, fields, signing.digest), given)))
    throw new VerificationError("signature-mismatch", "the digest does not fit the secret and the fields");
  checkAge(instantOf(fields[signing.time]), clock);
  return { id: fields[signing.id] ?? idFrom(body) };
}
