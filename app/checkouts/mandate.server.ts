import { moneyText } from "#core/money/money";
import { dayText, shopperLocale } from "#core/orders/view";
import type { Order } from "#core/orders/order";
import { dayAt, dueAt, type Rhythm } from "#core/subscriptions/schedule";
import { regularSum, scheduleFrom } from "#core/subscriptions/terms";
import type { CheckoutWords } from "./words";
import { wordsFor } from "./words.server";

const intervals = new Map<string, Intl.NumberFormat>();

/** How often something repeats, in a shopper's language: 3 months, 1 year. */
export function intervalText({ count, unit }: Rhythm, locale: string): string {
  const inYears = unit === "month" && count % 12 === 0;
  const shown = inYears ? "year" : unit;
  const key = `${locale} ${shown}`;
  const format =
    intervals.get(key) ?? new Intl.NumberFormat(locale, { style: "unit", unit: shown, unitDisplay: "long" });
  intervals.set(key, format);
  return format.format(inYears ? count / 12 : count);
}

/**
 * What a shopper agrees to who pays an order of a subscription, line by line: what is charged, how often, from when and
 * until when. Null for an order that is paid once.
 */
export function mandateOf(
  order: Pick<Order, "subscription" | "language" | "country" | "total">,
  { shop, at }: { shop: string; at: number },
): string[] | null {
  if (!order.subscription) return null;
  const { terms, begins, quantity } = order.subscription;
  const words: CheckoutWords = wordsFor(order.language);
  const locale = shopperLocale(order);
  const sum = moneyText({ amount: regularSum(terms, quantity).total, currency: terms.currency }, locale);
  const next = begins ? dueAt(scheduleFrom(terms, dayAt(at, terms.timeZone)), 1) : null;
  return [
    words.repeats,
    words.repeatsSum.replace("{name}", terms.name).replace("{sum}", sum),
    words.repeatsEvery.replace("{interval}", intervalText(terms.rhythm, locale)),
    ...(next === null ? [] : [words.repeatsNext.replace("{day}", dayText(next, locale, terms.timeZone))]),
    terms.times === null
      ? words.repeatsUntil
      : words.repeatsTimes.replace("{count}", new Intl.NumberFormat(locale).format(terms.times)),
    (order.total > 0 ? words.repeatsAgree : words.repeatsAgreeFree).replace("{shop}", shop),
  ];
}
