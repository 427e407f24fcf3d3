import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { currencyCodes, minorDigits } from "./currencies";
import { add, decimalText, money, MoneyError, moneyText, parseDecimal } from "./money";

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
});
