import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { say } from "../../scripts/english";
import { type Basket, cartOfBasket, proposeBaskets, readBasket, tableOf } from "./baskets";
import { type Candidate, decide } from "./decide";
import { blankOffer, type OfferDocument } from "./offer";
import { isWithin, placeIn, type Zone } from "./zones";

const AT = 1_795_000_000_000;
const islands: Zone = {
  ...{ id: "islands", name: "Islands", countries: [], regions: [] },
  postcodes: ["DE 25930-25999", "DE 18565"],
};
const usual: Omit<Basket, "name"> = {
  ...{ total: 4_390, goods: 3_900, currency: "EUR", country: "DE", postcode: "", group: "retail", kinds: [] },
  ...{ delivery: "", weight: 1_000, returning: false, device: "computer", tries: 0 },
};
const blank = blankOffer(
  { name: "Card", kind: "card" },
  {
    ...{ storefrontName: "North", languages: ["de"], currencies: ["EUR"], groups: ["retail"], stages: [] },
    ...{ capture: ["at-once"], authentication: ["issuer"] },
  },
);
const candidate = (id: string, change: Partial<OfferDocument> = {}): Candidate => ({
  ...{ id, off: false, standing: "ready", troubled: false },
  ...{ methodCurrencies: ["EUR"], accountCurrencies: null, minimum: {}, maximum: {}, shopperCountries: [] },
  zones: [islands],
  document: {
    ...blank,
    wording: { de: { label: id, hint: "" } },
    ...change,
  },
});
const basketOf = fc.record({
  name: fc.constant("A"),
  total: fc.nat(100_000),
  goods: fc.nat(1_000),
  currency: fc.constant("EUR"),
  country: fc.constantFrom("DE", "FR", "CH"),
  postcode: fc.constantFrom("", "25980", "18565", "50667"),
  group: fc.constantFrom("retail", "dealers"),
  kinds: fc.subarray(["kite", "workshop"]),
  delivery: fc.constantFrom("", "parcel", "pickup"),
  weight: fc.option(fc.nat(50_000)),
  returning: fc.boolean(),
  device: fc.constantFrom("phone" as const, "computer" as const),
  tries: fc.nat(3),
});

describe("kept baskets", () => {
  it("are read with what is wrong at its field", () => {
    const terms = { currencies: ["EUR"], groups: ["retail"] };
    const good = { ...usual, name: " Sylt " };
    expect(readBasket(good, terms)).toEqual({ ok: true, value: { ...usual, name: "Sylt" } });
    const problems = (change: object) => {
      const reading = readBasket({ ...good, ...change }, terms);
      return reading.ok ? [] : reading.problems.map(({ path }) => path);
    };
    expect(problems({ name: "", total: -1, currency: "GBP", country: "XX", group: "dealers" })).toEqual([
      ...["name", "total", "currency", "country", "group"],
    ]);
    expect(problems({ goods: 4_391 })).toEqual(["goods"]);
    expect(problems({ goods: undefined })).toEqual(["goods"]);
    expect(problems({ kinds: "kite", weight: "heavy", device: "fridge", tries: 1.5, returning: 1 })).toEqual([
      ...["kinds", "weight", "returning", "device", "tries"],
    ]);
    expect(readBasket(null, terms).ok).toBe(false);
  });

  it("whatever the basket, its row says of each offer just what the checkout decides", () => {
    const offers = [
      candidate("all"),
      candidate("dear", { limits: { EUR: { least: 5_000, greatest: null } } }),
      candidate("dear-goods", { limits: { EUR: { least: 500, greatest: 900 } }, limitsOf: "goods" }),
      candidate("trade", { groups: ["dealers"] }),
      candidate("no-island", {
        rules: { match: "all", rules: [{ on: "zone", zones: ["islands"], at: "ship", is: false }] },
      }),
    ];
    fc.assert(
      fc.property(fc.array(basketOf, { maxLength: 5 }), (baskets) => {
        const table = tableOf(offers, baskets, AT);
        expect(table).toHaveLength(baskets.length);
        baskets.forEach((basket, i) => {
          const { shown, withheld } = decide(offers, cartOfBasket(basket, AT));
          expect(table[i]?.size).toBe(offers.length);
          for (const { id } of shown) expect(table[i]?.get(id)).toBeNull();
          for (const { id, because } of withheld) expect(table[i]?.get(id)).toEqual(because);
        });
      }),
    );
  });

  it("are judged by their goods where an offer draws its line at those", () => {
    const byGoods = candidate("goods", {
      limits: { EUR: { least: 3_000, greatest: null } },
      limitsOf: "goods",
    });
    const at = (basket: Omit<Basket, "name">) =>
      tableOf([byGoods], [{ ...basket, name: "x" }], AT)[0]?.get("goods");
    expect(at({ ...usual, goods: 3_000, total: 3_490 })).toBeNull();
    expect(at({ ...usual, goods: 2_999, total: 9_000 })).not.toBeNull();
    const [, below, least] = proposeBaskets([byGoods], usual, [], (id) => id);
    expect(below?.basket).toMatchObject({ goods: 2_999, total: 3_489 });
    expect(least?.basket).toMatchObject({ goods: 3_000, total: 3_490 });
  });

  it("are proposed at each side of every line that an offer draws", () => {
    const offers = [
      candidate("card", { limits: { EUR: { least: 100, greatest: 9_000 } } }),
      candidate("cash", {
        rules: {
          match: "all",
          rules: [
            { on: "goods", kinds: ["workshop"], share: "some", is: false },
            { match: "any", rules: [{ on: "weight", least: null, greatest: 2_000 }] },
          ],
        },
      }),
    ];
    const proposals = proposeBaskets(offers, usual, [islands], (id) => id);
    const seen = proposals.map(({ basket, says }) => {
      const [row] = tableOf(offers, [{ ...basket, name: "x" }], AT);
      return `${say(says)}: ${offers.map(({ id }) => (row?.get(id) === null ? id : "-")).join(" ")}`;
    });
    expect(seen).toEqual([
      "Usual order: card cash",
      "Below the least total of card: - cash",
      "At the least total of card: card cash",
      "At the greatest total of card: card cash",
      "Above the greatest total of card: - cash",
      "Goods of the kind workshop: card -",
      "As heavy as cash allows: card cash",
      "Heavier than cash allows: card -",
      "To Islands: card cash",
    ]);
    expect(proposals.at(-1)?.basket).toMatchObject({ country: "DE", postcode: "25930" });
  });
});

it("a place that stands for a zone lies within it", () => {
  const postcodes = fc.constantFrom("DE 25930-25999", "DE 25*", "NL 1791", "GB IV51*");
  fc.assert(
    fc.property(fc.array(postcodes, { maxLength: 3 }), fc.subarray(["DE", "FR"]), (codes, countries) => {
      const zone: Zone = { id: "z", name: "Z", countries, regions: [], postcodes: codes };
      const place = placeIn(zone);
      if (codes.length + countries.length === 0) expect(place).toBeNull();
      else expect(place && isWithin(zone, place)).toBe(true);
    }),
  );
});
