import { must } from "./at-providers";

/** The same draws for a seed at every run. */
export function chanceOf(seed: number) {
  let at = seed;
  const next = () => (at = (at * 1103515245 + 12345) % 2147483648) / 2147483648;
  return { next, pick: <T>(list: readonly T[]): T => must(list[Math.floor(next() * list.length)]) };
}
