import type { Attempt, Dispute, Identified, Movement, Refusal, Report } from "../payments/facts";
import { fold, type Standing } from "../payments/fold";
import type { DisputeReading, MovementReading, PaymentReading } from "./answers";
import { own } from "./own";
import type { Profile } from "./profile";

type Meanings = Pick<
  Profile,
  "statuses" | "declines" | "movements" | "disputes" | "reviews" | "authentications"
>;

/** What a provider's report of a payment states, as facts in our words. */
export function statementsOf(profile: Meanings, reading: PaymentReading): Report[] {
  const unknown: string[] = [];
  const known = <T>(table: Readonly<Record<string, T>> | undefined, word: string, what: string): T | null => {
    const meaning = own(table, word);
    if (meaning === undefined) unknown.push(`${what} ${word}`);
    return meaning ?? null;
  };
  const movements = (object: Movement["object"], list: readonly MovementReading[] = []) =>
    list.flatMap(({ id, amount, state: word }): Identified[] => {
      const state = known(profile.movements, word, object);
      return state ? [{ object, id, amount, state }] : [];
    });
  const parts: Identified[] = [
    ...(reading.attempts ?? []).map((one): Identified => attemptOf(profile, one)),
    ...(reading.authorisations ?? []).map(({ ended, ...one }): Identified => ({
      object: "authorisation",
      ...one,
      state: ended ? "ended" : "held",
    })),
    ...movements("capture", reading.captures),
    ...movements("release", reading.releases),
    ...movements("refund", reading.refunds),
    ...(reading.disputes ?? []).flatMap(({ state: word, ...one }): Identified[] => {
      const state = known(profile.disputes, word, "dispute");
      return state ? [{ object: "dispute", ...one, state }] : [];
    }),
    ...(reading.reviews ?? []).flatMap(({ id, state: word }): Identified[] => {
      const state = known(profile.reviews, word, "review");
      return state ? [{ object: "review", id, state }] : [];
    }),
    ...(reading.authentications ?? []).flatMap(({ result: word, ...one }): Identified[] => {
      const result = known(profile.authentications, word, "authentication");
      return result ? [{ object: "authentication", ...one, result }] : [];
    }),
    // There is one plan at a time: what is told of it later takes the place of what was told before.
    ...(reading.instalments ?? []).slice(0, 1).map((one): Identified => ({
      object: "instalments",
      id: "plan",
      ...one,
    })),
    ...(reading.fees ?? []).map((one): Identified => ({ object: "fee", ...one })),
  ];
  const { sequence } = reading;
  const order = sequence !== undefined && { sequence };
  return [
    { ...reportOf(profile, reading), ...(parts.length > 0 && { parts }) },
    ...unknown.map((word): Report => ({ object: "report", ...order, status: null, word })),
  ];
}

/** What a dispute that is told of by itself states. */
export function disputeOf({ disputes }: Pick<Meanings, "disputes">, told: DisputeReading): Dispute | Report {
  const { id, stage, amount, state: word, reason, due } = told;
  const state = own(disputes, word);
  if (!state) return wordUnknown("dispute", word);
  const more = { ...(reason !== undefined && { reason }), ...(due !== undefined && { due }) };
  return { object: "dispute", id, stage, amount, ...more, state };
}

/** What a refund that is told of by itself states. */
export function refundOf(
  { movements }: Pick<Meanings, "movements">,
  told: MovementReading,
): Movement | Report {
  const { id, amount, state: word } = told;
  const state = own(movements, word);
  return state ? { object: "refund", id, amount, state } : wordUnknown("refund", word);
}

const wordUnknown = (what: string, word: string): Report => ({
  object: "report",
  status: null,
  word: `${what} ${word}`,
});

/** Totals are told only where no list of objects takes their place. */
function reportOf(profile: Meanings, reading: PaymentReading): Report {
  const { sequence, status: word, challenge, handOver, code: scan } = reading;
  const status = own(profile.statuses, word) ?? null;
  const total = <N extends string>(name: N, amount: number | undefined, list: unknown) =>
    list === undefined && amount !== undefined && amount > 0 ? { [name]: amount } : {};
  return {
    object: "report",
    ...(sequence !== undefined && { sequence }),
    status,
    ...(status === null && { word }),
    ...total("authorised", reading.authorised, reading.authorisations),
    ...total("captured", reading.captured, reading.captures),
    ...(reading.releases === undefined && reading.released !== undefined && { released: reading.released }),
    ...total("refunded", reading.refunded, reading.refunds),
    ...((status === "declined" || status === "failed") && refusalOf(profile, status, reading)),
    ...(status === "pending" && {
      ...(challenge && { challenge, ...(handOver && { handOver }) }),
      ...(scan && { scan }),
    }),
  };
}

function refusalOf(
  { declines }: Meanings,
  status: "declined" | "failed",
  { declineCode: code, text }: Pick<PaymentReading, "declineCode" | "text">,
): Refusal {
  const reason = (code && own(declines, code)) || "unspecified";
  return { ...(status === "declined" && { reason }), ...(code && { code }), ...(text && { text }) };
}

/** One of several tries on the provider's page. What was approved shows as money, not as an attempt. */
function attemptOf(
  profile: Meanings,
  { id, status: word, ...rest }: NonNullable<PaymentReading["attempts"]>[number],
): Attempt {
  const status = own(profile.statuses, word);
  if (status === "declined" || status === "failed")
    return { object: "attempt", id, state: status, ...refusalOf(profile, status, rest) };
  const state = status === "expired" || status === "cancelled" || status === "pending" ? status : "created";
  return { object: "attempt", id, state };
}

/** Where a payment stands by one report alone. */
export const standingOf = (profile: Meanings, reading: PaymentReading): Standing =>
  fold(statementsOf(profile, reading).map((statement) => ({ statement })));
