/** Hides secrets and anything that looks like a card number in text that is to be kept. */
export function mask(text: string, secrets: readonly string[]): string {
  let masked = text;
  for (const secret of secrets) {
    if (secret.length < 6) continue;
    const hint = `…${secret.slice(-4)}`;
    masked = masked.replaceAll(secret, hint).replaceAll(encodeURIComponent(secret), hint);
  }
  return maskCardNumbers(masked);
}

/** Replaces digit runs of 14 to 19 (spaces and dashes between them allowed) that pass the Luhn check. Thirteen are let
 * stand: milliseconds since the epoch have as many, and a tenth of them pass. */
export function maskCardNumbers(text: string): string {
  return text.replace(/(?<![\d.])\d(?:[ -]?\d){13,18}(?!\d)/g, (run) => {
    const digits = run.replace(/\D/g, "");
    return luhnHolds(digits) ? `…${digits.slice(-4)}` : run;
  });
}

/** The check digit of ISO/IEC 7812-1, annex B. */
export function luhnHolds(digits: string): boolean {
  let sum = 0;
  for (let i = 0; i < digits.length; i++) {
    const digit = digits.charCodeAt(digits.length - 1 - i) - 48;
    sum += i % 2 === 0 ? digit : digit > 4 ? digit * 2 - 9 : digit * 2;
  }
  return sum % 10 === 0;
}

const KEPT = new Set([
  "content-type",
  "content-length",
  "date",
  "retry-after",
  "user-agent",
  "idempotency-key",
  "webhook-id",
  "webhook-timestamp",
]);

/** Header fields with every value masked that is not known to be harmless. */
export function maskHeaders(
  headers: Iterable<readonly [string, string]>,
  secrets: readonly string[],
): Record<string, string> {
  const masked: Record<string, string> = {};
  for (const [name, value] of headers) {
    const lower = name.toLowerCase();
    const secretive = /auth|cookie|signature|secret|token|key/.test(lower) && !KEPT.has(lower);
    masked[lower] = secretive ? `…${value.slice(-4)}` : mask(value, secrets);
  }
  return masked;
}
