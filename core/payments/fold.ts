import type { DeclineReason, Fact, PaymentState, Statement } from "./facts";

/** What follows from a payment's facts. Amounts in minor units of the payment's currency. */
export interface Standing {
  state: PaymentState;
  authorised: number;
  captured: number;
  refunded: number;
  /** Set while or after the payment was declined: the strongest reason given. */
  declined?: DeclineReason;
  /** True when sources contradict each other (money moved on a payment that was also refused). */
  contradiction: boolean;
}

/**
 * The state of a payment of `amount` minor units as a fold over its facts.
 *
 * Invariant: the result depends on the *set* of statements only. Every quantity is a maximum of totals and
 * every flag a logical or, both of which are commutative, associative and idempotent; so facts may come in
 * any order and any number of times.
 */
export function fold(facts: Iterable<Pick<Fact, "statement">>): Standing {
  const seen = new Set<Statement["kind"]>();
  let authorised = 0;
  let captured = 0;
  let refunded = 0;
  let declined: DeclineReason | undefined;
  for (const { statement } of facts) {
    seen.add(statement.kind);
    if (statement.kind === "authorised") authorised = Math.max(authorised, statement.amount);
    if (statement.kind === "captured") captured = Math.max(captured, statement.amount);
    if (statement.kind === "refunded") refunded = Math.max(refunded, statement.amount);
    if (statement.kind === "declined") declined = stronger(declined, statement.reason);
  }
  authorised = Math.max(authorised, captured);
  const standing = { authorised, captured, refunded, declined };
  const refused = seen.has("declined") || seen.has("failed") || seen.has("voided");
  const contradiction = refused && captured > 0;
  return { ...standing, state: stateOf(seen, standing), contradiction };
}

/** Money that moved outweighs every refusal: a payment somebody captured must not look declined. */
function stateOf(
  seen: ReadonlySet<Statement["kind"]>,
  { authorised, captured, refunded }: { authorised: number; captured: number; refunded: number },
): PaymentState {
  if (seen.has("disputed")) return "disputed";
  if (captured > 0 && refunded >= captured) return "refunded";
  if (refunded > 0) return "partly-refunded";
  if (captured > 0) return captured < authorised ? "partly-captured" : "captured";
  // Letting go at the provider is how a turned-back or overdue payment ends; the reason says more than the means.
  if (seen.has("voided"))
    return seen.has("cancelled") ? "cancelled" : seen.has("expired") ? "expired" : "voided";
  if (seen.has("declined")) return "declined";
  if (seen.has("expired")) return "expired";
  if (authorised > 0) return "authorised";
  if (seen.has("failed")) return "failed";
  if (seen.has("cancelled")) return "cancelled";
  if (seen.has("pending")) return "pending";
  return "created";
}

/** A named reason outweighs `unspecified`; two named ones are settled alphabetically, so order never matters. */
function stronger(a: DeclineReason | undefined, b: DeclineReason): DeclineReason {
  if (a === undefined || a === "unspecified") return b;
  if (b === "unspecified") return a;
  return a < b ? a : b;
}

/** Whether nothing more can come of the attempt, so that the shopper may try again. */
export function isOver(state: PaymentState): boolean {
  return ["declined", "failed", "cancelled", "expired", "voided"].includes(state);
}

/** Whether the order is paid or promised. */
export function isPaid(state: PaymentState): boolean {
  return ["authorised", "captured", "partly-captured"].includes(state);
}
