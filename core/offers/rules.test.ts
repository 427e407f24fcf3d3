import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { say } from "../../scripts/english";
import { decide, type Candidate } from "./decide";
import { blankOffer, readOffer, type OfferTerms } from "./offer";
import {
  type Asked,
  holds,
  neverTogether,
  reasonsOf,
  type Rule,
  type RuleGroup,
  ruleProblems,
  type Rules,
  rulesSay,
} from "./rules";
import { isWithin, readZone, type Zone, type ZoneEntry } from "./zones";

const zone = (id: string, change: Partial<Zone> = {}): Zone => ({
  ...{ id, name: id, countries: [], regions: [], postcodes: [] },
  ...change,
});
const islands = zone("islands", { postcodes: ["DE 25930-25999", "DE 18565*", "GB JE*"] });
const union = zone("union", { countries: ["DE", "AT", "NL"], regions: ["ES-CN"] });
const zones = [islands, union];
const all = (...rules: Rules["rules"]): Rules => ({ match: "all", rules });
const any = (...rules: Rules["rules"]): Rules => ({ match: "any", rules });
const codes = (rules: Rules, asked: Partial<Asked>) =>
  reasonsOf(rules, { at: 0, ...asked }, zones).map(({ code }) => code);

describe("a zone", () => {
  it.each([
    [{ country: "DE", postcode: "25980" }, true],
    [{ country: "DE", postcode: "25929" }, false],
    [{ country: "DE", postcode: "18565" }, true],
    [{ country: "GB", postcode: "je2 4wd" }, true],
    [{ country: "GB", postcode: "AB1" }, false],
    [{ country: "FR", postcode: "25980" }, false],
    [{ country: "DE" }, false],
  ])("holds %j: %s", (place, within) => {
    expect(isWithin(islands, place)).toBe(within);
  });

  it("holds whole countries, and regions with or without their country", () => {
    expect(isWithin(union, { country: "AT" })).toBe(true);
    expect(isWithin(union, { country: "ES", region: "CN" })).toBe(true);
    expect(isWithin(union, { country: "ES", region: "ES-CN" })).toBe(true);
    expect(isWithin(union, { country: "ES", region: "MD" })).toBe(false);
  });

  it("is read from text, or refused at its place", () => {
    const entry: ZoneEntry = {
      name: "Islands",
      countries: "de, at",
      regions: "",
      postcodes: "DE 25*; DE 18565",
    };
    expect(readZone(entry)).toEqual({
      ok: true,
      value: { name: "Islands", countries: ["DE", "AT"], regions: [], postcodes: ["DE 25*", "DE 18565"] },
    });
    const refused = (change: Partial<ZoneEntry>) => {
      const read = readZone({ ...entry, ...change });
      return read.ok ? null : read.problems.map(({ path }) => path);
    };
    expect(refused({ name: " " })).toEqual(["name"]);
    expect(refused({ countries: "Germany" })).toEqual(["countries"]);
    expect(refused({ regions: "SH" })).toEqual(["regions"]);
    expect(refused({ postcodes: "25980" })).toEqual(["postcodes"]);
    expect(refused({ countries: "", postcodes: "" })).toEqual(["countries"]);
    fc.assert(
      fc.property(
        fc.string(),
        fc.string(),
        fc.string(),
        fc.string(),
        (name, countries, regions, postcodes) => {
          const read = readZone({ name, countries, regions, postcodes });
          if (read.ok) expect(isWithin({ id: "z", ...read.value }, { country: "XX" })).toBe(false);
        },
      ),
    );
  });
});

describe("a rule", () => {
  it("asks where it goes, what it is, how it goes, how heavy it is, who pays, and on what", () => {
    expect(codes(all({ on: "zone", zones: ["islands"], at: "ship", is: false }), {})).toEqual([]);
    const there = { shipTo: { country: "DE", postcode: "25980" } };
    expect(codes(all({ on: "zone", zones: ["islands"], at: "ship", is: false }), there)).toEqual(["zone"]);
    expect(codes(all({ on: "zone", zones: ["union"], at: "bill", is: true }), there)).toEqual(["zone"]);
    const goods = (share: "some" | "all", is: boolean): Rule => ({
      on: "goods",
      kinds: ["workshop"],
      share,
      is,
    });
    expect(codes(all(goods("some", false)), { kinds: ["kite", "workshop"] })).toEqual(["goods"]);
    expect(codes(all(goods("all", true)), { kinds: ["kite", "workshop"] })).toEqual(["goods"]);
    expect(codes(all(goods("all", true)), { kinds: ["workshop"] })).toEqual([]);
    expect(codes(all(goods("all", true)), {})).toEqual(["goods"]);
    const parcel: Rule = { on: "delivery", methods: ["parcel"], is: true };
    expect(codes(all(parcel), { delivery: "parcel" })).toEqual([]);
    expect(codes(all(parcel), {})).toEqual(["delivery"]);
    const light: Rule = { on: "weight", least: null, greatest: 2_000 };
    expect(codes(all(light), { weight: 2_000 })).toEqual([]);
    expect(codes(all(light), { weight: 2_001 })).toEqual(["weight"]);
    expect(codes(all({ on: "shopper", is: "returning" }), { returning: true })).toEqual([]);
    expect(codes(all({ on: "shopper", is: "first" }), {})).toEqual(["shopper"]);
    expect(codes(all({ on: "tries", most: 1 }), { tries: 2 })).toEqual(["tries"]);
    expect(codes(all({ on: "device", is: "phone" }), { device: "computer" })).toEqual(["device"]);
  });

  it("knows days and hours by a zone's own clocks, over midnight and when they are changed", () => {
    const open: Rule = {
      on: "time",
      days: [1, 2, 3, 4, 5],
      from: "09:00",
      until: "17:00",
      zone: "Europe/Berlin",
    };
    const at = (text: string) => holds(open, { at: Date.parse(text) }, []);
    expect(at("2026-11-26T08:00:00Z")).toBe(true);
    expect(at("2026-11-26T07:59:00Z")).toBe(false);
    expect(at("2026-11-26T16:00:00Z")).toBe(false);
    expect(at("2026-11-28T10:00:00Z"), "a Saturday").toBe(false);
    // In summer the same hour of Berlin is an hour earlier in Greenwich.
    expect(at("2026-07-01T07:00:00Z")).toBe(true);
    const night: Rule = { ...open, days: [5], from: "22:00", until: "02:00" };
    const atNight = (text: string) => holds(night, { at: Date.parse(text) }, []);
    expect(atNight("2026-11-27T21:30:00Z"), "Friday evening").toBe(true);
    expect(atNight("2026-11-28T00:30:00Z"), "the night after").toBe(true);
    expect(atNight("2026-11-26T23:30:00Z"), "the night before").toBe(false);
  });

  it("says itself as one sentence", () => {
    const rules = all(
      { on: "zone", zones: ["union"], at: "ship", is: true },
      {
        match: "any",
        rules: [
          { on: "device", is: "phone" },
          { on: "weight", least: 500, greatest: null },
        ],
      },
    );
    expect(say(rulesSay(rules, zones))).toBe(
      "for what goes to union, one of these: on a phone, for orders from 0.5 kg",
    );
  });
});

const rule: fc.Arbitrary<Rule> = fc.oneof(
  fc.record({
    ...{ on: fc.constant("zone" as const), zones: fc.subarray(["islands", "union"], { minLength: 1 }) },
    ...{ at: fc.constantFrom("ship" as const, "bill" as const), is: fc.boolean() },
  }),
  fc.record({
    ...{ on: fc.constant("goods" as const), kinds: fc.subarray(["a", "b"], { minLength: 1 }) },
    ...{ share: fc.constantFrom("some" as const, "all" as const), is: fc.boolean() },
  }),
  fc.record({
    ...{
      on: fc.constant("delivery" as const),
      methods: fc.subarray(["x", "y"], { minLength: 1 }),
      is: fc.boolean(),
    },
  }),
  fc.record({
    on: fc.constant("weight" as const),
    least: fc.option(fc.integer({ min: 0, max: 9 })),
    greatest: fc.option(fc.integer({ min: 0, max: 9 })),
  }),
  fc.record({
    on: fc.constant("shopper" as const),
    is: fc.constantFrom("first" as const, "returning" as const),
  }),
  fc.record({ on: fc.constant("tries" as const), most: fc.integer({ min: 0, max: 3 }) }),
  fc.record({
    on: fc.constant("device" as const),
    is: fc.constantFrom("phone" as const, "computer" as const),
  }),
);
const match = fc.constantFrom("all" as const, "any" as const);
const group: fc.Arbitrary<RuleGroup> = fc.record({
  match,
  rules: fc.array(rule, { minLength: 1, maxLength: 4 }),
});
const rules: fc.Arbitrary<Rules> = fc.record({
  match,
  rules: fc.array(fc.oneof(rule, group), { maxLength: 5 }),
});
const place = fc.record({
  country: fc.constantFrom("DE", "ES", "US"),
  postcode: fc.constantFrom("25980", "10115"),
});
const asked: fc.Arbitrary<Asked> = fc.record(
  {
    ...{ at: fc.constant(0), shipTo: place, billTo: place, kinds: fc.array(fc.constantFrom("a", "b", "c")) },
    ...{
      delivery: fc.constantFrom("x", "y", "z"),
      weight: fc.integer({ min: 0, max: 9 }),
      returning: fc.boolean(),
    },
    ...{
      tries: fc.integer({ min: 0, max: 4 }),
      device: fc.constantFrom("phone" as const, "computer" as const),
    },
  },
  { requiredKeys: ["at"] },
);
/** What rules mean, as plainly as it can be said. */
function means({ match: how, rules: list }: Rules | RuleGroup, of: Asked): boolean {
  const each = list.map((one) => ("match" in one ? means(one, of) : holds(one, of, zones)));
  return list.length === 0 || (how === "all" ? each.every(Boolean) : each.some(Boolean));
}

const terms: OfferTerms = {
  ...{
    storefrontName: "Luvwinkel DE",
    languages: ["de"],
    currencies: ["EUR"],
    groups: ["retail"],
    stages: [],
  },
  ...{ capture: ["at-once"], authentication: [], zones: ["islands", "union"] },
};
const document = blankOffer({ name: "Card", kind: "card" }, terms);
const candidate = (id: string, of: Rules): Candidate => ({
  ...{ id, document: { ...document, rules: of }, off: false, standing: "ready", troubled: false, zones },
  ...{ methodCurrencies: ["EUR"], accountCurrencies: null, minimum: {}, maximum: {}, shopperCountries: [] },
});

describe("rules, whatever they are", () => {
  it("give a reason just where they do not hold, and part what is shown from what is withheld", () => {
    fc.assert(
      fc.property(fc.array(rules, { maxLength: 6 }), asked, (list, of) => {
        const candidates = list.map((one, i) => candidate(String(i), one));
        const cart = {
          total: { amount: 100, currency: "EUR" as const },
          country: "DE",
          language: "de",
          group: "retail",
        };
        const { shown, withheld } = decide(candidates, { ...cart, asked: of });
        expect([...shown, ...withheld].map(({ id }) => id).sort()).toEqual(
          candidates.map(({ id }) => id).sort(),
        );
        for (const [i, one] of list.entries())
          expect(shown.some(({ id }) => id === String(i))).toBe(means(one, of));
        for (const { because } of withheld) expect(because.length).toBeGreaterThan(0);
      }),
    );
  });

  it("that are said never to hold together never do", () => {
    fc.assert(
      fc.property(rules, fc.array(asked, { minLength: 20, maxLength: 20 }), (list, orders) => {
        if (neverTogether(list)) for (const of of orders) expect(means(list, of)).toBe(false);
      }),
      { numRuns: 400 },
    );
  });

  it("are read as they are, and refused where they are something else", () => {
    fc.assert(
      fc.property(rules, (list) => {
        expect(ruleProblems(list, ["islands", "union"])).toEqual([]);
      }),
    );
    fc.assert(fc.property(fc.anything(), (odd) => void ruleProblems(odd, [])));
    const many = all(...Array.from({ length: 10_000 }, (): Rule => ({ on: "tries", most: 1 })));
    expect(ruleProblems(many, []).map(({ code }) => code)).toEqual(["rules.too-many"]);
    expect(
      ruleProblems(
        all({ on: "zone", zones: ["gone"], at: "ship", is: true }),
        zones.map(({ id }) => id),
      ),
    ).toMatchObject([{ path: "rules.0", code: "rules.zone-gone" }]);
    for (const odd of [
      { on: "time", days: [8], from: "09:00", until: "10:00", zone: "Europe/Berlin" },
      { on: "time", days: [1], from: "9", until: "10:00", zone: "Europe/Berlin" },
      { on: "time", days: [1], from: "09:00", until: "10:00", zone: "Moon/Sea" },
      { on: "weight", least: 1.5, greatest: null },
      { on: "moon" },
      { match: "any", rules: [] },
      { match: "all", rules: [{ match: "any", rules: [{ match: "all", rules: [] }] }] },
    ])
      expect(ruleProblems({ match: "all", rules: [odd] }, []), JSON.stringify(odd)).not.toEqual([]);
  });

  it("that contradict each other are refused: nobody could ever see it", () => {
    const contrary = (list: Rules) => readOffer({ ...document, rules: list }, terms);
    expect(contrary(all({ on: "device", is: "phone" }, { on: "device", is: "computer" }))).toMatchObject({
      ok: false,
      problems: [{ path: "rules", code: "rules.never" }],
    });
    expect(contrary(all({ on: "weight", least: 5, greatest: 4 })).ok).toBe(false);
    expect(contrary(any({ on: "device", is: "phone" }, { on: "device", is: "computer" })).ok).toBe(true);
    expect(
      neverTogether(
        all({ on: "delivery", methods: ["x"], is: true }, { on: "delivery", methods: ["x", "y"], is: false }),
      ),
    ).not.toBeNull();
  });
});
