import { speaking } from "../../scripts/english";
import { spoken } from "../../scripts/english";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  authenticationFor,
  blankOffer,
  type OfferDocument,
  type OfferTerms,
  orderNumberFor,
  readOffer,
  wordingFor,
} from "./offer";
import { checkStatement as checkStatementSaid, STATEMENT_LENGTH } from "./statement";

const checkStatement = speaking(checkStatementSaid);

const terms: OfferTerms = {
  storefrontName: "Luvwinkel DE",
  languages: ["de", "en"],
  currencies: ["EUR", "GBP"],
  groups: ["retail", "clubs"],
  stages: ["Paid", "Refused"],
  capture: ["at-once"],
  authentication: ["issuer", "always"],
};
const blank = blankOffer({ name: "Card", kind: "card" }, terms, { statement: "LUVWINKEL" });
const refusals = (change: Partial<Record<keyof OfferDocument, unknown>>) => {
  const reading = readOffer({ ...blank, ...change }, terms);
  return reading.ok ? [] : spoken(reading.problems).map((one) => `${one.path}: ${one.says}`);
};

it("puts what is said before and after around an order's number", () => {
  expect(orderNumberFor({}, "A-1")).toBe("A-1");
  expect(orderNumberFor({ orderNumber: { before: "LW/", after: "-DE" } }, "A-1")).toBe("LW/A-1-DE");
});

describe("an offer's document", () => {
  it("is good from the start, for any storefront and method", () => {
    expect(readOffer(blank, terms)).toEqual({ ok: true, value: blank });
    const none = { ...terms, languages: [], capture: [], authentication: [] };
    expect(blankOffer({ name: "Card", kind: "card" }, none)).toMatchObject({
      capture: "at-once",
      authentication: "issuer",
      wording: {},
    });
  });

  it.each<[Partial<Record<keyof OfferDocument, unknown>>, string]>([
    [{ currencies: ["SEK"] }, "currencies: SEK is not a currency of the storefront."],
    [{ groups: ["dealers"] }, "groups: dealers is not a shopper group of the storefront."],
    [{ limits: { EUX: { least: 1, greatest: null } } }, "limits: EUX is not a currency."],
    [
      { limits: { EUR: { least: 2, greatest: 1 } } },
      "limits.EUR: The least total is above the greatest; no order could be paid.",
    ],
    [{ wording: { fr: { label: "Carte", hint: "" } } }, "wording: fr is not a language of the storefront."],
    [{ capture: "later" }, "capture: This method cannot capture that way."],
    [{ stages: { captured: "Gone" } }, "stages.captured: The shop has not declared a stage “Gone”."],
    [
      { charge: { kind: "fee", share: 100, sums: {} } },
      "charge: This storefront takes no fee for a way of paying. An owner can allow it in the settings.",
    ],
    [{ statement: "ÜBER" }, "statement: At least 5 characters are needed."],
  ])("that says %j is refused at its place", (change, says) => expect(refusals(change)).toContain(says));

  it.each<[string, Partial<Record<keyof OfferDocument, unknown>>]>([
    ["a button of a hundred letters", { wording: { de: { label: "K", hint: "", button: "k".repeat(100) } } }],
    ["a sign that is none of ours", { sign: { icon: "flag" } }],
    ["a sign twice", { sign: { icon: "card", picture: { id: "f".repeat(64), width: 1, height: 1 } } }],
    ["a picture by an address", { sign: { picture: { id: "https://x.example", width: 1, height: 1 } } }],
    ["spaces before an order number", { orderNumber: { before: "A B", after: "" } }],
    ["half a cent", { limits: { EUR: { least: 0.5, greatest: null } } }],
    ["a negative limit", { limits: { EUR: { least: -1, greatest: null } } }],
    ["a limit as text", { limits: { EUR: { least: "5", greatest: null } } }],
    ["an empty name", { wording: { de: { label: " ", hint: "" } } }],
    ["a name without end", { wording: { de: { label: "x".repeat(61), hint: "" } } }],
    ["a country in words", { countries: ["Germany"] }],
    ["a list as text", { countries: "DE" }],
    ["a state that is none", { stages: { shipped: "Paid" } }],
    ["nothing where something must be", { statement: undefined }],
    ["another way to capture", { capture: "never" }],
  ])("with %s is refused", (_, change) => expect(refusals(change).length).toBeGreaterThan(0));

  it("whatever a form sends is read or refused in words, and never throws", () => {
    fc.assert(
      fc.property(fc.anything(), (input) => {
        const reading = readOffer(input, terms);
        if (!reading.ok) expect(spoken(reading.problems).every((one) => one.says.length > 0)).toBe(true);
      }),
    );
    fc.assert(
      fc.property(fc.constantFrom(...Object.keys(blank)), fc.anything(), (name, value) => {
        readOffer({ ...blank, [name]: value }, terms);
      }),
    );
  });

  it("asks for an exemption only up to the total that it names for the currency", () => {
    const asked = (amount: number, currency: "EUR" | "GBP", exemptUpTo?: Record<string, number>) =>
      authenticationFor(
        { authentication: "exemption", ...(exemptUpTo && { exemptUpTo }) },
        { amount, currency },
      );
    expect(asked(3000, "EUR", { EUR: 3000 })).toBe("exemption");
    expect(asked(3001, "EUR", { EUR: 3000 })).toBe("issuer");
    expect(asked(1, "GBP", { EUR: 3000 })).toBe("issuer");
    expect(asked(0, "EUR")).toBe("issuer");
    expect(
      authenticationFor({ authentication: "always", exemptUpTo: { EUR: 9 } }, { amount: 1, currency: "EUR" }),
    ).toBe("always");
  });

  it("speaks the shopper's language, else the nearest it has", () => {
    const wording = { de: { label: "Karte", hint: "h" }, en: { label: "Card", hint: "" } };
    const label = (language: string, own: OfferDocument["wording"] = wording) =>
      wordingFor({ ...blank, wording: own }, language).label;
    expect(["de", "de-AT", "en-GB", "fr", ""].map((one) => label(one))).toEqual([
      "Karte",
      "Karte",
      "Card",
      "Karte",
      "Karte",
    ]);
    expect(label("de", {})).toBe("");
  });
});

describe("a statement text", () => {
  const findings = (text: string, name = "Luvwinkel DE") => checkStatement(text, name).map((one) => one.says);

  it("is measured, spelled and compared with the storefront's name", () => {
    expect(findings("LUVWINKEL DRACHEN")).toEqual([]);
    expect(findings("")).toEqual([]);
    expect(findings("KITE")).toEqual(["At least 5 characters are needed."]);
    expect(findings("LUVWINKEL DRACHEN UND MEHR")).toEqual(["26 characters; statements hold 22."]);
    expect(findings("LUVWINKEL ★ <b>")).toEqual(["Statements cannot hold ★ < >."]);
    expect(findings("12345")).toEqual(["At least one letter is needed."]);
    expect(findings("HAFF KITES")).toEqual([
      "Nothing in it resembles “Luvwinkel DE”; shoppers may not recognise the charge.",
    ]);
    expect(checkStatement("HAFF KITES", "Luvwinkel DE")[0]?.blocking).toBe(false);
    expect(findings("MOEWE AND CO", "Möwe & Co")).not.toContain("Statements cannot hold Ö.");
  });

  it("is held to what the provider takes, where that is less than is usual", () => {
    const findings = (text: string, limits: Parameters<typeof checkStatement>[2]) =>
      checkStatement(text, "Luvwinkel DE", limits).map((one) => one.blocking);
    expect(findings("LUVWINKEL DE", { most: 12 })).toEqual([]);
    expect(findings("LUVWINKEL DEU", { most: 12 })).toEqual([true]);
    expect(findings("LUVWINKEL", { most: 40 })).toEqual([]);
    expect(findings("L".repeat(23), { most: 40 })[0]).toBe(true);
    expect(findings("LUVWINKEL-DE", { letters: "ABCDEFGHIJKLMNOPQRSTUVWXYZ " })).toEqual([true]);
    expect(findings("LUV", { most: 3 })).not.toContain(true);
  });

  it("that has no complaint fits a bank statement", () => {
    fc.assert(
      fc.property(fc.string({ minLength: 1, maxLength: 30 }), (text) => {
        if (checkStatement(text, "Luvwinkel").some((one) => one.blocking)) return;
        expect(text.length).toBeGreaterThanOrEqual(STATEMENT_LENGTH.least);
        expect(text.length).toBeLessThanOrEqual(STATEMENT_LENGTH.most);
        expect(text).toMatch(/^[A-Za-z0-9 .,&/-]+$/);
      }),
    );
  });
});
