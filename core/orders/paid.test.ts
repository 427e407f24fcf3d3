import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { PaymentState } from "../payments/facts";
import {
  coveredOf,
  hasRoom,
  isSurplus,
  leftOf,
  orderAfter,
  type OrderPayment,
  type OrderStanding,
} from "./paid";

const open: OrderStanding = {
  ...{ state: "open", due: 900, held: 0, paid: 0, refunded: 0, payingPaymentId: null, parts: {} },
};
const payment = (id: string, state: PaymentState, change: Partial<OrderPayment> = {}): OrderPayment => ({
  ...{ id, state, amount: 900, choiceFee: 0, authorised: 900, held: 0, captured: 900, refunded: 0, lost: 0 },
  ...change,
});
const declined = (id: string) => payment(id, "declined", { authorised: 0, captured: 0 });

describe("an order", () => {
  it("is paid by the first payment that is approved whole", () => {
    expect(orderAfter(open, declined("a"))).toEqual(open);
    expect(orderAfter(open, payment("a", "authorised", { held: 900, captured: 0 }))).toMatchObject({
      state: "paid",
      held: 900,
      paid: 0,
    });
    expect(orderAfter(open, payment("a", "captured"))).toMatchObject({ state: "paid", paid: 900 });
    expect(orderAfter(open, payment("a", "authorised", { authorised: 400, captured: 0, held: 400 }))).toEqual(
      open,
    );
  });

  it("is not changed by a second payment, nor by that one's refund", () => {
    const paid = orderAfter(open, payment("a", "captured"));
    for (const second of [
      payment("b", "captured"),
      payment("b", "refunded", { refunded: 900 }),
      declined("b"),
    ])
      expect(orderAfter(paid, second)).toEqual(paid);
    expect(isSurplus(paid, payment("b", "captured"))).toBe(true);
    expect(isSurplus(paid, declined("b"))).toBe(false);
    expect(isSurplus(paid, payment("a", "captured"))).toBe(false);
    expect(isSurplus(open, payment("b", "captured"))).toBe(false);
  });

  it("is to be paid again when what was held is let go of, and not when it is refunded", () => {
    const held = orderAfter(open, payment("a", "authorised", { held: 900, captured: 0 }));
    expect(orderAfter(held, payment("a", "voided", { captured: 0 }))).toEqual(open);
    const paid = orderAfter(open, payment("a", "captured"));
    expect(orderAfter(paid, payment("a", "refunded", { refunded: 900 }))).toMatchObject({
      state: "paid",
      refunded: 900,
    });
    expect(orderAfter(paid, payment("a", "disputed", { lost: 900 }))).toMatchObject({ paid: 0 });
  });

  it("never counts more than one payment's money, in whatever order payments move", () => {
    const states: PaymentState[] = ["authorised", "captured", "refunded", "voided", "declined", "expired"];
    const move = fc.tuple(fc.constantFrom("a", "b", "c"), fc.constantFrom(...states));
    fc.assert(
      fc.property(fc.array(move, { maxLength: 20 }), (moves) => {
        let order = open;
        for (const [id, state] of moves) {
          const captured = ["captured", "refunded"].includes(state) ? 900 : 0;
          const held = state === "authorised" ? 900 : 0;
          order = orderAfter(
            order,
            payment(id, state, { captured, held, refunded: state === "refunded" ? 900 : 0 }),
          );
          expect(order.held + order.paid).toBeLessThanOrEqual(900);
          expect(order.state === "paid").toBe(order.payingPaymentId !== null);
        }
      }),
    );
  });

  it("is paid in parts where the shop asks for parts, and once they come to all of it", () => {
    const part = (id: string, amount: number, change: Partial<OrderPayment> = {}) =>
      payment(id, "captured", { amount, authorised: amount, captured: amount, isPart: true, ...change });
    const deposit = orderAfter(open, part("a", 200));
    expect(deposit).toMatchObject({ state: "open", paid: 200, payingPaymentId: "a" });
    expect(leftOf(deposit)).toBe(700);
    const whole = orderAfter(deposit, part("b", 700));
    expect(whole).toMatchObject({ state: "paid", paid: 900, payingPaymentId: "b" });
    expect(leftOf(whole)).toBe(0);
    // More than is left has no room, nor has one that asks for all of it.
    for (const more of [part("c", 701), payment("c", "captured")]) {
      expect(orderAfter(deposit, more)).toEqual(deposit);
      expect(isSurplus(deposit, more)).toBe(true);
    }
    expect(isSurplus(deposit, part("c", 700))).toBe(false);
    expect(isSurplus(whole, part("c", 1))).toBe(true);
    // A refund of a part is no room for another; one that was let go of is.
    const refunded = orderAfter(whole, part("a", 200, { state: "refunded", refunded: 200 }));
    expect(refunded).toMatchObject({ state: "paid", paid: 900, refunded: 200, payingPaymentId: "b" });
    const gone = orderAfter(whole, part("a", 200, { state: "voided", captured: 0, authorised: 200 }));
    expect(gone).toMatchObject({ state: "open", paid: 700, payingPaymentId: "b" });
    expect(leftOf(gone)).toBe(200);
    expect(orderAfter({ ...deposit, state: "cancelled" }, part("b", 700))).toMatchObject({
      state: "cancelled",
      paid: 900,
    });
  });

  it("never takes more than is due, in whatever order parts of it move", () => {
    const states: PaymentState[] = ["authorised", "captured", "refunded", "voided", "declined", "expired"];
    const amounts: Record<string, number> = { a: 200, b: 300, c: 400, d: 700, w: 900 };
    const move = fc.tuple(fc.constantFrom(...Object.keys(amounts)), fc.constantFrom(...states));
    fc.assert(
      fc.property(fc.array(move, { maxLength: 30 }), (moves) => {
        let order = open;
        for (const [id, state] of moves) {
          const amount = amounts[id] ?? 0;
          const captured = ["captured", "refunded"].includes(state) ? amount : 0;
          const held = state === "authorised" ? amount : 0;
          const moved = { amount, authorised: amount, captured, held, isPart: id !== "w" };
          const surplus = isSurplus(order, payment(id, state, moved));
          const after = orderAfter(order, payment(id, state, moved));
          if (surplus) expect(after).toEqual(order);
          order = after;
          expect(order.held + order.paid).toBeLessThanOrEqual(900);
          expect(coveredOf(order)).toBeLessThanOrEqual(order.due);
          expect(order.state === "paid").toBe(leftOf(order) === 0);
          expect(hasRoom(order, { amount: 1, isPart: true })).toBe(leftOf(order) > 0);
        }
      }),
    );
  });
});
