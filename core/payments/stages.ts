import type { PaymentState } from "./facts";

/** Order stage for each payment state, in the shop's own names. */
export type StageMap = Partial<Record<PaymentState, string>>;

/** States an offer's payments can reach, given how it captures. The gate asks a stage for each of them. */
export function occurringStates(
  capture: "at-once" | "later",
  can: { refund: boolean; partialRefund: boolean },
) {
  const states: PaymentState[] = ["pending", "captured", "declined", "failed", "cancelled", "expired"];
  if (capture === "later") states.push("authorised", "partly-captured", "voided");
  if (can.refund) states.push("refunded");
  if (can.partialRefund) states.push("partly-refunded");
  return states;
}

/** States that occur but have no stage, or one the shop has not declared. */
export function unmappedStates(
  states: readonly PaymentState[],
  map: StageMap,
  declared: readonly string[],
): PaymentState[] {
  return states.filter((state) => {
    const stage = map[state];
    return stage === undefined || !declared.includes(stage);
  });
}

/** How shops call where an order stands, by what its payment is; English and German. The first that fits is taken. */
const likely: readonly (readonly [readonly PaymentState[], readonly RegExp[]])[] = [
  [
    ["pending", "authorised"],
    [/reserv|pending|await|wait|offen|wart|hold|angezahlt/i, /^open|^new|^neu|unpaid|unbezahlt/i],
  ],
  [
    ["captured", "partly-captured"],
    [/(?<!un)(paid|bezahlt)/i, /process|complet|bearbeitung|confirmed|bestätigt/i],
  ],
  [
    ["declined", "failed", "cancelled", "expired", "voided"],
    [/refus|declin|fail|abgelehnt|gescheitert/i, /cancel|storn|void|closed|geschlossen|abgebrochen/i],
  ],
  [
    ["partly-refunded"],
    [/part|teil/i, /question|klär|dispute|review|prüf/i, /refund|hand(ed)? back|erstatt|zurück|return/i],
  ],
  [["refunded"], [/(?<!part(ly|ially)? )(refund|hand(ed)? back)|erstatt|zurück|return/i, /cancel|storn/i]],
  [["disputed"], [/dispute|question|klär|strit|chargeback/i]],
];

/** Proposes a stage for each state from the names that the shop declared; a state that none resembles gets none. */
export function proposeStages(states: readonly PaymentState[], declared: readonly string[]): StageMap {
  const proposed: StageMap = {};
  for (const [group, patterns] of likely) {
    const found = patterns
      .map((pattern) => declared.find((name) => pattern.test(name)))
      .find((name) => name !== undefined);
    if (found !== undefined) for (const state of group) if (states.includes(state)) proposed[state] = found;
  }
  return proposed;
}
