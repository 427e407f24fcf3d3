const SECOND = 1_000;
const MINUTE = 60 * SECOND;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

/** How work that fails is tried again. Milliseconds throughout. */
export interface BackOff {
  /** Waits after the first, the second, … failed try; the last one is kept to. */
  waits: readonly number[];
  /** How long after it was first asked for it is given up and left to a person; null: never. */
  giveUpAfter: number | null;
}

/** Work towards a provider: soon again at first, then each half hour until it succeeds. */
export const towardsProvider: BackOff = {
  waits: [5 * SECOND, 15 * SECOND, MINUTE, 5 * MINUTE, 15 * MINUTE, 30 * MINUTE],
  giveUpAfter: null,
};

/** Three days, as the Standard Webhooks specification advises for news, and as we take ourselves for messages. */
export const threeDays: BackOff = {
  waits: [5 * SECOND, MINUTE, 5 * MINUTE, 30 * MINUTE, 2 * HOUR, 5 * HOUR, 10 * HOUR, 14 * HOUR, 20 * HOUR],
  giveUpAfter: 3 * DAY,
};

/** News for a shop: soon again at first, for three days. */
export const towardsShop: BackOff = {
  waits: [1, 3, 10, 30, 60, 300, 900, 3_600, 10_800, 21_600, 43_200, 86_400].map((one) => one * SECOND),
  giveUpAfter: 3 * DAY,
};

/** Housekeeping that comes round by itself. */
export const housekeeping: BackOff = { waits: [MINUTE, 5 * MINUTE, 30 * MINUTE], giveUpAfter: null };

/**
 * When work that failed is tried again: milliseconds to wait, or null when it is given up. `tries` are the failed tries
 * so far, the last one included; `age` is how long ago it was first asked for.
 */
export function waitAfter({ waits, giveUpAfter }: BackOff, tries: number, age: number): number | null {
  const wait = waits[Math.min(Math.max(tries, 1), waits.length) - 1] ?? MINUTE;
  return giveUpAfter !== null && age + wait > giveUpAfter ? null : wait;
}
