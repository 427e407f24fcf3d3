/** The value below which `share` of the sorted numbers lie. */
export function percentile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.ceil(sorted.length * share) - 1)] ?? Number.NaN;
}

export const median = (values: readonly number[]) => percentile(values, 0.5);
export const round = (value: number, places = 2) => Number(value.toFixed(places));

/** Times a piece of work `times` times, milliseconds each, after a warm-up. */
export function timed(times: number, work: () => unknown): number[] {
  for (let i = 0; i < times / 5; i++) work();
  return Array.from({ length: times }, () => {
    const start = performance.now();
    work();
    return performance.now() - start;
  });
}
