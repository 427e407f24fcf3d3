import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { creditorReference, ibanWords, isCreditorReference, isInSepa, readBic, readIban } from "./bank";
import { transferCode } from "./transfer-code";

const account = { holder: "Luvwinkel Drachenbau", iban: "DE49999000000000204101", bic: "", bank: "" };
const eur = (amount: number) => ({ amount, currency: "EUR" as const });

describe("an account", () => {
  it("is read with spaces, dashes and small letters, and refused with a wrong check digit", () => {
    expect(readIban(" de49 9990-0000 0000 2041 01 ")).toBe("DE49999000000000204101");
    expect(ibanWords("DE49999000000000204101")).toBe("DE49 9990 0000 0000 2041 01");
    for (const wrong of [
      "DE48999000000000204101",
      "DE4999900000000020410",
      "XX49999000000000204101",
      "",
      "hello",
    ])
      expect(readIban(wrong)).toBeNull();
    expect(isInSepa("DE49999000000000204101")).toBe(true);
    expect(isInSepa("BR4199999999000010009795493C1")).toBe(false);
  });

  it("has a BIC of eight or eleven letters and digits", () => {
    expect(readBic("luvw de 2a")).toBe("LUVWDE2A");
    expect(readBic("LUVWDE2A500")).toBe("LUVWDE2A500");
    for (const wrong of ["LUVWDE2", "LUVWDE2AX", "1UVWDE2A!", ""]) expect(readBic(wrong)).toBeNull();
  });
});

describe("a creditor reference", () => {
  it("has the check digits of ISO 11649", () => {
    // The standard's own example: RF18 5390 0754 7034.
    expect(creditorReference("539007547034")).toBe("RF18539007547034");
    expect(isCreditorReference("RF18539007547034")).toBe(true);
    expect(isCreditorReference("RF19539007547034")).toBe(false);
    expect(creditorReference("LW-1042")).toMatch(/^RF\d\dLW1042$/);
    expect(creditorReference("---")).toBeNull();
    expect(creditorReference("A".repeat(22))).toBeNull();
  });

  it("of whatever reference is right or none, and no longer when one character of it is changed", () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 25 }), fc.nat(), (reference, at) => {
        const made = creditorReference(reference);
        if (made === null) return;
        expect(isCreditorReference(made)).toBe(true);
        const i = 4 + (at % (made.length - 4));
        const was = made[i] ?? "";
        const [one, another] = /\d/.test(was) ? ["7", "8"] : ["Q", "R"];
        const other = was === one ? another : one;
        expect(isCreditorReference(made.slice(0, i) + other + made.slice(i + 1))).toBe(false);
      }),
    );
  });
});

describe("a code for banking apps", () => {
  it("says a transfer line by line, as EPC069-12 has it", () => {
    expect(transferCode(account, eur(4390), "RF18539007547034")?.split("\n")).toEqual([
      ...["BCD", "002", "1", "SCT", "", "Luvwinkel Drachenbau", "DE49999000000000204101", "EUR43.90", ""],
      "RF18539007547034",
    ]);
    expect(transferCode({ ...account, bic: "LUVWDE2A" }, eur(1), "LW-1042 Danke")?.split("\n")).toEqual([
      ...["BCD", "002", "1", "SCT", "LUVWDE2A", "Luvwinkel Drachenbau", "DE49999000000000204101", "EUR0.01"],
      ...["", "", "LW-1042 Danke"],
    ]);
  });

  it("says what samples of the standard say, but for what we leave out and how we write amounts", () => {
    // A sample may be of version 001, which needs the BIC, names a purpose, and leaves the last zero of an amount out.
    const ours = (lines: string[]) =>
      lines.map((line, at) =>
        at === 1 ? "002" : at === 7 ? line.replace(/\.\d$/, "$&0") : at === 8 ? "" : line,
      );
    const payee = ["BHBLDEHHXXX", "Franz Mustermänn", "DE71110220330123456789"] as const;
    const referenced = ["BCD", "001", "1", "SCT", ...payee, "EUR12.3", "GDDS", "RF18539007547034"];
    const [bic, holder, iban] = payee;
    expect(transferCode({ holder, iban, bic, bank: "" }, eur(1230), "RF18539007547034")?.split("\n")).toEqual(
      ours(referenced),
    );
    const client = "Client:Marie Louise La Lune";
    const french = { holder: "François D'Alsace S.A.", iban: "FR1420041010050500013M02606", bank: "" };
    const written = ["BCD", "001", "1", "SCT", "", french.holder, french.iban, "EUR12.3", "", "", client];
    expect(transferCode({ ...french, bic: "" }, eur(1230), client)?.split("\n")).toEqual(ours(written));
  });

  it("is not there where it could not say it", () => {
    expect(transferCode(account, { amount: 4390, currency: "GBP" }, "LW")).toBeNull();
    expect(transferCode(account, eur(0), "LW")).toBeNull();
    expect(transferCode(account, eur(100_000_000_000), "LW")).toBeNull();
    expect(transferCode({ ...account, iban: "BR4199999999000010009795493C1" }, eur(100), "LW")).toBeNull();
  });

  it("stays within its lines and its bytes, whoever the holder is", () => {
    fc.assert(
      fc.property(
        fc.string({ unit: "grapheme", maxLength: 90 }),
        fc.string({ maxLength: 200 }),
        (holder, text) => {
          const code = transferCode({ ...account, holder }, eur(1234), text);
          if (code === null) return;
          expect(new TextEncoder().encode(code).length).toBeLessThanOrEqual(331);
          expect(code.split("\n").length).toBeLessThanOrEqual(11);
        },
      ),
    );
  });
});
