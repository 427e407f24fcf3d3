import type { PaymentState } from "../../payments/facts";

/** States that a payment without a provider can reach. */
export const offlineStates: readonly PaymentState[] = [
  "pending",
  "captured",
  "cancelled",
  "expired",
  "refunded",
  "partly-refunded",
];
