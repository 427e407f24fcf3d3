import fc from "fast-check";
import { expect, it } from "vitest";
import { receiptId, receiptsDue, type PaymentSeen } from "./receipts";

const nothing: PaymentSeen = { state: "created", through: true, held: 0, captured: 0, refunded: 0 };
const kinds = (before: Partial<PaymentSeen>, after: Partial<PaymentSeen>) =>
  receiptsDue({ ...nothing, ...before }, { ...nothing, ...after }).map(({ kind }) => kind);

it("tells of an order that waits for its money only where no provider asks for it", () => {
  expect(kinds({ through: false }, { through: false, state: "pending" })).toEqual(["placed"]);
  expect(kinds({ through: false, state: "pending" }, { through: false, state: "pending" })).toEqual([]);
  expect(kinds({}, { state: "pending" })).toEqual([]);
});

it("tells that it is paid once, however it comes about", () => {
  expect(kinds({}, { state: "authorised", held: 500 })).toEqual(["paid"]);
  expect(kinds({ held: 500 }, { captured: 500 })).toEqual([]);
  expect(kinds({ captured: 200 }, { captured: 500 })).toEqual([]);
  expect(kinds({ through: false, state: "pending" }, { through: false, captured: 500 })).toEqual(["paid"]);
  expect(kinds({}, { state: "declined" })).toEqual([]);
});

it("over any course of a payment no matter is told twice, and each sum that went back is", () => {
  const step = fc.record({ held: fc.nat(3), captured: fc.nat(3), refunded: fc.nat(3) });
  fc.assert(
    fc.property(fc.array(step, { maxLength: 12 }), (steps) => {
      let [at, most] = [nothing, 0];
      const ids = new Set<string>();
      for (const one of steps) {
        // Money that is there does not vanish, and no less has gone back.
        const captured = Math.max(at.captured, one.captured);
        const refunded = Math.max(at.refunded, Math.min(captured, one.refunded));
        const next = {
          ...at,
          held: captured > 0 ? one.held : Math.max(at.held, one.held),
          captured,
          refunded,
        };
        for (const due of receiptsDue(at, next)) {
          const id = receiptId("pay_1", due);
          expect(ids.has(id)).toBe(false);
          ids.add(id);
        }
        if (refunded > most) expect(ids.has(`pay_1.refunded-${refunded}`)).toBe(true);
        [at, most] = [next, Math.max(most, refunded)];
      }
    }),
  );
});
