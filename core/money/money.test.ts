import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { currencyCodes, minorDigits } from "./currencies";
import {
  add,
  decimalText,
  money,
  MoneyError,
  moneyText,
  signedMoneyText,
  parseDecimal,
  parseTyped,
} from "./money";

describe("money", () => {
  it("refuses what is not money", () => {
    expect(() => money(1.5, "EUR")).toThrow(MoneyError);
    expect(() => money(2 ** 53, "EUR")).toThrow(expect.objectContaining({ code: "too-large" }));
    expect(() => money(1, "EUX")).toThrow(expect.objectContaining({ code: "unknown-currency" }));
    expect(() => add(money(1, "EUR"), money(1, "JPY"))).toThrow(
      expect.objectContaining({ code: "currency-mismatch" }),
    );
  });

  it("reads decimals by the currency's own minor unit", () => {
    expect(parseDecimal("12.30", "EUR")).toEqual({ ok: true, money: money(1230, "EUR") });
    expect(parseDecimal("12,3", "EUR", ",")).toEqual({ ok: true, money: money(1230, "EUR") });
    expect(parseDecimal("1200", "JPY")).toEqual({ ok: true, money: money(1200, "JPY") });
    expect(parseDecimal("1.234", "KWD")).toEqual({ ok: true, money: money(1234, "KWD") });
    expect(parseDecimal("12.345", "EUR")).toEqual({ ok: false, problem: "too-many-decimals" });
    expect(parseDecimal("12.5", "JPY")).toEqual({ ok: false, problem: "too-many-decimals" });
    expect(parseDecimal("1e3", "EUR")).toEqual({ ok: false, problem: "not-a-number" });
    expect(parseDecimal("٣", "EUR")).toEqual({ ok: false, problem: "not-a-number" });
    expect(parseDecimal("", "EUR")).toEqual({ ok: false, problem: "not-a-number" });
    expect(parseDecimal("99999999999999999", "EUR")).toEqual({ ok: false, problem: "too-large" });
  });

  it("writes what it reads, for every currency and amount", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...currencyCodes),
        fc.integer({ min: -1e11, max: 1e11 }),
        (currency, amount) => {
          const text = decimalText(money(amount, currency));
          expect(parseDecimal(text, currency)).toEqual({ ok: true, money: money(amount, currency) });
          expect(text.split(".")[1]?.length ?? 0).toBe(minorDigits(currency));
        },
      ),
    );
  });

  it("shows amounts the way the locale writes them, with ISO decimals", () => {
    expect(moneyText(money(123456, "EUR"), "de-DE").replace(/\s/g, " ")).toBe("1.234,56 €");
    expect(moneyText(money(1200, "JPY"), "en-GB")).toBe("JP¥1,200");
    expect(moneyText(money(1234, "KWD"), "en-GB").replace(/\s/g, " ")).toBe("KWD 1.234");
  });

  it.each([
    ["1.000,00", "EUR", "de-DE", 100_000, false],
    ["1,000.00", "EUR", "de-DE", 100_000, false],
    ["1000", "EUR", "de-DE", 100_000, false],
    ["1 000,5", "EUR", "de-DE", 100_050, false],
    ["1’234.50", "CHF", "de-CH", 123_450, false],
    ["12,3", "EUR", "en-GB", 1_230, false],
    ["1.000", "EUR", "de-DE", 100_000, false],
    ["1.000", "EUR", "en-GB", 100_000, true],
    ["1,000", "GBP", "en-GB", 100_000, false],
    ["1,000,000", "JPY", "en-GB", 1_000_000, false],
    ["1.234", "KWD", "en-GB", 1_234, true],
    ["-3,50", "EUR", "de-DE", -350, false],
  ] as const)("reads %s in %s, typed by somebody in %s", (text, currency, locale, amount, unclear) => {
    expect(parseTyped(text, currency, locale)).toEqual({ ok: true, money: money(amount, currency), unclear });
  });

  it.each(["", "abc", "1.00.0", "1,00,000.00", "12.345.6", "1..2", "10.005,001"])(
    "does not guess at %s",
    (text) => {
      expect(parseTyped(text, "EUR", "de-DE").ok).toBe(false);
    },
  );

  it("reads back what any way of writing writes", () => {
    const locales = fc.constantFrom("de-DE", "en-GB", "fr-FR", "de-CH", "ja-JP", "sv-SE");
    fc.assert(
      fc.property(locales, fc.integer({ min: 0, max: 1e10 }), (locale, amount) => {
        const written = new Intl.NumberFormat(locale, { minimumFractionDigits: 2 }).format(amount / 100);
        expect(parseTyped(written, "EUR", locale)).toEqual({
          ok: true,
          money: money(amount, "EUR"),
          unclear: false,
        });
      }),
    );
  });
});

it.each([
  [490, "de-DE", "+4,90\u00a0€"],
  [-490, "de-DE", "-4,90\u00a0€"],
  [490, "nl-NL", "€\u00a0+4,90"],
  [0, "de-DE", "0,00\u00a0€"],
])("%d in %s is %s where it is added or taken off", (amount, locale, text) => {
  expect(signedMoneyText({ amount, currency: "EUR" }, locale)).toBe(text);
});
