import { createHmac, timingSafeEqual } from "node:crypto";
import type { DigestSpec } from "./profile";

/** Named texts, as a form or a flat JSON object holds them. */
export type Texts = Readonly<Record<string, string>>;

/** The text that a keyed digest is made over. A field that is missing counts as empty. */
export function digestText(fields: Texts, { fields: which, write, join }: DigestSpec): string {
  const names = which === "sorted" ? Object.keys(fields).sort() : which;
  const value = (name: string) => (Object.hasOwn(fields, name) ? fields[name] : "");
  return names.map((name) => (write === "pairs" ? `${name}=${value(name)}` : value(name))).join(join);
}

/** A keyed digest (HMAC, RFC 2104) over named fields, as text. */
export function keyedDigest(secret: string, fields: Texts, spec: DigestSpec): string {
  const algorithm = spec.algorithm === "hmac-sha512" ? "sha512" : "sha256";
  return createHmac(algorithm, secret).update(digestText(fields, spec)).digest(spec.encoding);
}

/** Whether two texts are the same, in a time that does not tell where they differ. */
export function sameText(a: string, b: string): boolean {
  const [x, y] = [Buffer.from(a), Buffer.from(b)];
  return x.length === y.length && timingSafeEqual(x, y);
}
