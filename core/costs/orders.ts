import type { Volume } from "./volume";

/** How many orders are worked through at most; larger months are worked through in strata of equal weight. */
export const MOST_WORKED = 2_000;

/** Orders of one total that are treated alike: `weight` orders of `total` minor units. */
export interface Stratum {
  total: number;
  weight: number;
}

const TENTH = 1.2815515655446004;

/**
 * The orders of a month, as strata. A spread is the log-normal whose tenth and ninetieth percentiles are given: of n
 * orders the i-th has the quantile (i + ½) / n, so the same volume always gives the same orders.
 */
export function ordersOf({ orders, totals }: Volume): Stratum[] {
  const worked = Math.min(Math.max(0, Math.floor(orders)), MOST_WORKED);
  if (worked === 0) return [];
  if (totals.kind === "orders") return scaled(totals.counted, orders);
  const low = Math.log(totals.low);
  const high = Math.log(totals.high);
  const middle = (low + high) / 2;
  const spread = (high - low) / (2 * TENTH);
  const weight = orders / worked;
  return Array.from({ length: worked }, (_, i) => ({
    total: Math.max(1, Math.round(Math.exp(middle + spread * normalQuantile((i + 0.5) / worked)))),
    weight,
  }));
}

function scaled(counted: readonly (readonly [number, number])[], orders: number): Stratum[] {
  const times = counted.reduce((sum, [, count]) => sum + count, 0);
  return times === 0 ? [] : counted.map(([total, count]) => ({ total, weight: (count * orders) / times }));
}

/** The mean total, minor units, not rounded. */
export function meanTotal(strata: readonly Stratum[]): number {
  const weight = strata.reduce((sum, one) => sum + one.weight, 0);
  return weight === 0 ? 0 : strata.reduce((sum, one) => sum + one.total * one.weight, 0) / weight;
}

/** Inverse of the standard normal distribution (Wichura, AS 241, PPND7), for 0 < p < 1. */
export function normalQuantile(p: number): number {
  const q = p - 0.5;
  if (Math.abs(q) <= 0.425) {
    const r = 0.180625 - q * q;
    return (
      (q * (((59.10937472 * r + 159.29113202) * r + 50.434271938) * r + 3.3871327179)) /
      (((67.18756361 * r + 78.757757664) * r + 17.895169469) * r + 1)
    );
  }
  let r = Math.sqrt(-Math.log(q < 0 ? p : 1 - p));
  let value: number;
  if (r <= 5) {
    r -= 1.6;
    value =
      (((0.17023821103 * r + 1.3067284816) * r + 2.75681539) * r + 1.4234372777) /
      ((0.12021132975 * r + 0.7370016425) * r + 1);
  } else {
    r -= 5;
    value =
      (((0.017337203997 * r + 0.42868294337) * r + 3.081226386) * r + 6.65790511553) /
      ((0.012258202635 * r + 0.24197894225) * r + 1);
  }
  return q < 0 ? -value : value;
}

/** Reads order totals from a CSV (already parsed into rows): the amounts of one column, counted. */
export function countTotals(totals: readonly number[]): [total: number, times: number][] {
  const counted = new Map<number, number>();
  for (const total of totals) if (total > 0) counted.set(total, (counted.get(total) ?? 0) + 1);
  return [...counted].sort(([a], [b]) => a - b);
}
