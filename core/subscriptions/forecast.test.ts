import fc from "fast-check";
import { expect, it } from "vitest";
import { type Due, forecast } from "./forecast";

const monthly: Due = {
  day: "2027-01-10",
  rhythm: { count: 1, unit: "month" },
  left: null,
  count: 3,
  amount: 8_700,
};

it("counts each charge on its day, as often as the rhythm comes round", () => {
  const weekly: Due = { ...monthly, rhythm: { count: 1, unit: "week" }, count: 1, amount: 500 };
  const days = forecast([monthly, weekly], "2027-01-08", 30);
  expect(days).toHaveLength(30);
  expect(days.filter(({ count }) => count > 0)).toEqual([
    { day: "2027-01-10", count: 4, amount: 9_200 },
    { day: "2027-01-17", count: 1, amount: 500 },
    { day: "2027-01-24", count: 1, amount: 500 },
    { day: "2027-01-31", count: 1, amount: 500 },
  ]);
});

it("stops where no period is left, and takes what is late for today", () => {
  const last: Due = { ...monthly, rhythm: { count: 1, unit: "day" }, left: 2 };
  const sum = (due: Due) => forecast([due], "2027-01-08", 30).reduce((all, { count }) => all + count, 0);
  expect(sum(last)).toBe(6);
  expect(sum({ ...last, left: 0 })).toBe(0);
  expect(forecast([{ ...monthly, day: "2026-12-31" }], "2027-01-08", 30)[0]).toMatchObject({ count: 3 });
});

it("never tells of a day outside of its own", () => {
  const day = fc
    .integer({ min: 0, max: 400 })
    .map((n) => new Date(1_790_000_000_000 + n * 86_400_000).toISOString().slice(0, 10));
  const rhythm = fc.record({
    count: fc.integer({ min: 1, max: 12 }),
    unit: fc.constantFrom("day" as const, "week" as const, "month" as const),
  });
  fc.assert(
    fc.property(day, day, rhythm, fc.integer({ min: 1, max: 60 }), (first, from, every, days) => {
      const told = forecast([{ ...monthly, day: first, rhythm: every }], from, days);
      expect(told.map((one) => one.day)).toEqual([...new Set(told.map((one) => one.day))].sort());
      expect(told).toHaveLength(days);
      expect(told.every(({ count, amount }) => count % 3 === 0 && amount === (count / 3) * 8_700)).toBe(true);
    }),
  );
});
