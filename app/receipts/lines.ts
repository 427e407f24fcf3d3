import { moneyText } from "#core/money/money";
import { askedOf } from "#core/orders/asked";
import { dayText, shopperLocale } from "#core/orders/view";
import type { ReceiptView } from "#core/receipts/view";
import type { CheckoutWords } from "../checkouts/words";

/** A line of figures: what it is, and how much or which. */
export type Figure = [name: string, value: string];

/** What was ordered, line by line, and what of it was asked for. */
export function orderFigures({ order }: ReceiptView, words: CheckoutWords): Figure[] {
  const text = (amount: number) => moneyText({ amount, currency: order.currency }, shopperLocale(order));
  const isPart = order.payNow !== undefined && order.payNow < order.total;
  const { charge = 0 } = order;
  return [
    ...order.lines.map(({ quantity, name, total }): Figure => [
      quantity === 1 ? name : `${quantity} × ${name}`,
      text(total),
    ]),
    [words.shipping, text(order.shipping)],
    ...(charge === 0
      ? []
      : [[charge > 0 ? words.choiceFee : words.choiceDiscount, text(charge)] satisfies Figure]),
    ...(order.taxIncluded ? [] : [[words.tax, text(order.tax)] satisfies Figure]),
    ...(isPart ? [[words.orderTotal, text(order.total)] satisfies Figure] : []),
    [isPart ? words.nowToPay : words.orderTotal, text(askedOf(order) + charge)],
    ...(order.taxIncluded && order.tax > 0 ? [[words.taxIncluded, text(order.tax)] satisfies Figure] : []),
  ];
}

/** How it was paid, when, and what went back or is still to come. */
export function paymentFigures(view: ReceiptView, words: CheckoutWords): Figure[] {
  const { order, paid, paidAt, paidWith, instrument, refunded, placed } = view;
  const locale = shopperLocale(order);
  const with_ = instrument ? `${paidWith}, ${instrument}` : paidWith;
  return [
    ...(paidAt === null ? [] : [[words.paidOn, dayText(paidAt, locale)] satisfies Figure]),
    ...(paid.amount === 0
      ? []
      : ([
          [words.paidWith, with_],
          [words.amount, moneyText(paid, locale)],
        ] as Figure[])),
    ...(refunded.amount === 0 ? [] : [[words.refundedSum, moneyText(refunded, locale)] satisfies Figure]),
    ...(placed ? [[words.stillToCome, moneyText(placed.left, locale)] satisfies Figure] : []),
  ];
}

/** What goes on a transfer. */
export function transferFigures({ order, placed }: ReceiptView, words: CheckoutWords): Figure[] {
  if (!placed?.transfer) return [];
  const { holder, iban, bic, bank, reference } = placed.transfer;
  const locale = shopperLocale(order);
  const all: Figure[] = [
    [words.holder, holder],
    ["IBAN", iban],
    ["BIC", bic],
    [words.bankName, bank],
    [words.transferReference, reference],
    [words.amount, moneyText(placed.left, locale)],
    [words.payBy, placed.due === null ? "" : dayText(placed.due, locale)],
  ];
  return all.filter(([, value]) => value !== "");
}

/** What a letter or a page is headed with, and what it says first. */
export function headOf({ kind }: ReceiptView, words: CheckoutWords): { title: string; says: string | null } {
  switch (kind) {
    case "placed":
      return { title: words.placed, says: null };
    case "reminder":
      return { title: words.reminder, says: words.reminderSays };
    case "paid":
      return { title: words.receipt, says: words.thankYou };
    case "refunded":
      return { title: words.moneyBack, says: words.moneyBackSays };
  }
}
