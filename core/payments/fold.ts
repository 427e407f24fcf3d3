import type { HeldBecause } from "../offers/holding";
import { authenticationResults, type ReadingKind } from "../profiles/profile-types";
import type {
  Authentication,
  Decision,
  Dispute,
  Fact,
  FraudReview,
  Instalments,
  Misfit,
  Movement,
  PaymentState,
  Refusal,
} from "./facts";
import { Objects } from "./objects";
import { stronger } from "./refusal";
import { noTotals, type Totals, withReport } from "./totals";

/** Amounts of one payment, in minor units of its currency. */
export interface Amounts {
  authorised: number;
  captured: number;
  /** What of the authorisation was let go, or ended by itself. */
  released: number;
  refunded: number;
  /** What is on its way back to the shopper and can still fail. */
  refunding: number;
  /** Refunds that came to nothing: the money is the shop's again. */
  refundsFailed: number;
  /** What is authorised and neither captured nor released. */
  held: number;
  /** What a dispute that is not decided is about, and what was lost in one. */
  inDispute: number;
  lost: number;
  /** What was paid out of it in the payment's own currency. */
  paidOut: number;
  /** What is to come in all where no provider moves it. */
  expected: number;
}

/** What follows from a payment's facts: its money, its dispute and its fraud review, each on an axis of its own. */
export interface Standing extends Amounts {
  /** The trade's word, read from the axes. */
  state: PaymentState;
  /** When what is held ends, in milliseconds since the epoch: the first of several. */
  until: number | null;
  /** The dispute to look at: one that can still be answered before one that is decided, the next due first. */
  dispute: Dispute | null;
  review: FraudReview["state"] | null;
  /** Whether the provider waits for the call that makes it a payment. */
  toConfirm: boolean;
  /** Why it is held back until a person has looked; null: it is not, or somebody has. */
  heldBack: HeldBecause | null;
  /** What came of asking who the shopper is, and who bears a dispute about that; null: nobody told. */
  authentication: Pick<Authentication, "result" | "liability"> | null;
  /** The plan that the shopper agreed to with the provider. */
  instalments: Pick<Instalments, "payments" | "amount" | "total"> | null;
  /** Why it came to nothing, the most telling of what was said. */
  refusal: Refusal | null;
  /** What the provider kept, by currency. */
  fees: Record<string, number>;
  /** The provider's word for a status that no profile explains. */
  unknownStatus: string | null;
  /** Reports of another amount or currency. */
  misfits: Misfit[];
  /** Whether what was told cannot all be true: more given back than taken. */
  contradiction: boolean;
}

/**
 * What a payment comes to, as a fold over its facts.
 *
 * Invariant: the result depends on the *set* of statements only, so facts may come in any order and any number of times.
 * Of each object the statement that prevails is kept (a maximum of a total order); sums go across objects. Where a
 * provider tells totals instead of objects, they are a maximum of its sequence or, without one, of the totals themselves.
 */
export function fold(facts: Iterable<Pick<Fact, "statement">>): Standing {
  const objects = new Objects();
  const misfits = new Map<string, Misfit>();
  const decided: Decision[] = [];
  let totals = noTotals();
  for (const { statement } of facts) {
    if (statement.object === "report") {
      totals = withReport(totals, statement);
      const { sequence, parts = [] } = statement;
      for (const part of parts) objects.add(sequence === undefined ? part : { ...part, sequence });
    } else if (statement.object === "misfit") misfits.set(JSON.stringify(statement), statement);
    // What was decided moves no money.
    else if (statement.object === "decision") decided.push(statement);
    else objects.add(statement);
  }
  const amounts = amountsOf(objects, totals);
  const { dispute, inDispute, lost } = disputed(objects, totals, amounts);
  const refusal = refusalOf(objects, totals);
  const money = { ...amounts, inDispute, lost };
  return {
    ...money,
    state: stateOf(objects, totals, money),
    until: untilOf(objects),
    dispute,
    review: reviewOf(objects),
    toConfirm: waitsForUs(objects, totals, amounts),
    heldBack: heldBackOf(decided),
    authentication: authenticationOf(objects),
    instalments: instalmentsOf(objects),
    refusal,
    fees: feesOf(objects),
    unknownStatus: totals.unknown,
    misfits: [...misfits.keys()].sort().flatMap((key) => misfits.get(key) ?? []),
    contradiction: amounts.refunded > amounts.captured,
  };
}

/** Why somebody has to look at it first: of several reasons the same one, whichever came first. */
function heldBackOf(decided: readonly Decision[]): Standing["heldBack"] {
  if (decided.some(({ what }) => what === "let-go-on")) return null;
  const [first] = decided
    .flatMap(({ what, because }) => (what === "hold-back" && because ? [because] : []))
    .sort((one, other) => (JSON.stringify(one) < JSON.stringify(other) ? -1 : 1));
  return first ?? null;
}

const sum = (list: readonly { amount: number }[]) => list.reduce((total, one) => total + one.amount, 0);
const inState = (movements: readonly Movement[], ...states: Movement["state"][]) =>
  sum(movements.filter((one) => states.includes(one.state)));

/** A status after which nothing is held any more, unless the provider says how much it let go. */
const letsGo: readonly ReadingKind[] = ["voided", "expired", "cancelled"];

function amountsOf(objects: Objects, totals: Totals): Omit<Amounts, "inDispute" | "lost"> {
  const authorisations = objects.of("authorisation");
  const captures = objects.of("capture");
  const releases = objects.of("release");
  const refunds = objects.of("refund");
  const captured = captures.length > 0 ? inState(captures, "succeeded") : totals.captured;
  const told = authorisations.length > 0 ? sum(authorisations) : totals.authorised;
  const authorised = Math.max(told, captured);
  const ended = sum(authorisations.filter((one) => one.state === "ended"));
  const over = letsGo.some((status) => totals.statuses.has(status)) || (ended > 0 && ended === told);
  const releasedSoFar =
    releases.length > 0 ? inState(releases, "succeeded") : (totals.released ?? (over ? authorised : 0));
  const released = Math.min(Math.max(releasedSoFar, over ? authorised : ended), authorised - captured);
  return {
    authorised,
    captured,
    released,
    refunded: refunds.length > 0 ? inState(refunds, "succeeded") : totals.refunded,
    refunding: inState(refunds, "requested", "pending"),
    refundsFailed: inState(refunds, "failed"),
    held: authorised - captured - released,
    paidOut: sum(objects.of("settlement").filter(({ state }) => state === "paid")),
    expected: sum(objects.of("expectation")),
  };
}

function disputed(
  objects: Objects,
  totals: Totals,
  { captured, refunded }: Pick<Amounts, "captured" | "refunded">,
) {
  const disputes = objects.of("dispute");
  const open = disputes.filter(({ state }) => state === "open" || state === "answered");
  const lost = disputes.filter(({ state }) => state === "lost");
  // A provider that only says that it is disputed means all that is left of it.
  const whole = disputes.length === 0 && totals.statuses.has("disputed");
  const first = (list: Dispute[]): Dispute | undefined => list.sort(byUrgency)[0];
  return {
    dispute: first(open) ?? first(lost) ?? first(disputes) ?? null,
    inDispute: whole ? Math.max(0, captured - refunded) : sum(open),
    lost: sum(lost),
  };
}

/** What can still be answered comes first, then what is due first; ids decide between equals. */
const byUrgency = (a: Dispute, b: Dispute): number =>
  Number(a.state !== "open") - Number(b.state !== "open") ||
  (a.due ?? Infinity) - (b.due ?? Infinity) ||
  (a.id < b.id ? -1 : 1);

function untilOf(objects: Objects): number | null {
  const ends = objects
    .of("authorisation")
    .flatMap(({ state, until }) => (state === "held" && until ? [until] : []));
  return ends.length > 0 ? Math.min(...ends) : null;
}

function reviewOf(objects: Objects): Standing["review"] {
  const states = objects.of("review").map(({ state }) => state);
  return (["open", "refused", "passed"] as const).find((state) => states.includes(state)) ?? null;
}

/** Of several tries the one that says most; ids decide between equals. */
function authenticationOf(objects: Objects): Standing["authentication"] {
  const far = ({ result }: Authentication) => authenticationResults.indexOf(result);
  const [most] = objects.of("authentication").sort((a, b) => far(b) - far(a) || (a.id < b.id ? -1 : 1));
  return most ? { result: most.result, ...(most.liability && { liability: most.liability }) } : null;
}

function instalmentsOf(objects: Objects): Standing["instalments"] {
  const [plan] = objects.of("instalments");
  return plan ? { payments: plan.payments, amount: plan.amount, total: plan.total } : null;
}

function refusalOf(objects: Objects, totals: Totals): Refusal | null {
  return objects
    .of("attempt")
    .filter(({ state }) => state === "declined" || state === "failed")
    .reduce<Refusal | null>((strongest, attempt) => stronger(strongest, attempt), totals.refusal);
}

/** What the provider told of its fees; where it tells none of them at the payment, what payouts show was kept. */
function feesOf(objects: Objects): Record<string, number> {
  const fees: Record<string, number> = {};
  const add = (amount: number, currency: string) => (fees[currency] = (fees[currency] ?? 0) + amount);
  const told = objects.of("fee");
  for (const { amount, currency } of told) add(amount, currency);
  if (told.length > 0) return fees;
  for (const { fee, settled, state } of objects.of("settlement")) if (state === "paid") add(fee, settled);
  return fees;
}

/** Money that moved or is held outweighs every refusal: a later attempt that was declined does not hide it. */
function stateOf(objects: Objects, totals: Totals, amounts: Amounts): PaymentState {
  const { authorised, captured, refunded, held, inDispute, lost, expected } = amounts;
  const attempts = objects.of("attempt");
  const tried = (state: (typeof attempts)[number]["state"]) => attempts.some((one) => one.state === state);
  const told = (status: ReadingKind) => totals.statuses.has(status);
  if (inDispute > 0 || lost > 0) return "disputed";
  if (captured > 0 && refunded >= captured) return "refunded";
  if (refunded > 0) return "partly-refunded";
  // A part came; the rest may still.
  if (captured > 0 && captured < expected) return "pending";
  if (captured > 0) return captured < authorised ? "partly-captured" : "captured";
  if (held > 0) return "authorised";
  // Letting go at the provider is how a turned-back or overdue payment ends; the reason says more than the means.
  if (told("voided") || authorised > 0) {
    if (tried("cancelled") || told("cancelled")) return "cancelled";
    if (tried("expired") || told("expired")) return "expired";
    return told("voided") || letGo(objects) ? "voided" : "expired";
  }
  // There was nothing to pay, and all that was asked for has come.
  if (told("verified")) return "captured";
  // The shopper is trying once more on the provider's page.
  if (attempts.some(({ id, state }) => id !== undefined && state === "pending")) return "pending";
  if (told("declined") || tried("declined")) return "declined";
  if (told("expired") || tried("expired")) return "expired";
  if (told("failed") || tried("failed")) return "failed";
  if (told("cancelled") || tried("cancelled")) return "cancelled";
  if (told("pending") || told("to-confirm") || tried("pending") || tried("unanswered")) return "pending";
  return "created";
}

/** Whether it is prepared and no more: nothing has moved, and nobody has ended it, here or there. */
function waitsForUs(
  objects: Objects,
  { statuses }: Totals,
  { authorised }: Pick<Amounts, "authorised">,
): boolean {
  const open = [...statuses].every((status) => status === "pending" || status === "to-confirm");
  const ended = objects
    .of("attempt")
    .some(({ id, state }) => id === undefined && isOver(state as PaymentState));
  return statuses.has("to-confirm") && open && authorised === 0 && !ended;
}

/** Whether what was held is no more because somebody let it go; otherwise it has ended by itself. */
const letGo = (objects: Objects) => objects.of("release").some(({ state }) => state === "succeeded");

/** Whether nothing more can come of the attempt, so that the shopper may try again. */
export function isOver(state: PaymentState): boolean {
  return ["declined", "failed", "cancelled", "expired", "voided"].includes(state);
}

/** Whether the provider has still something to say of it, so that it is asked again should no message come. */
export const isUnsettled = ({
  state,
  refunding,
  review,
}: Pick<Standing, "state" | "refunding" | "review">): boolean =>
  state === "created" || state === "pending" || refunding > 0 || review === "open";

/** Whether the order is paid or promised. */
export function isPaid(state: PaymentState): boolean {
  return ["authorised", "captured", "partly-captured"].includes(state);
}
