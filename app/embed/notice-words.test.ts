import { describe, expect, it } from "vitest";
import type { NoticeFacts } from "#core/offers/notices";
import catalogue from "../words/embed.json";
import { spokenHere } from "../checkouts/words.server";
import { writeNotice } from "./notice-words.server";

const facts = (change: Partial<NoticeFacts["quoted"]["plans"][number]> = {}): NoticeFacts => ({
  offer: "off_1",
  label: "Ratenkauf",
  quoted: {
    plans: [12, 3].map((payments) => ({
      payments,
      each: { amount: payments === 12 ? 1_670 : 6_300, currency: "EUR" },
      total: { amount: payments === 12 ? 20_040 : 18_900, currency: "EUR" },
      rate: payments === 12 ? 11.6 : 0,
      ...{ every: "month" as const, firstAfter: 30, ...change },
    })),
    text: "Was das Gesetz will.",
  },
});
const about = (language: string, country = "DE") => ({
  ...{ language, country },
  total: { amount: 18_900, currency: "EUR" },
});
const plain = (text: string | undefined) => text?.replace(/[\u00a0\u202f]/g, " ");

describe("a notice's words", () => {
  it("are there in every language that the checkout speaks, and differ from English", () => {
    const keys = Object.keys(catalogue.en);
    expect(Object.keys(catalogue).sort()).toEqual(Object.keys(spokenHere).sort());
    for (const [language, words] of Object.entries(catalogue)) {
      expect(Object.keys(words), language).toEqual(keys);
      for (const [key, text] of Object.entries(words)) {
        expect(text.match(/\{\w+\}/g)?.sort(), `${language}.${key}`).toEqual(
          catalogue.en[key as keyof typeof catalogue.en].match(/\{\w+\}/g)?.sort(),
        );
        if (language !== "en") expect(text).not.toBe(catalogue.en[key as keyof typeof catalogue.en]);
      }
    }
  });

  it("tell of the smallest payment, with all that belongs to it, as the shopper's country writes it", () => {
    const view = writeNotice(facts(), about("de"));
    expect(view?.lines.map(plain)).toEqual([
      "Ab 16,70 € im Monat mit Ratenkauf",
      "12 × 16,70 € = 200,40 € – effektiver Jahreszins 11,6 % – Erste Zahlung: in 30 Tagen",
    ]);
    expect(plain(view?.title)).toBe("Ratenkauf: 189,00 €");
    expect(view?.plans).toHaveLength(2);
    expect(plain(view?.plans[0])).toContain("3 × 63,00 € = 189,00 €");
    expect(view?.text).toBe("Was das Gesetz will.");
  });

  it("leave out what the provider does not say, and speak English to whom nobody here speaks", () => {
    const view = writeNotice(facts({ rate: null, every: null, firstAfter: null }), about("sv", "SE"));
    expect(view?.language).toBe("en");
    expect(view?.lines.map(plain)).toEqual(["From €16.70 at a time with Ratenkauf", "12 × €16.70 = €200.40"]);
    expect(writeNotice({ ...facts(), quoted: { plans: [], text: "x" } }, about("de"))).toBeNull();
  });

  it("run from the right where they are read so, and put names in as text whatever they hold", () => {
    expect(writeNotice(facts(), about("ar", "EG"))?.direction).toBe("rtl");
    const odd = writeNotice({ ...facts(), label: "<b>$& {each}</b>" }, about("en", "IE"));
    expect(odd?.lines[0]).toContain("<b>$& {each}</b>");
  });
});
