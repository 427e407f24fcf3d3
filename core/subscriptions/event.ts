import type { DeclineReason } from "../payments/facts";
import type { Ending } from "./course";

/** Something that happened to a subscription. Numbers are those of its periods. */
export type SubscriptionEvent =
  | { what: "begun" }
  | { what: "opened"; number: number }
  | { what: "paid"; number: number }
  | { what: "refused"; number: number; reason: DeclineReason | null }
  /** The shopper was asked by mail; `sent`: whether there was an address to write to. */
  | { what: "asked"; number: number; sent: boolean }
  /** What it is charged to ends before the next charge; it is charged to something else from now on. */
  | { what: "instrument-ends" | "instrument-changed" }
  | { what: "paused" | "resumed" }
  /** A period was left out beforehand, or its order was called off. */
  | { what: "skipped" | "let-off"; number: number }
  | { what: "changed"; plan: string; quantity: number }
  | { what: "ends-then" | "goes-on" }
  | { what: "ended"; because: Ending };

/** Everything that can happen to one. */
export const subscriptionHappenings = [
  "begun",
  "opened",
  "paid",
  "refused",
  "asked",
  "instrument-ends",
  "instrument-changed",
  "paused",
  "resumed",
  "skipped",
  "let-off",
  "changed",
  "ends-then",
  "goes-on",
  "ended",
] as const satisfies readonly SubscriptionEvent["what"][];
