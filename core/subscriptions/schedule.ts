import { type CalendarDate, parseDate, Time, toCalendarDateTime, toZoned } from "@internationalized/date";

export const rhythmUnits = ["day", "week", "month"] as const;
export type RhythmUnit = (typeof rhythmUnits)[number];

/** How often something is charged: every `count` days, weeks or months; a year is twelve months. */
export interface Rhythm {
  count: number;
  unit: RhythmUnit;
}

/** A day of the calendar, ISO 8601: 2026-11-27. It is a day of the place where it is used, not a moment. */
export type Day = string;

/**
 * When the periods of a subscription begin. From the period with the number `anchorNumber`, which begins on `anchor`, they
 * follow each other by the rhythm; all of them are counted from the anchor, so that what begins on the 31st comes back to
 * the 31st after a shorter month. What lies before the anchor is one period of its own: a trial, or a part of a period.
 */
export interface Schedule {
  rhythm: Rhythm;
  anchor: Day;
  anchorNumber: number;
  /** The day of the month on which every period from the anchor on begins, where it is no matter of the anchor. */
  dayOfMonth?: number;
  /** IANA name of the zone whose days these are. */
  timeZone: string;
  /** Minutes after midnight at which a period is charged there. */
  minute: number;
}

const units = { day: "days", week: "weeks", month: "months" } as const;

/** The day that lies `times` rhythms after another; a month that is too short has it on its last day. */
export const dayAfter = (day: Day, { count, unit }: Rhythm, times: number): Day =>
  parseDate(day)
    .add({ [units[unit]]: count * times })
    .toString();

/** The day that lies some days after another. */
export const daysAfter = (day: Day, days: number): Day => parseDate(day).add({ days }).toString();

/** How many days lie between two. */
export const daysBetween = (from: Day, to: Day): number => parseDate(to).compare(parseDate(from));

/** The first day of a period, from the anchor on. */
export function firstDayOf(schedule: Schedule, number: number): Day {
  const { rhythm, anchor, anchorNumber, dayOfMonth } = schedule;
  const times = Math.max(0, number - anchorNumber);
  if (dayOfMonth === undefined) return dayAfter(anchor, rhythm, times);
  return onDayOfMonth(parseDate(anchor).add({ months: rhythm.count * times }), dayOfMonth).toString();
}

/** A day of a date's month; a shorter month has it on its last day. */
const onDayOfMonth = (date: CalendarDate, day: number): CalendarDate =>
  date.set({ day: Math.min(day, date.calendar.getDaysInMonth(date)) });

/**
 * The moment at which a day has come to its minute in a zone, milliseconds since the epoch. An hour that the summer leaves
 * out is taken an hour later, one that comes twice the first time.
 */
export const momentOf = (day: Day, { timeZone, minute }: Pick<Schedule, "timeZone" | "minute">): number =>
  toZoned(
    toCalendarDateTime(parseDate(day), new Time(Math.floor(minute / 60), minute % 60)),
    timeZone,
    "compatible",
  )
    .toDate()
    .getTime();

/** When a period is charged, milliseconds since the epoch. */
export const dueAt = (schedule: Schedule, number: number): number =>
  momentOf(firstDayOf(schedule, number), schedule);

/** The first day on or after another whose day of the month is `day`; a shorter month has it on its last day. */
export function nextDayOfMonth(from: Day, day: number): Day {
  const date = parseDate(from);
  const here = onDayOfMonth(date, day);
  return (here.compare(date) >= 0 ? here : onDayOfMonth(date.add({ months: 1 }), day)).toString();
}

/** The day on which the period before another began, where both begin on a day of the month. */
export const periodBefore = (from: Day, { count }: Rhythm, day: number): Day =>
  onDayOfMonth(parseDate(from).subtract({ months: count }), day).toString();

const clocks = new Map<string, Intl.DateTimeFormat>();

/** Which day it is in a zone at a moment, and how many minutes of it are over. */
export function dayAt(at: number, timeZone: string): { day: Day; minute: number } {
  const clock =
    clocks.get(timeZone) ??
    new Intl.DateTimeFormat("en-CA", {
      ...{ timeZone, year: "numeric", month: "2-digit", day: "2-digit" },
      ...{ hour: "2-digit", minute: "2-digit", hourCycle: "h23" },
    });
  clocks.set(timeZone, clock);
  const part = Object.fromEntries(clock.formatToParts(at).map(({ type, value }) => [type, value]));
  return {
    day: `${part.year}-${part.month}-${part.day}`,
    minute: Number(part.hour) * 60 + Number(part.minute),
  };
}
