const TEN_MINUTES = 600_000;
/** Histories shorter than this say nothing about a 99th percentile. */
const ENOUGH = 20;

/**
 * How long a connection's webhooks usually take, milliseconds: the 99th percentile (nearest rank) of its own
 * history, ten minutes where there is none to speak of.
 */
export function usualDelay(delays: readonly number[]): number {
  if (delays.length < ENOUGH) return TEN_MINUTES;
  const sorted = [...delays].sort((a, b) => a - b);
  return sorted[Math.ceil(sorted.length * 0.99) - 1] ?? TEN_MINUTES;
}

/** Whether a payment that nothing was heard about is well past the usual delay: twice as long, a minute at least. */
export const isSilent = (waited: number, usual: number): boolean => waited > Math.max(2 * usual, 60_000);
