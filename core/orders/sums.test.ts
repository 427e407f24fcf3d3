import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { currencyCodes } from "../money/currencies";
import { decimalText } from "../money/money";
import { readOrder } from "./order";

const drawn = fc.record({
  currency: fc.constantFrom(...currencyCodes),
  lines: fc.array(
    fc.record({ unit: fc.integer({ min: 1, max: 1e6 }), quantity: fc.integer({ min: 1, max: 99 }) }),
    { minLength: 1, maxLength: 8 },
  ),
  shipping: fc.integer({ min: 0, max: 1e5 }),
  tax: fc.integer({ min: 0, max: 1e5 }),
  taxIncluded: fc.boolean(),
});
type Drawn = typeof drawn extends fc.Arbitrary<infer T> ? T : never;

/** The order as a shop sends it, with `off` minor units added to what the total should be. */
function sent({ currency, lines, shipping, tax, taxIncluded }: Drawn, off = 0) {
  const text = (amount: number) => decimalText({ amount, currency });
  const goods = lines.reduce((sum, line) => sum + line.unit * line.quantity, 0);
  const total = goods + shipping + (taxIncluded ? 0 : tax);
  const body = {
    reference: "LW-1",
    currency,
    lines: lines.map(({ unit, quantity }) => ({
      name: "Drachen",
      quantity,
      unit: text(unit),
      total: text(unit * quantity),
    })),
    shipping: text(shipping),
    tax: text(tax),
    taxIncluded,
    total: text(total + off),
    country: "DE",
    language: "de",
    group: "retail",
    email: "ida@example.org",
    returnAddress: "https://luvwinkel.example/orders",
  };
  return { body, total };
}

describe("an order in any currency", () => {
  it("is read when it adds up, to the minor unit", () => {
    fc.assert(
      fc.property(drawn, (order) => {
        const { body, total } = sent(order);
        expect(readOrder(body)).toMatchObject({ ok: true, order: { total, tax: order.tax } });
      }),
    );
  });

  it("is refused at its total when it is off by anything", () => {
    fc.assert(
      fc.property(drawn, fc.integer({ min: 1, max: 1e6 }), (order, off) => {
        const reading = readOrder(sent(order, off).body);
        expect(reading).toMatchObject({
          ok: false,
          problems: [{ pointer: "/total", code: "does-not-add-up" }],
        });
      }),
    );
  });

  it("is refused with more decimals than its currency has, at each amount that has them", () => {
    fc.assert(
      fc.property(drawn, fc.constantFrom("shipping", "tax", "total"), (order, field) => {
        const { body } = sent(order);
        const longer = body[field].includes(".") ? `${body[field]}0` : `${body[field]}.0`;
        const reading = readOrder({ ...body, [field]: longer });
        expect(reading).toMatchObject({
          ok: false,
          problems: [{ pointer: `/${field}`, code: "too-many-decimals" }],
        });
      }),
    );
  });
});

describe("whatever is sent as an order", () => {
  it("is read, or refused at named fields; nothing at all too", () => {
    fc.assert(
      fc.property(fc.anything(), (sent) => {
        const reading = readOrder(sent);
        if (!reading.ok) expect(reading.problems.length).toBeGreaterThan(0);
      }),
    );
    for (const nothing of [undefined, null, "", [], 0])
      expect(readOrder(nothing).ok, String(nothing)).toBe(false);
  });

  it.each(["toString", "constructor", "hasOwnProperty", "valueOf", "__proto__"])(
    "is refused at a field named %s, wherever it stands",
    (name) => {
      const odd = JSON.parse(`{"${name}":1}`) as object;
      const { body: good } = sent({
        currency: "EUR",
        lines: [{ unit: 100, quantity: 1 }],
        shipping: 0,
        tax: 0,
        taxIncluded: true,
      });
      const bodies = [
        odd,
        { ...good, ...odd, [name]: 1 },
        { ...good, lines: [odd] },
        { ...good, currency: odd },
      ];
      for (const body of bodies)
        expect(readOrder(JSON.parse(JSON.stringify(body))).ok, JSON.stringify(body)).toBe(false);
      expect(readOrder(good).ok).toBe(true);
    },
  );
});
