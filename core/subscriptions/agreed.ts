import type { FixedDay, PlanTax, Trying } from "./plan";
import type { Rhythm } from "./schedule";

/** What was agreed to: a plan in one currency and language, as it was when the shopper subscribed. Minor units. */
export interface Terms {
  plan: string;
  name: string;
  currency: string;
  rhythm: Rhythm;
  times: number | null;
  /** For one piece and period. */
  price: number;
  setUp: number;
  setUpName: string;
  trial: { days: number; price: number } | null;
  fixedDay: FixedDay | null;
  tax: PlanTax | null;
  trying: Trying;
  timeZone: string;
}

/** What of an order makes it one of a subscription. */
export interface OrderOfSubscription {
  id: string;
  terms: Terms;
  /** How many pieces every later period is for. */
  quantity: number;
  /** Whether the shopper subscribes with it, or it is one of the later ones. */
  begins: boolean;
}
