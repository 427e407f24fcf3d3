import type { MethodKind, Rate } from "../profiles/profile";

/** What a shop sells in a month. Amounts are minor units of `currency`; shares are percent from 0 to 100. */
export interface Volume {
  currency: string;
  orders: number;
  totals:
    | {
        /** A log-normal spread: a tenth of the orders is below `low`, a tenth above `high`. */
        kind: "spread";
        low: number;
        high: number;
      }
    | {
        kind: "orders";
        from: "file" | "payments";
        /** How many orders of each total. */
        counted: [total: number, times: number][];
      };
  /** Share of the orders paid by each kind of method. */
  shares: Partial<Record<MethodKind, number>>;
  /** Share of card orders with a card from abroad, of orders that are refunded whole, and that are disputed. */
  foreign: number;
  refunds: number;
  disputes: number;
  /** What the shop's own platform takes of each order. */
  platform: Rate;
}
