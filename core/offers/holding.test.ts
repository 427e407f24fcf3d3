import fc from "fast-check";
import { expect, it } from "vitest";
import { captureDue, heldBecause } from "./holding";

const holdBack = { from: { EUR: 50_000, JPY: 0 }, countries: ["XK", "KP"] };
const order = (amount: number, currency: string, ...countries: string[]) => ({
  total: { amount, currency },
  countries,
});
const DAY = 86_400_000;

it("holds back what is dear or goes where somebody should look first", () => {
  expect(heldBecause(undefined, order(1_000_000, "EUR", "KP"))).toBeNull();
  expect(heldBecause(holdBack, order(49_999, "EUR", "DE"))).toBeNull();
  expect(heldBecause(holdBack, order(50_000, "EUR", "DE"))).toEqual({
    by: "total",
    from: { amount: 50_000, currency: "EUR" },
  });
  expect(heldBecause(holdBack, order(1, "EUR", "DE", "KP"))).toEqual({ by: "country", country: "KP" });
  expect(heldBecause(holdBack, order(1, "JPY", "JP"))).toMatchObject({ by: "total" });
  expect(heldBecause(holdBack, order(1_000_000, "GBP", "GB"))).toBeNull();
  expect(heldBecause(holdBack, order(1_000_000, "toString", "GB"))).toBeNull();
});

it("captures by itself when its days are over, never before the payment and never once nothing is held any more", () => {
  expect(captureDue(undefined, { createdAt: 0, heldUntil: null })).toBeNull();
  fc.assert(
    fc.property(fc.nat(60), fc.nat(10 ** 12), fc.option(fc.nat(60 * DAY)), (days, createdAt, lasts) => {
      const heldUntil = lasts === null ? null : createdAt + lasts;
      const due = captureDue(days, { createdAt, heldUntil }) ?? NaN;
      expect(due).toBeGreaterThanOrEqual(createdAt);
      expect(due).toBeLessThanOrEqual(createdAt + days * DAY);
      if (heldUntil !== null && lasts !== null && lasts > DAY) expect(due).toBeLessThan(heldUntil);
    }),
  );
});
