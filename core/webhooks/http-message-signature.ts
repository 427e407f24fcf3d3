import { createHmac, createPublicKey, timingSafeEqual, verify as verifySignature } from "node:crypto";
import {
  type InnerList,
  type Item,
  parseDictionary,
  serializeInnerList,
  serializeItem,
} from "structured-headers";
import { checkAge } from "./age";
import { checkContentDigest } from "./content-digest";
import { VerificationError } from "./errors";
import type { Clock, SignedMessage } from "./message";

export interface SignatureTerms {
  algorithm: "ed25519" | "hmac-sha256";
  /** Components that must be covered, by their names in RFC 9421. */
  components: readonly string[];
}

/** The value of one covered component (RFC 9421, section 2). Throws `component-missing`. */
function componentValue(message: SignedMessage, [name, parameters]: Item): string {
  const url = new URL(message.url);
  const missing = (what: string) => new VerificationError("component-missing", `the message has no ${what}`);
  if (typeof name !== "string") throw missing("component of that name");
  if (name !== "@query-param" && parameters.size > 0) throw missing(`component ${name} with parameters`);
  if (name.startsWith("@")) {
    switch (name) {
      case "@method":
        return message.method.toUpperCase();
      case "@target-uri":
        return message.url;
      case "@authority":
        return url.host;
      case "@scheme":
        return url.protocol.slice(0, -1);
      case "@path":
        return url.pathname;
      case "@query":
        return url.search || "?";
      case "@request-target":
        return url.pathname + url.search;
      case "@query-param": {
        const value = url.searchParams.get(String(parameters.get("name")));
        if (value === null) throw missing(`query parameter ${String(parameters.get("name"))}`);
        return encodeURIComponent(value);
      }
      default:
        throw missing(`component ${name}`);
    }
  }
  // Only what the message itself has: a name such as "constructor" is nobody's header.
  const value = Object.hasOwn(message.headers, name) ? message.headers[name] : undefined;
  if (typeof value !== "string") throw missing(`header field ${name}`);
  return value.trim();
}

/** The text that is signed (RFC 9421, section 2.5). Throws `component-missing` or `signature-malformed`. */
export function signatureBase(message: SignedMessage, covered: InnerList): string {
  const ids = covered[0].map((item) => serializeItem(item));
  // RFC 9421, section 2: each component identifier occurs once.
  if (new Set(ids).size < ids.length)
    throw new VerificationError("signature-malformed", "a component is covered twice");
  const lines = covered[0].map((item, n) => `${ids[n]}: ${componentValue(message, item)}`);
  return [...lines, `"@signature-params": ${serializeInnerList(covered)}`].join("\n");
}

interface Signature {
  covered: InnerList;
  value: Buffer;
}

/** The signatures a message carries, by their labels. Throws `header-missing` or `signature-malformed`. */
function signaturesOf({ headers }: SignedMessage): Signature[] {
  const input = headers["signature-input"];
  const signature = headers.signature;
  if (!input || !signature)
    throw new VerificationError("header-missing", "Signature-Input or Signature is missing");
  try {
    const values = parseDictionary(signature);
    return [...parseDictionary(input)].flatMap(([label, member]) => {
      const value = values.get(label)?.[0];
      return Array.isArray(member[0]) && value instanceof ArrayBuffer
        ? [{ covered: member as InnerList, value: Buffer.from(value) }]
        : [];
    });
  } catch {
    throw new VerificationError("signature-malformed", "Signature-Input or Signature is not a dictionary");
  }
}

function holds({ algorithm }: SignatureTerms, key: string, base: string, value: Buffer): boolean {
  const bytes = Buffer.from(key, "base64");
  if (algorithm === "hmac-sha256") {
    const expected = createHmac("sha256", bytes).update(base).digest();
    return expected.length === value.length && timingSafeEqual(expected, value);
  }
  if (bytes.length !== 32)
    throw new VerificationError("secret-malformed", "an Ed25519 public key has 32 bytes");
  const jwk = { kty: "OKP", crv: "Ed25519", x: bytes.toString("base64url") };
  return verifySignature(null, Buffer.from(base), createPublicKey({ key: jwk, format: "jwk" }), value);
}

/**
 * Verifies an HTTP message signature (RFC 9421) with any of `keys` (base64 or base64url: the raw Ed25519 public key,
 * or the HMAC secret), over all required components, with a creation time within the tolerance; a covered
 * Content-Digest is held against the body. Of several signatures that cover what is required, one that holds is enough.
 * Returns when it was created, milliseconds.
 * Throws a `VerificationError`: `header-missing`, `signature-malformed`, `component-missing`, `algorithm-refused`,
 * `timestamp-malformed`, `timestamp-too-old`, `timestamp-too-new`, `digest-mismatch`, `signature-mismatch` or
 * `secret-malformed`.
 */
export function verifyHttpMessage(
  keys: readonly string[],
  message: SignedMessage,
  terms: SignatureTerms,
  clock: Clock,
): { createdAt: number } {
  const fitting = signaturesOf(message).filter((one) =>
    terms.components.every((component) => namesOf(one).includes(component)),
  );
  let refused = new VerificationError(
    "component-missing",
    `no signature covers all of ${terms.components.join(", ")}`,
  );
  for (const [n, signature] of fitting.entries()) {
    try {
      return verifyOne(keys, message, terms, clock, signature);
    } catch (error) {
      if (!(error instanceof VerificationError)) throw error;
      // Of several that do not hold, the first one says why.
      if (n === 0) refused = error;
    }
  }
  throw refused;
}

const namesOf = ({ covered }: Signature) => covered[0].map(([name]) => name);

function verifyOne(
  keys: readonly string[],
  message: SignedMessage,
  terms: SignatureTerms,
  clock: Clock,
  { covered, value }: Signature,
): { createdAt: number } {
  const parameters = covered[1];
  const algorithm = parameters.get("alg");
  if (algorithm !== undefined && algorithm !== terms.algorithm)
    throw new VerificationError(
      "algorithm-refused",
      `signed with ${String(algorithm)}, not ${terms.algorithm}`,
    );
  const created = parameters.get("created");
  const expires = parameters.get("expires");
  const createdAt = typeof created === "number" ? created * 1000 : Number.NaN;
  checkAge(createdAt, clock);
  if (typeof expires === "number" && clock.now > expires * 1000 + clock.tolerance)
    throw new VerificationError("timestamp-too-old", "the signature has expired");
  const base = signatureBase(message, covered);
  if (!keys.some((key) => holds(terms, key, base, value)))
    throw new VerificationError("signature-mismatch", "the signature does not fit the key and the message");
  if (namesOf({ covered, value }).includes("content-digest"))
    checkContentDigest(message.headers["content-digest"] ?? "", message.body);
  return { createdAt };
}
