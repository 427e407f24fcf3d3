import { moneyText } from "#core/money/money";
import type { Money } from "#core/money/money";
import { type NoticeFacts, type NoticeView, type QuotedPlan, smallestOf } from "#core/offers/notices";
import { shopperLocale } from "#core/orders/view";
import { directionOf } from "../checkouts/words";
import { wordsFor } from "../checkouts/words.server";
import catalogue from "../words/embed.json";

type Language = keyof typeof catalogue;
const isSpoken = (language: string): language is Language => Object.hasOwn(catalogue, language);

/** What shops' own pages say in a shopper's language; English where it is not spoken here. */
export function embedWords(language: string): { spoken: Language; words: (typeof catalogue)["en"] } {
  const base = language.split("-")[0] ?? "";
  const spoken = isSpoken(base) ? base : "en";
  return { spoken, words: catalogue[spoken] };
}

/** Where values stand in a sentence, they are put in; each is text, never markup. */
const filled = (sentence: string, values: Record<string, string>): string =>
  sentence.replace(/\{(\w+)\}/g, (whole, name: string) => values[name] ?? whole);

/** A notice in a shopper's words; null where nothing was quoted. Every figure is the provider's own. */
export function writeNotice(
  { offer, label, quoted }: NoticeFacts,
  { language, country, total }: { language: string; country: string; total: Money },
): NoticeView | null {
  const smallest = smallestOf(quoted.plans);
  if (!smallest) return null;
  const { spoken, words } = embedWords(language);
  const { yearly } = wordsFor(language);
  const locale = spoken === language.split("-")[0] ? shopperLocale({ language, country }) : "en";
  const money = (sum: Money) => moneyText(sum, locale);
  const percent = new Intl.NumberFormat(locale, { style: "percent", maximumFractionDigits: 2 });
  const days = new Intl.RelativeTimeFormat(locale, { numeric: "auto" });
  const sums = ({ payments, each, total: all, rate, firstAfter }: QuotedPlan) =>
    [
      `${payments} × ${money(each)} = ${money(all)}`,
      ...(rate === null ? [] : [`${yearly} ${percent.format(rate / 100)}`]),
      ...(firstAfter === null ? [] : [filled(words.first, { when: days.format(firstAfter, "day") })]),
    ].join(" – ");
  return {
    ...{ offer, language: spoken, direction: directionOf(spoken) },
    lines: [filled(words[smallest.every ?? "other"], { each: money(smallest.each), label }), sums(smallest)],
    ...{ more: words.more, close: words.close, title: `${label}: ${money(total)}` },
    plans: [...quoted.plans].sort((a, b) => a.payments - b.payments).map(sums),
    text: quoted.text,
  };
}
