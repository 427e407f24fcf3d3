import { comparing, costOf, type Priced } from "./fees";
import { meanTotal, ordersOf, type Stratum } from "./orders";
import type { Volume } from "./volume";

/** A volume whose orders are all `factor` times as dear. */
export const dearer = (strata: readonly Stratum[], factor: number): Stratum[] =>
  strata.map(({ total, weight }) => ({ total: Math.max(1, Math.round(total * factor)), weight }));

/** How a method's cost per order follows the average order: points of (average, cost per order), minor units. */
export interface Curve {
  id: string;
  name: string;
  points: { average: number; perOrder: number }[];
}

const STEPS = 25;
const LEAST_FACTOR = 0.2;
const GREATEST_FACTOR = 5;

/** Cost per order from a fifth to five times the average order, on a logarithmic scale. */
export function sensitivity(priced: readonly Priced[], volume: Volume): Curve[] {
  const strata = thinned(ordersOf(volume));
  const mean = meanTotal(strata);
  const factors = Array.from(
    { length: STEPS },
    (_, i) => LEAST_FACTOR * (GREATEST_FACTOR / LEAST_FACTOR) ** (i / (STEPS - 1)),
  );
  const scaled = factors.map((factor) => ({
    average: Math.round(mean * factor),
    strata: dearer(strata, factor),
  }));
  return priced.map((one) => ({
    id: `${one.profile.id} ${one.method.id}`,
    name: `${one.profile.name}: ${one.method.name}`,
    points: scaled.map(({ average, strata: orders }) => ({
      average,
      perOrder: Math.round(costOf(one, comparing(volume, one.method.kind), orders).perOrder),
    })),
  }));
}

/** Where one provider becomes cheaper than another: the average order or the orders a month at which it happens. */
export interface Crossing {
  by: "average" | "orders";
  at: number;
  below: string;
  above: string;
}

/** Where two methods of the same kind cross over, in the average order and in the orders of a month. */
export function crossings(a: Priced, b: Priced, volume: Volume): Crossing[] {
  const strata = thinned(ordersOf(volume));
  const mean = meanTotal(strata);
  const byFactor = (factor: number) => {
    const orders = dearer(strata, factor);
    return costOf(a, volume, orders).total - costOf(b, volume, orders).total;
  };
  const byOrders = (count: number) => {
    const orders = strata.map(({ total, weight }) => ({ total, weight: (weight * count) / volume.orders }));
    return costOf(a, volume, orders).total - costOf(b, volume, orders).total;
  };
  const found: Crossing[] = [];
  const add = (
    by: Crossing["by"],
    difference: (x: number) => number,
    from: number,
    to: number,
    value: (x: number) => number,
  ) => {
    for (const x of roots(difference, from, to)) {
      const aFirst = difference(x * 0.98) < 0;
      found.push({
        by,
        at: value(x),
        below: aFirst ? a.profile.name : b.profile.name,
        above: aFirst ? b.profile.name : a.profile.name,
      });
    }
  };
  if (volume.orders > 0 && mean > 0) {
    add("average", byFactor, 0.05, 20, (x) => Math.round(x * mean));
    add("orders", byOrders, 1, 200_000, (x) => Math.round(x));
  }
  return found;
}

/** Places where a function changes its sign between two bounds, looked for on a logarithmic scale. */
function roots(difference: (x: number) => number, from: number, to: number): number[] {
  const found: number[] = [];
  const steps = 48;
  let [x, d] = [from, difference(from)];
  for (let i = 1; i <= steps; i++) {
    const next = from * (to / from) ** (i / steps);
    const there = difference(next);
    if (d !== 0 && there !== 0 && Math.sign(d) !== Math.sign(there)) {
      let [low, high, at] = [x, next, d];
      for (let j = 0; j < 24; j++) {
        const middle = (low + high) / 2;
        const here = difference(middle);
        if (Math.sign(here) === Math.sign(at)) [low, at] = [middle, here];
        else high = middle;
      }
      found.push(high);
    }
    [x, d] = [next, there];
  }
  return found;
}

/** At most two hundred strata of the same weight in all, which is enough for a curve. */
function thinned(strata: readonly Stratum[]): Stratum[] {
  const most = 200;
  if (strata.length <= most) return [...strata];
  const size = strata.length / most;
  return Array.from({ length: most }, (_, i) => {
    const part = strata.slice(Math.floor(i * size), Math.floor((i + 1) * size));
    const weight = part.reduce((all, one) => all + one.weight, 0);
    return { total: Math.round(meanTotal(part)), weight };
  });
}
