import type { Order } from "../orders/order";
import type { Address } from "../places/address";
import type { OrderOfSubscription } from "./agreed";
import type { Sum } from "./terms";

/** Who subscribes, as the shop says it; the same for every order of the subscription. */
export interface Customer {
  country: string;
  language: string;
  group: string;
  /** Empty where the shop has none. */
  email: string;
  returnAddress: string;
  shipTo?: Address;
  billTo?: Address;
}

/** The order of a period. */
export const orderOf = (
  reference: string,
  customer: Customer,
  { lines, tax, taxIncluded, total }: Sum,
  { shopper, subscription }: { shopper: string; subscription: OrderOfSubscription },
): Order => ({
  ...customer,
  ...{ reference, currency: subscription.terms.currency, lines, tax, taxIncluded, total, shipping: 0 },
  // Nobody's, once they were erased.
  ...(shopper && { shopper }),
  subscription,
});

/** The order number of a period: the subscription's own for the first, with its number for each after that. */
export const orderNumberOf = (reference: string, number: number): string =>
  number === 0 ? reference : `${reference}-${number}`;

/** The longest number of a subscription that leaves room for those of its orders. */
export const LONGEST_REFERENCE = 56;
