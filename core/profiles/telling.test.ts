import { describe, expect, it } from "vitest";
import type { OrderInScope } from "./request";
import {
  asTold,
  canBeTold,
  isTelling,
  isTold,
  nearestLocale,
  ownWordsTold,
  tellingProblems,
} from "./telling";

const order: OrderInScope = {
  ...{ number: "A-1", shipping: 0, tax: 0, taxIncluded: true, total: 1_000, payNow: 1_000 },
  lines: [{ name: "Kite", quantity: 1, unit: 1_000, total: 1_000 }],
  email: "a@example.org",
  shipTo: { country: "DE", postcode: "26757" },
  billTo: { country: "DE", name: "Ida Möwe", lines: ["Deichweg 4"], city: "Emden" },
  shopper: "shopper-7",
};

describe("what a provider is told", () => {
  it("is the least that works", () => {
    expect(asTold(order, undefined, undefined)).toMatchObject({ lines: [], email: "", total: 1_000 });
    expect(asTold(order, undefined, ["lines"])).toMatchObject({ lines: order.lines, email: "" });
    const least = asTold(order, undefined, undefined);
    expect(["shipTo", "billTo", "shopper"].filter((name) => name in least)).toEqual([]);
    expect(asTold(order, { address: true }, ["shopper"])).toEqual({ ...order, lines: [], email: "" });
    expect(asTold(order, { lines: true, email: true, address: true, shopper: true }, [])).toEqual(order);
    expect(isTold({ lines: false }, ["lines"], "lines")).toBe(false);
    expect(ownWordsTold(undefined)).toEqual({});
    expect(ownWordsTold({ brand: "", notes: {} })).toEqual({});
    expect(ownWordsTold({ brand: "Loft", notes: { a: "b" } })).toEqual({ brand: "Loft", notes: { a: "b" } });
  });

  it("says at its field what the provider then cannot do, and what is malformed", () => {
    const at = (...given: Parameters<typeof tellingProblems>) =>
      tellingProblems(...given).map(({ path, code }) => [path, code]);
    expect(at({ lines: false, email: false }, undefined)).toEqual([]);
    expect(at({ lines: false }, ["lines"])).toEqual([["telling.lines", "offer.lines-needed"]]);
    expect(at({ email: false }, ["email"])).toEqual([["telling.email", "offer.email-needed"]]);
    expect(at({ address: false, shopper: false }, ["address"])).toEqual([
      ["telling.address", "offer.address-needed"],
    ]);
    expect(at({ brand: "x".repeat(41) }, [])).toEqual([["telling.brand", "offer.brand-too-long"]]);
    expect(at({ notes: { "not a name": "x" } }, [])).toEqual([["telling.notes", "offer.odd-note"]]);
    expect(at({ notes: { a: "x".repeat(121) } }, [])).toEqual([["telling.notes", "offer.odd-note"]]);
    const many = Object.fromEntries(Array.from({ length: 11 }, (_, i) => [`n${i}`, ""]));
    expect(at({ notes: many }, [])).toEqual([["telling.notes", "offer.too-many-notes"]]);
  });

  it.each([null, [], { lines: "yes" }, { brand: 1 }, { notes: { a: 1 } }, { notes: [] }])(
    "is not %j",
    (value) => expect(isTelling(value)).toBe(false),
  );

  it("is only what the profile has a place for", () => {
    const create = { request: { body: "{'items': order.lines.name, 'shop': brand}" } };
    expect(canBeTold({ operations: { create } } as never)).toEqual({
      ...{ lines: true, email: false, address: false, shopper: false, brand: true, notes: false },
    });
    expect(canBeTold({ operations: {} } as never)).toMatchObject({ lines: false });
  });
});

it.each([
  [undefined, "ja", "ja"],
  [[], "ja", "ja"],
  [["en", "de"], "de-AT", "de"],
  [["en", "de-DE", "de-AT"], "de-AT", "de-AT"],
  [["en", "de-CH"], "de", "de-CH"],
  [["en", "de"], "ar", "en"],
])("of the locales %j the nearest to %s is %s", (locales, language, nearest) => {
  expect(nearestLocale(locales ? { locales } : {}, language)).toBe(nearest);
});
