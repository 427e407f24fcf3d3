import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type ByLines, sumOfLines } from "./by-lines";
import type { Order } from "./order";

const order = (change: Partial<Order> = {}): Order => {
  const made: Order = {
    ...{ reference: "A", currency: "EUR", shipping: 490, tax: 333, taxIncluded: true, total: 0 },
    ...{ country: "DE", language: "de", group: "retail", email: "", returnAddress: "http://localhost:1/" },
    lines: [
      { name: "Kite", quantity: 3, unit: 3333, total: 9999 },
      { name: "Line, by the metre", quantity: 2.5, unit: 133, total: 333 },
      { name: "Discount", quantity: 1, unit: -500, total: -500 },
    ],
    ...change,
  };
  const goods = made.lines.reduce((sum, one) => sum + one.total, 0) + made.shipping;
  return { ...made, total: goods + (made.taxIncluded ? 0 : made.tax) };
};
const part = (shipping: boolean, ...lines: [line: number, quantity: number][]): ByLines => ({
  shipping,
  lines: lines.map(([line, quantity]) => ({ line, quantity })),
});
const refusals = (reading: ReturnType<typeof sumOfLines>) =>
  reading.ok ? [] : reading.problems.map(({ pointer, code }) => [pointer, code]);

describe("a part of an order by its lines", () => {
  it("comes to what its lines cost, with its share of a tax that is added", () => {
    expect(sumOfLines(order(), part(false, [0, 1]), [])).toEqual({ ok: true, amount: 3333 });
    expect(sumOfLines(order(), part(true, [0, 1], [1, 0.5]), [])).toEqual({
      ok: true,
      amount: 3333 + 67 + 490,
    });
    const added = order({
      taxIncluded: false,
      tax: 1961,
      lines: [{ name: "K", quantity: 2, unit: 5000, total: 10_000 }],
    });
    expect(sumOfLines(added, part(false, [0, 1]), [])).toEqual({ ok: true, amount: 5000 + 935 });
  });

  it("says what is not there, named twice, or counted already", () => {
    expect(refusals(sumOfLines(order(), part(false, [7, 1]), []))).toEqual([
      ["/lines/0/line", "unknown-line"],
    ]);
    expect(refusals(sumOfLines(order(), part(false, [0, 1], [0, 1]), []))).toEqual([
      ["/lines/1/line", "named-twice"],
    ]);
    expect(refusals(sumOfLines(order(), part(false, [0, 2]), [part(false, [0, 2])]))).toEqual([
      ["/lines/0/quantity", "more-than-left"],
    ]);
    expect(refusals(sumOfLines(order(), part(true), [part(true)]))).toEqual([
      ["/shipping", "more-than-left"],
    ]);
    expect(refusals(sumOfLines(order(), part(false, [2, 1]), []))).toEqual([["/lines", "comes-to-nothing"]]);
    expect(refusals(sumOfLines(order(), part(false), []))).toEqual([["/lines", "comes-to-nothing"]]);
  });

  it("comes to the order's total exactly, however it is cut", () => {
    const cuts = fc.record({
      taxIncluded: fc.boolean(),
      tax: fc.integer({ min: 0, max: 5_000 }),
      lines: fc.array(
        fc.record({
          unit: fc.integer({ min: 1, max: 9_999 }),
          quantity: fc.integer({ min: 1, max: 4_000 }).map((n) => n / 1000),
        }),
        { minLength: 1, maxLength: 4 },
      ),
      shipping: fc.integer({ min: 0, max: 900 }),
    });
    fc.assert(
      fc.property(cuts, ({ lines, ...rest }) => {
        const whole = order({
          ...rest,
          lines: lines.map((one) => ({ ...one, name: "x", total: Math.round(one.unit * one.quantity) })),
        });
        const before: ByLines[] = [];
        let sum = 0;
        const take = (one: ByLines) => {
          const read = sumOfLines(whole, one, before);
          if (read.ok) {
            sum += read.amount;
            before.push(one);
          } else if (refusals(read)[0]?.[1] === "comes-to-nothing") before.push(one);
        };
        whole.lines.forEach(({ quantity }, i) => {
          const half = Math.floor(quantity * 500) / 1000;
          if (half > 0) take(part(false, [i, half]));
          take(part(false, [i, Math.round((quantity - half) * 1000) / 1000]));
        });
        if (whole.shipping > 0) take(part(true));
        // What comes to nothing alone is carried into the next.
        expect(Math.abs(sum - whole.total)).toBe(0);
      }),
    );
  });
});
