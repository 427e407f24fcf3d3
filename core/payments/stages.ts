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
