import canonicalizeModule from "canonicalize";
import { createHash } from "node:crypto";

// The package is CommonJS; bundlers and Node disagree on how its default export arrives.
const canonicalize = canonicalizeModule as unknown as (value: unknown) => string | undefined;

/** SHA-256, in hexadecimal, over the RFC 8785 canonical JSON of `value`. */
export function fingerprint(value: unknown): string {
  return createHash("sha256")
    .update(canonicalize(value) ?? "null")
    .digest("hex");
}

/** The settings a proof was won with, by name, each as a fingerprint. */
export type FingerprintParts = Readonly<Record<string, string>>;

export function fingerprintParts(settings: Readonly<Record<string, unknown>>): FingerprintParts {
  return Object.fromEntries(Object.entries(settings).map(([name, value]) => [name, fingerprint(value)]));
}

/** Settings that proofs have been kept with only later: a proof from before that says nothing of them. */
const keptLater: ReadonlySet<string> = new Set(["currencies", "domain", "languages"]);

/** The names of settings that changed between a proof's parts and today's. Empty: the proof is fresh. */
export function changedParts(then: FingerprintParts, now: FingerprintParts): string[] {
  const names = new Set([...Object.keys(then), ...Object.keys(now)]);
  return [...names]
    .filter((name) => then[name] !== now[name] && !(then[name] === undefined && keptLater.has(name)))
    .sort();
}
