import { type Day, daysAfter, type Rhythm, dayAfter } from "./schedule";

/** Subscriptions that are charged on one day for the first time from now on, by the same rhythm; amounts in minor units. */
export interface Due {
  day: Day;
  rhythm: Rhythm;
  /** How many periods are still to come at most; null: no end is known. */
  left: number | null;
  count: number;
  amount: number;
}

/** What is to be charged on a day. */
export interface DayOfCharges {
  day: Day;
  count: number;
  amount: number;
}

/** The charges of the days from one on, each day once: every subscription as often as its rhythm comes round. */
export function forecast(due: readonly Due[], from: Day, days: number): DayOfCharges[] {
  const end = daysAfter(from, days);
  const found = new Map<Day, DayOfCharges>(
    Array.from({ length: days }, (_, i) => {
      const day = daysAfter(from, i);
      return [day, { day, count: 0, amount: 0 }];
    }),
  );
  for (const { day: first, rhythm, left, count, amount } of due) {
    // What should have been charged already is charged now.
    const start = first < from ? from : first;
    for (let times = 0; left === null || times < left; times++) {
      const day = dayAfter(start, rhythm, times);
      if (day >= end) break;
      const sum = found.get(day);
      if (sum) {
        sum.count += count;
        sum.amount += amount;
      }
    }
  }
  return [...found.values()];
}
