import {
  createLocalJWKSet,
  decodeProtectedHeader,
  errors,
  flattenedVerify,
  type FlattenedVerifyGetKey,
  type JSONWebKeySet,
} from "jose";
import { checkAge } from "./age";
import { VerificationError } from "./errors";
import type { Clock } from "./message";

/** Verifiers for sets of keys, made once for each set: importing a key costs more than using it. */
const verifiers = new WeakMap<JSONWebKeySet, ReturnType<typeof createLocalJWKSet>>();

function verifierOf(keys: JSONWebKeySet) {
  const known = verifiers.get(keys) ?? createLocalJWKSet(keys);
  verifiers.set(keys, known);
  return known;
}

/**
 * Opens a detached JWS in compact form, `protected..signature` (RFC 7515, appendix F), encoded or unencoded payload
 * (RFC 7797), with the key that `keyOf` gives for its header. Returns the protected header.
 * Throws a `VerificationError`: `signature-malformed`, `algorithm-refused`, `key-unknown` or `signature-mismatch`.
 */
export async function openDetachedJws(
  keyOf: FlattenedVerifyGetKey,
  jws: string,
  body: Uint8Array,
  algorithms: readonly string[],
): Promise<Record<string, unknown>> {
  const [head, payload, signature, ...rest] = jws.split(".");
  const malformed = () => new VerificationError("signature-malformed", "this is no detached JWS");
  if (!head || payload !== "" || !signature || rest.length > 0) throw malformed();
  let header: Record<string, unknown>;
  try {
    header = decodeProtectedHeader(jws);
  } catch {
    throw malformed();
  }
  if (!algorithms.includes(String(header.alg)))
    throw new VerificationError("algorithm-refused", `signed with ${String(header.alg)}`);
  const flattened = {
    protected: head,
    signature,
    payload: header.b64 === false ? body : Buffer.from(body).toString("base64url"),
  };
  try {
    await flattenedVerify(flattened, keyOf, { algorithms: [...algorithms] });
  } catch (error) {
    if (error instanceof errors.JWKSNoMatchingKey)
      throw new VerificationError("key-unknown", `the set holds no key ${String(header.kid ?? "")}`);
    if (error instanceof errors.JWSSignatureVerificationFailed)
      throw new VerificationError("signature-mismatch", "the signature does not fit the key and the body");
    throw malformed();
  }
  return header;
}

/**
 * Verifies a detached JWS with a key of the set (RFC 7517) found by its `kid`. The protected header must hold the time
 * of signing, `iat` in seconds; its `jti` is the message's id. Returns both, `iat` in milliseconds.
 * Throws as `openDetachedJws`, and `timestamp-…`; `key-unknown` may mean that the set is old.
 */
export async function verifyDetachedJws(
  keys: JSONWebKeySet,
  jws: string,
  body: Uint8Array,
  algorithms: readonly string[],
  clock: Clock,
): Promise<{ id: string; signedAt: number }> {
  let keyOf: FlattenedVerifyGetKey;
  try {
    keyOf = verifierOf(keys);
  } catch {
    throw new VerificationError("key-unknown", "what the provider publishes is no set of keys");
  }
  const { iat, jti } = await openDetachedJws(keyOf, jws, body, algorithms);
  const signedAt = typeof iat === "number" ? iat * 1000 : Number.NaN;
  checkAge(signedAt, clock);
  return { id: typeof jti === "string" ? jti : jws.slice(-40), signedAt };
}
