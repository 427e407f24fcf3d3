import type { FeeSchedule, MethodFees, MethodKind, Profile, ProfileMethod, Rate } from "../profiles/profile";
import { ordersOf, type Stratum } from "./orders";
import type { Volume } from "./volume";

/*
 * Rounding, everywhere here: each percentage of each payment is rounded by itself to the minor unit, half up, as an
 * invoice does that lists them; sums are then exact. Where strata stand for several orders, a line is rounded once.
 */

/** `percent` (up to four decimals) of an amount in minor units, rounded half up to the minor unit. */
export function share(amount: number, percent: number): number {
  const millionths = Math.round(percent * 10_000);
  const product = amount * millionths;
  if (Number.isSafeInteger(product)) {
    const rest = product % 1_000_000;
    return (product - rest) / 1_000_000 + (rest >= 500_000 ? 1 : 0);
  }
  return Number((BigInt(amount) * BigInt(millionths) + 500_000n) / 1_000_000n);
}

const sum = (amounts: Readonly<Record<string, number>>, currency: string): number => amounts[currency] ?? 0;

/** What one payment costs, in the parts an invoice lists; minor units. */
export interface PaymentFee {
  percent: number;
  fixed: number;
  /** What a least or greatest fee adds or takes off. */
  bounds: number;
  foreign: number;
  conversion: number;
  total: number;
}

/** The circumstances of one payment. `volume` is the month's volume before it, minor units. */
export interface PaymentTerms {
  currency: string;
  foreign: boolean;
  converted: boolean;
  volume: number;
}

/** The rate that holds once the month's volume has come so far. */
function rateAt(fees: MethodFees, currency: string, volume: number): Rate {
  let rate: Rate = fees;
  let from = -1;
  for (const tier of fees.tiers) {
    const start = tier.from[currency];
    if (start !== undefined && volume >= start && start > from) [rate, from] = [tier, start];
  }
  return rate;
}

/**
 * Of `weight` orders of one total, how many are charged at each rate as the month's volume grows with them: the volume
 * before the first of each lot, and how many it is. A rate holds from the first payment made once its threshold is reached.
 */
function lotsOf(
  { tiers }: MethodFees,
  currency: string,
  { total, weight }: Stratum,
  before: number,
): { volume: number; times: number }[] {
  const starts = tiers
    .flatMap((tier) => tier.from[currency] ?? [])
    .filter((start) => start > before)
    .sort((a, b) => a - b);
  const lots: { volume: number; times: number }[] = [];
  let [volume, left] = [before, weight];
  for (const start of starts) {
    const times = Math.min(left, Math.ceil((start - volume) / total));
    if (times <= 0) continue;
    lots.push({ volume, times });
    [volume, left] = [volume + times * total, left - times];
    if (left <= 0) break;
  }
  if (left > 0) lots.push({ volume, times: left });
  return lots;
}

/** What one payment of `amount` minor units costs. The least and greatest fee bound the rate, not the surcharges. */
export function paymentFee(fees: MethodFees, amount: number, terms: PaymentTerms): PaymentFee {
  const { currency } = terms;
  const rate = rateAt(fees, currency, terms.volume);
  const percent = share(amount, rate.percent);
  const fixed = sum(rate.fixed, currency);
  const least = sum(fees.minimum, currency);
  const most = fees.cap[currency] ?? Infinity;
  const bounds = Math.min(Math.max(percent + fixed, least), most) - percent - fixed;
  const foreign = terms.foreign ? share(amount, fees.foreign.percent) + sum(fees.foreign.fixed, currency) : 0;
  const conversion = terms.converted ? share(amount, fees.conversion) : 0;
  return {
    percent,
    fixed,
    bounds,
    foreign,
    conversion,
    total: percent + fixed + bounds + foreign + conversion,
  };
}

/** What a month's costs are made of, in the order of an invoice. */
const costParts = [
  "percent",
  "fixed",
  "bounds",
  "foreign",
  "conversion",
  "refunds",
  "returned",
  "disputes",
  "monthly",
  "platform",
] as const;

/** One line of a month's costs: minor units, and how it comes about. */
export interface CostLine {
  what: (typeof costParts)[number];
  amount: number;
  /** How many payments, refunds or disputes it is made of; null for what comes once a month. */
  times: number | null;
}

export interface MonthCost {
  orders: number;
  volume: number;
  lines: CostLine[];
  total: number;
  /** Total by orders, minor units, not rounded. */
  perOrder: number;
  /** Lines that are not known in this currency, and count for nothing. */
  missing: CostLine["what"][];
}

export interface CostTerms {
  currency: string;
  /** Whether the account settles in another currency. */
  converted: boolean;
  foreign: number;
  refunds: number;
  disputes: number;
  platform: Rate;
}

/**
 * What a month of these orders costs with a method. Shares of orders (foreign, refunded, disputed) are spread evenly
 * over the orders in a fixed order that has nothing to do with their totals.
 */
export function monthCost(
  schedule: FeeSchedule,
  fees: MethodFees,
  strata: readonly Stratum[],
  terms: CostTerms,
): MonthCost {
  const { currency } = terms;
  const parts = { percent: 0, fixed: 0, bounds: 0, foreign: 0, conversion: 0, returned: 0, platform: 0 };
  let orders = 0;
  let volume = 0;
  let foreigners = 0;
  let [refunds, disputes] = [0, 0];
  const isForeign = every(terms.foreign);
  const isRefunded = every(terms.refunds);
  const isDisputed = every(terms.disputes);
  for (const { total, weight } of mixed(strata)) {
    const foreign = isForeign(weight);
    const refunded = isRefunded(weight);
    const charge = (abroad: boolean, times: number, before: number) => {
      if (times === 0) return;
      const fee = paymentFee(fees, total, {
        ...{ currency, foreign: abroad, converted: terms.converted, volume: before },
      });
      for (const name of ["percent", "fixed", "bounds", "foreign", "conversion"] as const)
        parts[name] += fee[name] * times;
    };
    for (const lot of lotsOf(fees, currency, { total, weight }, volume)) {
      const abroad = (foreign * lot.times) / weight;
      charge(true, abroad, lot.volume);
      charge(false, lot.times - abroad, lot.volume);
      if (!fees.refundReturnsFee || refunded === 0) continue;
      const fee = paymentFee(fees, total, { currency, foreign: false, converted: false, volume: lot.volume });
      parts.returned -= (fee.percent + fee.fixed + fee.bounds) * ((refunded * lot.times) / weight);
    }
    refunds += refunded;
    disputes += isDisputed(weight);
    parts.platform += (share(total, terms.platform.percent) + sum(terms.platform.fixed, currency)) * weight;
    foreigners += foreign;
    orders += weight;
    volume += total * weight;
  }
  const line = (what: CostLine["what"], amount: number, times: number | null): CostLine[] => {
    const rounded = Math.round(amount);
    return rounded === 0 ? [] : [{ what, amount: rounded, times: times === null ? null : round2(times) }];
  };
  const lines = [
    ...line("percent", parts.percent, orders),
    ...line("fixed", parts.fixed, orders),
    ...line("bounds", parts.bounds, orders),
    ...line("foreign", parts.foreign, foreigners),
    ...line("conversion", parts.conversion, orders),
    ...line("refunds", refunds * sum(fees.refund, currency), refunds),
    ...line("returned", parts.returned, refunds),
    ...line("disputes", disputes * sum(fees.dispute, currency), disputes),
    ...line("monthly", sum(schedule.monthly, currency), null),
    ...line("platform", parts.platform, orders),
  ];
  const total = lines.reduce((all, one) => all + one.amount, 0);
  return {
    orders: round2(orders),
    volume: Math.round(volume),
    lines,
    total,
    perOrder: orders === 0 ? 0 : total / orders,
    missing: missingIn(schedule, fees, currency),
  };
}

/** The fees that say nothing of a currency while they name others: their part of the cost is not known. */
function missingIn(schedule: FeeSchedule, fees: MethodFees, currency: string): CostLine["what"][] {
  const lacks = (amounts: Readonly<Record<string, number>>) =>
    Object.keys(amounts).length > 0 && !Object.hasOwn(amounts, currency);
  return [
    ...(lacks(fees.fixed) ? (["fixed"] as const) : []),
    ...(lacks(fees.refund) ? (["refunds"] as const) : []),
    ...(lacks(fees.dispute) ? (["disputes"] as const) : []),
    ...(lacks(schedule.monthly) ? (["monthly"] as const) : []),
  ];
}

const round2 = (value: number) => Math.round(value * 100) / 100;

/** Of so many orders, how many are meant by a share of `percent`: whole ones, spread evenly; parts of a stratum by weight. */
function every(percent: number): (weight: number) => number {
  let due = 0;
  return (weight) => {
    due += (weight * percent) / 100;
    // A stratum of one order is meant or not; one of many is meant in part.
    if (weight !== 1) {
      const part = Math.min(due, weight);
      due -= part;
      return part;
    }
    if (due < 1 - 1e-9) return 0;
    due -= 1;
    return 1;
  };
}

/** The strata in an order that has nothing to do with their totals, always the same (a golden-ratio stride). */
export function mixed(strata: readonly Stratum[]): Stratum[] {
  const n = strata.length;
  let stride = Math.max(1, Math.round(n * 0.6180339887498949));
  while (gcd(stride, n) !== 1) stride += 1;
  return Array.from({ length: n }, (_, i) => strata[(i * stride) % n] as Stratum);
}
const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));

/** A method of a provider with its fees, as costs need them. */
export interface Priced {
  profile: Pick<Profile, "id" | "name">;
  method: Pick<ProfileMethod, "id" | "name" | "kind">;
  schedule: FeeSchedule;
  fees: MethodFees;
  converted: boolean;
  /** What moves the money of a wallet that rides along: its fees for the same payments come on top. */
  carrier?: { name: string; fees: MethodFees; converted: boolean };
}

/** A share of the orders: whole ones, spread evenly, where each stratum is one order; by weight where they stand for more. */
function partOf(strata: readonly Stratum[], percent: number): Stratum[] {
  if (percent === 100) return [...strata];
  const taken = every(percent);
  return mixed(strata).flatMap(({ total, weight }) => {
    const mine = taken(weight);
    return mine > 0 ? [{ total, weight: mine }] : [];
  });
}

const nothingMonthly: FeeSchedule = { monthly: {}, oneOff: {}, methods: [] };

/** Two costs of the same orders as one: each kind of line once, with what both take. */
function together(own: MonthCost, carried: MonthCost): MonthCost {
  const lines = costParts.flatMap((what) => {
    const [line, other] = [...own.lines, ...carried.lines].filter((one) => one.what === what);
    return line ? [{ ...line, amount: line.amount + (other?.amount ?? 0) }] : [];
  });
  const total = own.total + carried.total;
  const missing = costParts.filter((what) => own.missing.includes(what) || carried.missing.includes(what));
  return { ...own, lines, total, perOrder: own.orders === 0 ? 0 : total / own.orders, missing };
}

/**
 * What a provider's method costs for its share of a month's orders. The carrier of a wallet that rides along is
 * reckoned for these orders alone: its month's fee and its tiers belong to its own.
 */
export function costOf(
  priced: Priced,
  volume: Volume,
  strata: readonly Stratum[] = ordersOf(volume),
): MonthCost {
  const mine = partOf(strata, volume.shares[priced.method.kind] ?? 0);
  const terms: CostTerms = {
    currency: volume.currency,
    converted: priced.converted,
    foreign: priced.method.kind === "card" || priced.method.kind === "device-wallet" ? volume.foreign : 0,
    refunds: volume.refunds,
    disputes: volume.disputes,
    platform: volume.platform,
  };
  const own = monthCost(priced.schedule, priced.fees, mine, terms);
  if (!priced.carrier) return own;
  const { fees, converted } = priced.carrier;
  const carried = { ...terms, converted, platform: { percent: 0, fixed: {} } };
  return together(own, monthCost(nothingMonthly, fees, mine, carried));
}

/** The volume on which methods of a kind are compared: what nobody pays by yet is calculated as if all did. */
export const comparing = (volume: Volume, kind: MethodKind): Volume => ({
  ...volume,
  shares: { ...volume.shares, [kind]: volume.shares[kind] || 100 },
});

/** One kind of method, by whom it is served, and by what it rides on. */
export interface Served {
  kind: MethodKind;
  name: string;
  ridesOn: string | null;
  cost: MonthCost;
}

/** The same cost where the month's fee of its account is paid already. */
const withoutMonthly = (cost: MonthCost): MonthCost => {
  const monthly = cost.lines.find((line) => line.what === "monthly")?.amount ?? 0;
  const total = cost.total - monthly;
  return {
    ...cost,
    lines: cost.lines.filter((line) => line.what !== "monthly"),
    total,
    perOrder: cost.orders === 0 ? 0 : total / cost.orders,
  };
};

/** What a chosen set costs: for each kind of method the cheapest of the set, an account's month fee once; kinds that nobody in it takes are named. */
export function setCost(
  set: readonly Priced[],
  volume: Volume,
): {
  total: number;
  perOrder: number;
  by: Served[];
  uncovered: MethodKind[];
} {
  const strata = ordersOf(volume);
  const by: Served[] = [];
  const uncovered: MethodKind[] = [];
  const paidMonthly = new Set<string>();
  for (const [kind, part] of Object.entries(volume.shares) as [MethodKind, number][]) {
    if (!part) continue;
    const offers = set
      .filter((one) => one.method.kind === kind)
      .map((one) => {
        const cost = costOf(one, volume, strata);
        return {
          id: one.profile.id,
          kind,
          name: one.profile.name,
          ridesOn: one.carrier?.name ?? null,
          cost: paidMonthly.has(one.profile.id) ? withoutMonthly(cost) : cost,
        };
      })
      .sort((a, b) => a.cost.total - b.cost.total);
    const [cheapest] = offers;
    if (!cheapest) uncovered.push(kind);
    else {
      const { id, ...served } = cheapest;
      paidMonthly.add(id);
      by.push(served);
    }
  }
  const total = by.reduce((all, one) => all + one.cost.total, 0);
  const orders = by.reduce((all, one) => all + one.cost.orders, 0);
  return { total, perOrder: orders === 0 ? 0 : total / orders, by, uncovered };
}
