import type { Order } from "./order";

/** What a shopper sees of an order. */
export type OrderView = Pick<
  Order,
  | "reference"
  | "currency"
  | "lines"
  | "shipping"
  | "tax"
  | "taxIncluded"
  | "total"
  | "payNow"
  | "country"
  | "language"
  | "returnAddress"
> & {
  /** What choosing the way of paying adds, minor units; below zero it takes off. */
  charge?: number;
};

export const orderView = (order: Order, charge = 0): OrderView => {
  const { reference, currency, lines, shipping, tax, taxIncluded, total, payNow } = order;
  const { country, language, returnAddress } = order;
  return {
    ...{ reference, currency, lines, shipping, tax, taxIncluded, total },
    ...(payNow !== undefined && { payNow }),
    ...{ country, language, returnAddress },
    ...(charge !== 0 && { charge }),
  };
};

/** How a shopper writes numbers and days: in their language, as their country does. */
export const shopperLocale = ({ language, country }: Pick<Order, "language" | "country">): string =>
  `${language.split("-")[0]}-${country}`;

/** A day as a shopper reads it, in a time zone. */
export const dayText = (at: number, locale: string, timeZone = "UTC"): string =>
  new Intl.DateTimeFormat(locale, { dateStyle: "long", timeZone }).format(at);
