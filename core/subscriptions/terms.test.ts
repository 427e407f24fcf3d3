import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Plan } from "./plan";
import { isRepeats, repeatProblems, usualTrying } from "./plan";
import { firstDayOf } from "./schedule";
import type { Terms } from "./agreed";
import { agree, firstSum, regularSum, scheduleFrom, termsOf } from "./terms";

const plan: Plan = {
  id: "season",
  names: { en: "A kite a season", de: "Ein Drachen je Saison" },
  rhythm: { count: 3, unit: "month" },
  times: null,
  prices: { EUR: 4_900, DKK: 36_500 },
  setUp: { EUR: 500 },
  setUpNames: { en: "Set-up", de: "Einrichtung" },
  trial: null,
  fixedDay: null,
  tax: { share: 1_900, included: true },
};
const around = { trying: usualTrying, timeZone: "Europe/Berlin" };
const terms = (change: Partial<Plan> = {}): Terms => {
  const made = termsOf({ ...plan, ...change }, { currency: "EUR", language: "de-AT" }, around);
  if (!made) throw new Error("no terms");
  return made;
};

describe("the terms of a plan", () => {
  it("are those of the shopper's currency and language", () => {
    expect(terms()).toMatchObject({ name: "Ein Drachen je Saison", price: 4_900, setUp: 500 });
    expect(termsOf(plan, { currency: "DKK", language: "da" }, around)).toMatchObject({
      name: "A kite a season",
      price: 36_500,
      setUp: 0,
    });
    expect(termsOf(plan, { currency: "GBP", language: "en" }, around)).toBeNull();
  });

  it("are the same where all that a shopper agrees to is", () => {
    const other = { ...terms(), trying: { tries: [], asks: [], ends: null } };
    expect(agree(terms(), other)).toBe(true);
    expect(agree(terms(), terms({ setUp: { EUR: 501 } }))).toBe(false);
  });
});

describe("what is paid", () => {
  it("is the first period with what setting up costs, then the period alone", () => {
    expect(firstSum(terms(), 2, "2027-01-15")).toEqual({
      lines: [
        { name: "Ein Drachen je Saison", quantity: 2, unit: 4_900, total: 9_800 },
        { name: "Einrichtung", quantity: 1, unit: 500, total: 500 },
      ],
      tax: 1_645,
      taxIncluded: true,
      total: 10_300,
    });
    expect(regularSum(terms(), 2)).toMatchObject({ total: 9_800, tax: 1_565 });
  });

  it("is the trial first, which may cost nothing", () => {
    const tried = terms({ trial: { days: 14, prices: { EUR: 100 } } });
    expect(firstSum(tried, 1, "2027-01-15").total).toBe(600);
    const free = firstSum(terms({ trial: { days: 14, prices: {} } }), 1, "2027-01-15");
    expect(free.lines.map(({ name }) => name)).toEqual(["Einrichtung"]);
  });

  it("may be nothing at all, and is told as what begins", () => {
    const free = terms({ trial: { days: 14, prices: {} }, setUp: {} });
    expect(firstSum(free, 2, "2027-01-15")).toMatchObject({
      lines: [{ name: "Ein Drachen je Saison", quantity: 2, unit: 0, total: 0 }],
      ...{ tax: 0, total: 0 },
    });
  });

  it("is the part of a period before its fixed day, by its days, or all of it", () => {
    const fixed = { rhythm: { count: 1, unit: "month" as const }, setUp: {}, prices: { EUR: 3_100 } };
    const prorated = terms({ ...fixed, fixedDay: { day: 1, prorated: true } });
    expect(firstSum(prorated, 1, "2027-01-22").total).toBe(1_000);
    expect(firstSum(prorated, 1, "2027-01-01").total).toBe(3_100);
    const whole = terms({ ...fixed, fixedDay: { day: 1, prorated: false } });
    expect(firstSum(whole, 1, "2027-01-22").total).toBe(3_100);
    // The last of a short month: 18 of its 28 days.
    const last = terms({ ...fixed, prices: { EUR: 2_800 }, fixedDay: { day: 31, prorated: true } });
    expect(firstSum(last, 1, "2027-02-10").total).toBe(1_800);
  });

  it("adds tax on top where prices are without it, and every order adds up", () => {
    const net = terms({ tax: { share: 1_900, included: false } });
    expect(regularSum(net, 1)).toMatchObject({ total: 5_831, tax: 931, taxIncluded: false });
    const anyTax = fc.option(
      fc.record({ share: fc.integer({ min: 0, max: 10_000 }), included: fc.boolean() }),
    );
    fc.assert(
      fc.property(
        fc.record({
          price: fc.integer({ min: 1, max: 10_000_000 }),
          setUp: fc.integer({ min: 0, max: 100_000 }),
        }),
        anyTax,
        fc.integer({ min: 1, max: 99 }),
        fc.integer({ min: 1, max: 31 }),
        ({ price, setUp }, tax, quantity, day) => {
          const one = { ...terms({ tax, fixedDay: { day, prorated: true } }), price, setUp };
          const monthly = { ...one, rhythm: { count: 1, unit: "month" as const } };
          for (const sum of [firstSum(monthly, quantity, "2027-01-15"), regularSum(monthly, quantity)]) {
            const goods = sum.lines.reduce((all, { total }) => all + total, 0);
            expect(sum.total).toBe(goods + (sum.taxIncluded ? 0 : sum.tax));
            expect(sum.lines.every(({ unit, quantity: n, total }) => unit * n === total)).toBe(true);
            expect(sum.tax >= 0 && sum.tax <= sum.total).toBe(true);
          }
          const part = firstSum(monthly, quantity, "2027-01-15").lines[0];
          expect((part?.unit ?? 0) <= price).toBe(true);
        },
      ),
    );
  });
});

describe("when periods begin", () => {
  const begins = { day: "2027-01-31", minute: 600 };
  it("is the day of the beginning, after the trial, or the fixed day", () => {
    const days = (one: Terms) => [1, 2, 3].map((number) => firstDayOf(scheduleFrom(one, begins), number));
    const monthly = { rhythm: { count: 1, unit: "month" as const } };
    expect(days(terms(monthly))).toEqual(["2027-02-28", "2027-03-31", "2027-04-30"]);
    expect(days(terms({ ...monthly, trial: { days: 14, prices: {} } }))).toEqual([
      "2027-02-14",
      "2027-03-14",
      "2027-04-14",
    ]);
    expect(days(terms({ ...monthly, fixedDay: { day: 30, prorated: true } }))).toEqual([
      "2027-02-28",
      "2027-03-30",
      "2027-04-30",
    ]);
    // A trial goes on until the fixed day after it.
    const trial = { days: 14, prices: {} };
    expect(days(terms({ ...monthly, trial, fixedDay: { day: 30, prorated: true } }))).toEqual([
      "2027-02-28",
      "2027-03-30",
      "2027-04-30",
    ]);
    expect(days(terms({ ...monthly, trial, fixedDay: { day: 10, prorated: true } }))).toEqual([
      "2027-03-10",
      "2027-04-10",
      "2027-05-10",
    ]);
  });
});

describe("what an offer says of repeating payments", () => {
  const held = {
    repeats: true,
    languages: ["en", "de"],
    currencies: ["EUR", "DKK"],
    isTimeZone: (name: string) => name !== "Nowhere",
  };
  const codes = (change: Partial<Plan>, trying = usualTrying) =>
    repeatProblems({ plans: [{ ...plan, ...change }], trying, timeZone: "UTC" }, held).map(
      ({ code, path }) => [path.replace("repeats.", ""), code.replace("repeats.", "")],
    );

  it("is taken as it should be", () => {
    expect(isRepeats({ plans: [plan], trying: usualTrying, timeZone: "UTC" })).toBe(true);
    expect(codes({})).toEqual([]);
  });

  it("is refused where it cannot hold, at the field that says it", () => {
    expect(codes({ id: "A b" })).toEqual([["plans.0.id", "bad-id"]]);
    expect(codes({ names: { en: "x" } })).toEqual([["plans.0.names.de", "no-name"]]);
    expect(codes({ setUpNames: { en: "Set-up" } })).toEqual([["plans.0.setUpNames.de", "no-set-up-name"]]);
    expect(codes({ prices: {} })).toContainEqual(["plans.0.prices", "no-price"]);
    expect(codes({ prices: { SEK: 1 } })).toContainEqual(["plans.0.prices", "not-sold-in"]);
    expect(codes({ trial: { days: 7, prices: { EUR: 100 } } })).toEqual([
      ["plans.0.trial.prices.DKK", "nothing-to-begin-with"],
    ]);
    const free = { plans: [{ ...plan, setUp: {}, trial: { days: 7, prices: {} } }], trying: usualTrying };
    const problems = (verifies: boolean) =>
      repeatProblems({ ...free, timeZone: "UTC" }, { ...held, verifies }).map(({ path }) => path);
    expect(problems(false)).toEqual(["repeats.plans.0.trial.prices.EUR", "repeats.plans.0.trial.prices.DKK"]);
    expect(problems(true)).toEqual([]);
    expect(codes({ rhythm: { count: 1, unit: "week" }, fixedDay: { day: 1, prorated: true } })).toEqual([
      ["plans.0.fixedDay", "day-of-months"],
    ]);
    expect(codes({}, { tries: [3, 1], asks: [0], ends: 14 })).toEqual([["trying.tries", "not-in-order"]]);
    expect(codes({}, { tries: [1, 20], asks: [0], ends: 14 })).toEqual([["trying.ends", "after-the-end"]]);
  });

  it("is refused where the method cannot, or the zone is none", () => {
    const repeats = { plans: [plan, plan], trying: usualTrying, timeZone: "Nowhere" };
    expect(repeatProblems(repeats, { ...held, repeats: false }).map(({ code }) => code)).toEqual([
      "repeats.not-with-this",
    ]);
    expect(repeatProblems(repeats, held).map(({ path }) => path)).toEqual([
      "repeats.timeZone",
      "repeats.plans.1.id",
    ]);
  });

  it("has no shape that reading stumbles over", () => {
    fc.assert(
      fc.property(fc.anything(), (value) => {
        expect(isRepeats(value)).toBe(false);
        expect(isRepeats({ plans: [value], trying: usualTrying, timeZone: "UTC" })).toBe(false);
        expect(isRepeats({ plans: [], trying: value, timeZone: "UTC" })).toBe(false);
      }),
    );
  });
});
