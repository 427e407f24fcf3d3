import fc from "fast-check";
import { Temporal } from "temporal-polyfill";
import { describe, expect, it } from "vitest";
import {
  dayAfter,
  dayAt,
  daysBetween,
  dueAt,
  firstDayOf,
  momentOf,
  nextDayOfMonth,
  type Rhythm,
  rhythmUnits,
  type Schedule,
} from "./schedule";

const zones = [
  "Europe/Berlin",
  "Europe/London",
  "America/New_York",
  "Australia/Lord_Howe",
  "Asia/Kathmandu",
  "UTC",
];
const day = fc
  .date({ min: new Date("2024-01-01"), max: new Date("2040-12-31"), noInvalidDate: true })
  .map((date) => date.toISOString().slice(0, 10));
const rhythm: fc.Arbitrary<Rhythm> = fc.record({
  count: fc.integer({ min: 1, max: 24 }),
  unit: fc.constantFrom(...rhythmUnits),
});
const schedule: fc.Arbitrary<Schedule> = fc.record({
  rhythm,
  anchor: day,
  anchorNumber: fc.constantFrom(0, 1),
  timeZone: fc.constantFrom(...zones),
  minute: fc.integer({ min: 0, max: 1439 }),
});

describe("the days of a schedule", () => {
  it("are those that Temporal counts, from any day and by any rhythm", () => {
    fc.assert(
      fc.property(schedule, fc.integer({ min: 0, max: 120 }), (one, times) => {
        const duration = { [`${one.rhythm.unit}s`]: one.rhythm.count * times };
        const expected = Temporal.PlainDate.from(one.anchor).add(duration);
        expect(firstDayOf(one, one.anchorNumber + times)).toBe(expected.toString());
      }),
    );
  });

  it("come back to the end of a month after a shorter one", () => {
    for (let month = 1; month <= 12; month++) {
      const anchor = Temporal.PlainYearMonth.from({ year: 2027, month }).toPlainDate({ day: 31 });
      for (let times = 0; times < 36; times++) {
        const at = anchor.add({ months: times });
        const got = dayAfter(anchor.toString(), { count: 1, unit: "month" }, times);
        expect(got).toBe(at.toString());
        // From the 31st, every month ends on its last day.
        if (anchor.day === 31) expect(Temporal.PlainDate.from(got).day).toBe(at.daysInMonth);
      }
    }
  });

  it("stay on their day of the month where there is a fixed one, whatever the first month was", () => {
    fc.assert(
      fc.property(
        day,
        fc.integer({ min: 1, max: 31 }),
        fc.integer({ min: 0, max: 60 }),
        (from, fixed, times) => {
          const anchor = nextDayOfMonth(from, fixed);
          const one = {
            rhythm: { count: 1, unit: "month" as const },
            anchor,
            anchorNumber: 0,
            dayOfMonth: fixed,
          };
          const got = Temporal.PlainDate.from(firstDayOf({ ...one, timeZone: "UTC", minute: 0 }, times));
          expect(got.day).toBe(Math.min(fixed, got.daysInMonth));
          const first = Temporal.PlainDate.from(anchor);
          expect((got.year - first.year) * 12 + got.month - first.month).toBe(times);
          expect(anchor >= from && daysBetween(from, anchor) <= 31).toBe(true);
        },
      ),
    );
  });

  it("never stand still and never go back", () => {
    fc.assert(
      fc.property(schedule, fc.integer({ min: 0, max: 200 }), (one, number) => {
        const from = one.anchorNumber + number;
        expect(dueAt(one, from + 1)).toBeGreaterThan(dueAt(one, from));
        expect(firstDayOf(one, from + 1) > firstDayOf(one, from)).toBe(true);
      }),
    );
  });
});

describe("the moment of a day", () => {
  it("is that of Temporal in every zone, in winter and in summer", () => {
    fc.assert(
      fc.property(schedule, ({ anchor, timeZone, minute }) => {
        const time = { hour: Math.floor(minute / 60), minute: minute % 60 };
        const moment = Temporal.PlainDate.from(anchor).toZonedDateTime({
          timeZone,
          plainTime: Temporal.PlainTime.from(time),
        });
        expect(momentOf(anchor, { timeZone, minute })).toBe(moment.epochMilliseconds);
      }),
    );
  });

  it("is an hour later where the summer leaves it out, and the first of two where it comes twice", () => {
    const at = (day: string, minute: number) =>
      new Date(momentOf(day, { timeZone: "Europe/Berlin", minute })).toISOString();
    expect(at("2027-03-28", 150)).toBe("2027-03-28T01:30:00.000Z");
    expect(at("2027-10-31", 150)).toBe("2027-10-31T00:30:00.000Z");
    // The day before and after keep their hour on the wall.
    expect(at("2027-03-27", 150)).toBe("2027-03-27T01:30:00.000Z");
    expect(at("2027-03-29", 150)).toBe("2027-03-29T00:30:00.000Z");
  });

  it("is on its day: every minute of a year with both changes of the clock, in every zone", () => {
    for (const timeZone of zones)
      for (let at = Date.UTC(2027, 0, 1); at < Date.UTC(2028, 0, 1); at += 7 * 3_600_000 + 60_000) {
        const { day: on, minute } = dayAt(at, timeZone);
        const again = momentOf(on, { timeZone, minute });
        // Of an hour that comes twice, the first is taken.
        expect([0, 3_600_000, 1_800_000]).toContain(at - again);
        expect(dayAt(again, timeZone)).toEqual({ day: on, minute });
      }
  });
});
