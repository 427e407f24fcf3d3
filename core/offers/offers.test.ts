import type { Terms } from "../subscriptions/agreed";
import { usualTrying } from "../subscriptions/plan";
import { speaking } from "../../scripts/english";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { money } from "../money/money";
import { type Candidate, type Cart, decide as decideSaid } from "./decide";
import { blankOffer, type OfferDocument, type OfferTerms, readOffer, wordingFor } from "./offer";
import { checkStatement } from "./statement";

const decide = speaking(decideSaid);

const terms: OfferTerms = {
  storefrontName: "Luvwinkel DE",
  languages: ["de", "en"],
  currencies: ["EUR", "GBP"],
  groups: ["retail", "clubs"],
  stages: ["Paid", "Refused"],
  capture: ["at-once", "later"],
  authentication: ["issuer", "always"],
};
const document: OfferDocument = {
  ...blankOffer({ name: "Card", kind: "card" }, terms, { statement: "LUVWINKEL" }),
  stages: { captured: "Paid" },
};
const candidate = (change: Partial<Candidate> = {}, edit: Partial<OfferDocument> = {}): Candidate => ({
  id: "o1",
  document: { ...document, ...edit },
  off: false,
  standing: "ready",
  troubled: false,
  methodCurrencies: ["EUR", "GBP"],
  accountCurrencies: ["EUR"],
  minimum: { EUR: 50 },
  maximum: { EUR: 1_000_000 },
  shopperCountries: [],
  zones: [],
  ...change,
});
const cart: Cart = {
  total: money(4390, "EUR"),
  country: "DE",
  language: "de",
  group: "retail",
  asked: { at: 0 },
};
const why = (one: Candidate, change: Partial<Cart> = {}) =>
  decide([one], { ...cart, ...change }).withheld.flatMap((each) => each.because.map((reason) => reason.code));

describe("decide", () => {
  it("shows what nothing speaks against, in the shopper's words", () => {
    const one = candidate(
      {},
      { wording: { de: { label: "Karte", hint: "" }, en: { label: "Card", hint: "" } } },
    );
    const shown = { id: "o1", label: "Karte", hint: "", charge: 0, sign: null };
    expect(decide([one], cart)).toEqual({ shown: [shown], withheld: [] });
    expect(decide([one], { ...cart, language: "en-GB" }).shown[0]?.label).toBe("Card");
  });

  it("shows the sign that the offer says, else the usual one of its kind", () => {
    const sign = (say: OfferDocument["sign"]) =>
      decide([candidate({ icon: "card" }, say && { sign: say })], cart).shown[0]?.sign;
    const picture = { id: "f".repeat(64), width: 40, height: 20 };
    expect(sign(undefined)).toEqual({ icon: "card" });
    expect(sign({ icon: "gift" })).toEqual({ icon: "gift" });
    expect(sign({ icon: "none" })).toBeNull();
    expect(sign({ picture })).toEqual({ picture });
  });

  it("judges the goods alone where its limits are of them, and the total where nothing is said of goods", () => {
    const one = candidate({}, { limits: { EUR: { least: 4_000, greatest: null } }, limitsOf: "goods" });
    const total = { amount: 4_390, currency: "EUR" };
    expect(why(one, { total, goods: 3_900 })).toEqual(["below-least"]);
    expect(why(one, { total, goods: 4_000 })).toEqual([]);
    expect(why(one, { total })).toEqual([]);
  });

  it("adds what choosing it costs, and withholds a fee that is not taken or above all proportion", () => {
    const fee = (sum: number) => ({ charge: { kind: "fee" as const, share: 0, sums: { EUR: sum } } });
    const discount = { charge: { kind: "discount" as const, share: 0, sums: { EUR: 4_390 } } };
    expect(decide([candidate({ fees: true }, fee(290))], cart).shown[0]?.charge).toBe(290);
    expect(why(candidate({}, fee(290)))).toEqual(["fee-not-taken"]);
    expect(why(candidate({ fees: true }, fee(99_999)))).toEqual(["charge-out-of-proportion"]);
    expect(
      why(candidate({ minimum: {} }, discount), {
        total: { amount: 4_390, currency: "EUR" },
      }),
    ).toEqual(["charge-out-of-proportion"]);
    // The provider is asked for the total with the fee.
    const least = candidate({ fees: true, minimum: { EUR: 4_500 } }, fee(290));
    expect(why(least, { total: { amount: 4_390, currency: "EUR" } })).toEqual([]);
  });

  it("lets a subscription begin for nothing only where the method takes that, and no other order", () => {
    const terms: Terms = {
      ...{
        plan: "season",
        name: "Season",
        currency: "EUR",
        rhythm: { count: 1, unit: "month" },
        times: null,
      },
      ...{ price: 4_900, setUp: 0, setUpName: "", trial: { days: 14, price: 0 }, fixedDay: null, tax: null },
      ...{ trying: usualTrying, timeZone: "UTC" },
    };
    const nothing = { total: { amount: 0, currency: "EUR" } };
    const free = { ...nothing, subscription: { terms, begins: false } };
    const repeats = { plans: [], trying: usualTrying, timeZone: "UTC" };
    const least = { repeats, limits: { EUR: { least: 500, greatest: null } } };
    expect(why(candidate({}, least), free)).toEqual(["below-minimum"]);
    expect(why(candidate({ verifies: true }, least), free)).toEqual([]);
    // What is not going to be charged later is an order like any other.
    expect(why(candidate({ verifies: true }, least), nothing)).toEqual(["below-least", "below-minimum"]);
    expect(why(candidate({ minimum: {} }), nothing)).toEqual([]);
  });

  it("withholds an offer while its provider does not answer, where the offer wants that", () => {
    expect(why(candidate({ troubled: true }))).toEqual([]);
    expect(why(candidate({ troubled: true }, { withheldInTrouble: true }))).toEqual(["in-trouble"]);
    expect(why(candidate({}, { withheldInTrouble: true }))).toEqual([]);
    expect(readOffer({ ...document, withheldInTrouble: "yes" }, terms).ok).toBe(false);
    expect(readOffer({ ...document, withheldInTrouble: true }, terms).ok).toBe(true);
  });

  it("says each reason for withholding, at its very edge", () => {
    expect(why(candidate({ off: true }))).toEqual(["switched-off"]);
    for (const standing of ["no-keys", "no-domain", "no-carrier"] as const)
      expect(why(candidate({ standing }))).toEqual([standing]);
    expect(why(candidate({ standing: "not-live" }))).toEqual(["not-live"]);
    expect(why(candidate({ standing: "fallen-back" }))).toEqual(["fallen-back"]);
    expect(why(candidate({}, { countries: ["AT"] }))).toEqual(["country"]);
    expect(why(candidate({}, { currencies: ["GBP"] }))).toEqual(["currency-not-offered"]);
    expect(why(candidate({ methodCurrencies: ["GBP"] }))).toEqual(["currency-not-taken"]);
    expect(why(candidate(), { total: money(4390, "GBP") })).toEqual(["currency-not-charged"]);
    expect(why(candidate({ accountCurrencies: null }))).toEqual([]);
    expect(why(candidate({}, { groups: ["clubs"] }))).toEqual(["group"]);
    const limits = { EUR: { least: 4390, greatest: 4390 } };
    expect(why(candidate({}, { limits }))).toEqual([]);
    expect(why(candidate({}, { limits }), { total: money(4389, "EUR") })).toEqual(["below-least"]);
    expect(why(candidate({}, { limits }), { total: money(4391, "EUR") })).toEqual(["above-greatest"]);
    expect(why(candidate(), { total: money(49, "EUR") })).toEqual(["below-minimum"]);
    expect(why(candidate(), { total: money(1_000_001, "EUR") })).toContain("above-maximum");
    expect(why({ ...candidate(), shopperCountries: ["JP"] }, {})).toEqual(["not-for-country"]);
    expect(why(candidate(), { total: money(50, "EUR") })).toEqual([]);
  });

  it("names both sides and what would change it", () => {
    const [first] = decide([candidate({}, { countries: ["AT", "DE"] })], { ...cart, country: "CH" }).withheld;
    expect(first?.because[0]).toEqual({
      code: "country",
      says: "It is offered in Austria, Germany; this shopper is in Switzerland.",
      change: "Add Switzerland to its countries.",
    });
  });

  it("puts every offer on exactly one side", () => {
    const some = fc.record({
      off: fc.boolean(),
      countries: fc.subarray(["DE", "AT"]),
      groups: fc.subarray(["retail", "clubs"]),
    });
    fc.assert(
      fc.property(fc.array(some, { maxLength: 30 }), fc.integer({ min: 1, max: 1e7 }), (list, amount) => {
        const offers = list.map((one, i) => candidate({ id: String(i), off: one.off }, one));
        const { shown, withheld } = decide(offers, { ...cart, total: money(amount, "EUR") });
        expect([...shown, ...withheld].map((one) => one.id).sort()).toEqual(
          offers.map((one) => one.id).sort(),
        );
        expect(withheld.every((one) => one.because.length > 0)).toBe(true);
      }),
    );
  });
});

describe("readOffer", () => {
  const problems = (change: object) => {
    const reading = readOffer({ ...document, ...change }, terms);
    return reading.ok ? [] : reading.problems.map((one) => one.path);
  };
  it("takes a sound document and names what is not", () => {
    expect(problems({})).toEqual([]);
    expect(problems({ currencies: ["USD"] })).toEqual(["currencies"]);
    expect(problems({ groups: ["nobles"] })).toEqual(["groups"]);
    expect(problems({ limits: { EUR: { least: 5, greatest: 4 } } })).toEqual(["limits.EUR"]);
    expect(problems({ limits: { ZZZ: { least: 5, greatest: null } } })).toEqual(["limits"]);
    expect(problems({ stages: { captured: "Elsewhere" } })).toEqual(["stages.captured"]);
    expect(problems({ wording: { fr: { label: "Carte", hint: "" } } })).toEqual(["wording"]);
    expect(problems({ statement: "LUVWINKEL ★" })).toEqual(["statement"]);
    expect(problems({ capture: "never" })).toEqual(["capture"]);
    expect(problems({ countries: ["Germany"] })[0]).toMatch(/countries/);
    for (const junk of [null, 7, "x", [], {}]) expect(readOffer(junk, terms).ok).toBe(false);
  });
  it("falls back to another language's wording", () => {
    expect(wordingFor(document, "ja").label).toBe("Karte");
    expect(wordingFor({ ...document, wording: {} }, "ja")).toEqual({ label: "", hint: "" });
  });
});

describe("statement text", () => {
  const says = (text: string) => checkStatement(text, "Luvwinkel DE").map((one) => one.blocking);
  it("is checked for length, letters and likeness", () => {
    expect(says("LUVWINKEL DRACHEN")).toEqual([]);
    expect(says("Luvwinkel.example")).toEqual([]);
    expect(says("KITES AND MORE")).toEqual([false]);
    expect(says("LUV")).toEqual([true]);
    expect(says("LUVWINKEL DRACHENBAU AM HAFF")).toEqual([true]);
    expect(says("LUVWINKEL Ü")).toEqual([true]);
    expect(says("12345678")).toEqual([true]);
  });
});
