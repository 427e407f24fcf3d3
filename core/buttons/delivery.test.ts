import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { asText, chosenOf, isSamePlace, readMade, readPriced } from "./delivery";

const asking = { currency: "EUR", language: "de", group: "retail" };
const home = { country: "DE", postcode: "27498", city: "Helgoland" };
const line = { name: "Kite", quantity: 2, unit: "10.00", total: "20.00" };
const parcel = { id: "parcel", name: " Parcel ", shipping: "5.00", tax: "3.99", total: "25.00" };
const priced = (change: object = {}) =>
  readPriced({ lines: [line], deliveries: [parcel], ...change }, asking, home);

describe("what a shop answers to what it comes to", () => {
  it("is read with each delivery, in minor units", () => {
    expect(priced()).toEqual({
      kind: "given",
      value: {
        lines: [{ name: "Kite", quantity: 2, unit: 1000, total: 2000 }],
        taxIncluded: true,
        deliveries: [{ id: "parcel", name: "Parcel", shipping: 500, tax: 399, total: 2500 }],
      },
    });
    const on = priced({ taxIncluded: false, deliveries: [{ ...parcel, total: "28.99" }] });
    expect(on).toMatchObject({ kind: "given", value: { taxIncluded: false, deliveries: [{ total: 2899 }] } });
  });

  it.each([
    ["no deliveries", { deliveries: [] }, "/deliveries"],
    [
      "too many",
      { deliveries: Array.from({ length: 21 }, (_, i) => ({ ...parcel, id: `p${i}` })) },
      "/deliveries",
    ],
    ["one twice", { deliveries: [parcel, parcel] }, "/deliveries/1"],
    ["one without a name", { deliveries: [{ ...parcel, name: " " }] }, "/deliveries/0"],
    ["one that is none", { deliveries: [7] }, "/deliveries/0"],
    ["sums that do not add up", { deliveries: [{ ...parcel, total: "24.00" }] }, "/deliveries/0/total"],
    ["an amount that is none", { deliveries: [{ ...parcel, tax: 3.99 }] }, "/deliveries/0/tax"],
    ["no lines", { lines: [] }, "/deliveries/0/lines"],
  ])("is not taken with %s", (_, change, at) => {
    expect(priced(change)).toEqual({ kind: "unreadable", at });
  });

  it("may be that the shop does not sell, in its words or without any", () => {
    expect(priced({ refused: "sold-out" })).toEqual({ kind: "refused", because: "sold-out", says: null });
    expect(priced({ refused: "not-served", says: " No. " })).toMatchObject({ says: "No." });
    // A reason that nobody knows is a no all the same.
    expect(priced({ refused: "moon" })).toMatchObject({ kind: "refused", because: "changed" });
    expect(readMade({ refused: "sold-out" })).toMatchObject({ kind: "refused" });
  });

  it("never throws, whatever came", () => {
    fc.assert(
      fc.property(fc.jsonValue(), (body) => {
        expect(["given", "refused", "unreadable"]).toContain(readPriced(body, asking, home).kind);
        expect(["given", "refused", "unreadable"]).toContain(readMade(body).kind);
      }),
    );
  });
});

it("the delivery that was chosen stays, as long as it is offered", () => {
  const reading = priced({ deliveries: [parcel, { ...parcel, id: "fast" }] });
  if (reading.kind !== "given") throw new Error("not read");
  expect(chosenOf(reading.value, "fast")?.id).toBe("fast");
  expect(chosenOf(reading.value, "gone")?.id).toBe("parcel");
  expect(chosenOf({ ...reading.value, deliveries: [] }, null)).toBeNull();
});

it("two addresses are one place where country, region, postcode and town are the same", () => {
  expect(isSamePlace(home, { ...home, lines: ["Deich 7"] })).toBe(true);
  expect(isSamePlace(home, { ...home, postcode: "27499" })).toBe(false);
  expect(isSamePlace({ country: "DE" }, { country: "DE", region: "" })).toBe(true);
});

it("an order that was made is known by its number, and sums are told as decimal text", () => {
  expect(readMade({ reference: "A-1" })).toMatchObject({ kind: "given" });
  expect(readMade([])).toEqual({ kind: "unreadable", at: "/reference" });
  expect(asText(4390, "EUR")).toBe("43.90");
  expect(asText(900, "JPY")).toBe("900");
});
