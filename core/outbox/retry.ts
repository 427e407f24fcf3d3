const SECOND = 1000;
const WAITS = [1, 3, 10, 30, 60, 300, 900, 3600, 3 * 3600, 6 * 3600, 12 * 3600, 24 * 3600, 24 * 3600].map(
  (s) => s * SECOND,
);

/** Milliseconds until news that has failed `tries + 1` times is sent again; null when it is given up (after three days). */
export const newsWait = (tries: number): number | null => WAITS[tries] ?? null;
