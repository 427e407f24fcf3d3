import { money } from "#core/money/money";
import { type Basket, tableOf } from "#core/offers/baskets";
import { type Candidate, decide } from "#core/offers/decide";
import { nextStep, type Seen } from "#core/operations/next-step";
import { fold } from "#core/payments/fold";
import type { Statement } from "#core/payments/facts";
import { percentile, round, timed } from "./figures";

const islands = {
  ...{ id: "islands", name: "Islands", countries: [], regions: [] },
  postcodes: ["DE 25930-25999", "DE 18565"],
};

/** Offers with ten rules each: countries, currencies, a least and a greatest total, groups, and five that are put together. */
const offers = (count: number): Candidate[] =>
  Array.from({ length: count }, (_, i) => ({
    id: String(i),
    off: false,
    standing: "ready" as const,
    troubled: false,
    methodCurrencies: ["EUR", "GBP"],
    accountCurrencies: ["EUR"],
    minimum: { EUR: 50 },
    maximum: { EUR: 1_000_000 },
    shopperCountries: [],
    zones: [islands],
    document: {
      wording: { de: { label: `Angebot ${i}`, hint: "" } },
      countries: i % 3 ? ["DE", "AT", "NL"] : ["CH"],
      currencies: ["EUR"],
      limits: { EUR: { least: 100, greatest: i % 4 ? 100_000 : 3_000 } },
      groups: i % 5 ? ["retail", "clubs"] : ["dealers"],
      capture: "at-once" as const,
      authentication: "issuer" as const,
      statement: "",
      stages: {},
      rules: {
        match: "all" as const,
        rules: [
          { on: "zone" as const, zones: ["islands"], at: "ship" as const, is: false },
          { on: "goods" as const, kinds: ["workshop"], share: "some" as const, is: i % 2 === 0 },
          { on: "delivery" as const, methods: ["parcel"], is: true },
          {
            on: "time" as const,
            days: [1, 2, 3, 4, 5],
            from: "08:00",
            until: "20:00",
            zone: "Europe/Berlin",
          },
          { on: "weight" as const, least: null, greatest: 1_000 * (i + 1) },
        ],
      },
    },
  }));

/** What is computed without interface and database, in a process that has nothing else: a large heap of other things would be measured with it. */
function measureThinking() {
  const cart = {
    ...{ total: money(4390, "EUR"), country: "DE", language: "de", group: "retail" },
    asked: {
      ...{ at: 1_795_000_000_000, kinds: ["kite", "part"], delivery: "parcel", weight: 5_000 },
      shipTo: { country: "DE", postcode: "25980" },
    },
  };
  const [hundred, twoHundred, fourHundred] = [offers(100), offers(200), offers(400)];
  const at = (list: Candidate[]) => timed(2000, () => decide(list, cart));
  const decision = at(twoHundred);
  const growth = percentile(at(fourHundred), 0.5) / percentile(at(hundred), 0.5);
  const facts = Array.from({ length: 200 }, (_, i): { statement: Statement } => ({
    statement: {
      object: i % 3 ? "capture" : "refund",
      id: String(i % 40),
      amount: i,
      state: i % 5 ? "succeeded" : "pending",
    },
  }));
  const folds = timed(20_000, () => fold(facts));
  // Too short to be timed one by one.
  const seen: Seen = {
    ...{ idempotent: true, askable: true, canLookUp: true, asks: 1, asked: "silence", looks: 3 },
    ...{ looked: "absent", age: 20_000, retryAfter: null },
  };
  const steps = timed(2_000, () => {
    for (let i = 0; i < 100; i++) nextStep(seen);
  });
  const forty = offers(40);
  const baskets: Basket[] = Array.from({ length: 50 }, (_, i) => ({
    ...{
      name: String(i),
      total: 40 + i * 2_500,
      goods: i * 2_500,
      currency: i % 7 ? "EUR" : "GBP",
      country: i % 5 ? "DE" : "CH",
    },
    ...{ postcode: i % 3 ? "50667" : "25980", group: i % 2 ? "retail" : "dealers", kinds: ["kite"] },
    ...{ delivery: i % 4 ? "parcel" : "", weight: i * 900, returning: false, device: "phone", tries: 0 },
  }));
  const tables = timed(200, () => tableOf(forty, baskets, cart.asked.at));
  return {
    table50Baskets40Offers: {
      p50ms: round(percentile(tables, 0.5), 2),
      p99ms: round(percentile(tables, 0.99), 2),
      reach: "under 50 ms",
    },
    decide200Offers2000Rules: {
      p50ms: round(percentile(decision, 0.5), 3),
      p99ms: round(percentile(decision, 0.99), 3),
      costOf400To100: round(growth),
      reach: "p99 under 1 ms, linear (about 4)",
    },
    fold200FactsOver40Objects: {
      medianUs: round(percentile(folds, 0.5) * 1000, 1),
      p99us: round(percentile(folds, 0.99) * 1000, 1),
      reach: "under 100 µs",
    },
    nextStep: { p99us: round(percentile(steps, 0.99) * 10, 3), reach: "under 10 µs" },
  };
}

console.log(JSON.stringify(measureThinking()));
