import { and, asc, eq } from "drizzle-orm";
import {
  type Basket,
  MOST_BASKETS,
  type Proposal,
  proposeBaskets,
  readBasket,
  tableOf,
  type Cell,
} from "#core/offers/baskets";
import { type Problem, problem } from "#core/said";
import { isConflict } from "../database/guard";
import { baskets } from "../database/schema";
import type { Runtime } from "../runtime";
import type { StorefrontNow } from "../storefronts/now";
import { candidatesIn } from "./candidates";
import { nameOf } from "./names";

export interface KeptBasket {
  id: string;
  basket: Basket;
}

/** The baskets that a storefront keeps, in the order in which they were kept. */
export async function basketsOf(rt: Runtime, storefrontId: string): Promise<KeptBasket[]> {
  const rows = await rt.db.orm
    .select()
    .from(baskets)
    .where(eq(baskets.storefrontId, storefrontId))
    .orderBy(asc(baskets.createdAt), asc(baskets.id));
  return rows.map(({ id, name, basket }) => ({ id, basket: { name, ...basket } }));
}

export type BasketKept = { ok: true } | { ok: false; problems: Problem[] };

/** Keeps a basket under a name of its own. */
export async function keepBasket(
  rt: Runtime,
  { id: storefrontId, currencies, groups }: StorefrontNow["storefront"],
  input: unknown,
): Promise<BasketKept> {
  const read = readBasket(input, { currencies, groups: groups.map((one) => one.id) });
  if (!read.ok) return read;
  const known = await rt.db.orm.$count(baskets, eq(baskets.storefrontId, storefrontId));
  if (known >= MOST_BASKETS)
    return { ok: false, problems: [problem("name", "baskets.too-many", { most: MOST_BASKETS })] };
  const { name, ...basket } = read.value;
  try {
    await rt.db.write([
      rt.db.orm
        .insert(baskets)
        .values({ id: rt.ids.next("bsk"), storefrontId, name, basket, createdAt: rt.now() }),
    ]);
  } catch (error) {
    if (!isConflict(error)) throw error;
    return { ok: false, problems: [problem("name", "baskets.name-taken")] };
  }
  return { ok: true };
}

export const dropBasket = (rt: Runtime, storefrontId: string, id: string): Promise<void> =>
  rt.db.write([
    rt.db.orm.delete(baskets).where(and(eq(baskets.id, id), eq(baskets.storefrontId, storefrontId))),
  ]);

/** Baskets at each side of what the offers, as they are being worked on, draw a line at. */
export function proposals(now: StorefrontNow): Proposal[] {
  const { storefront, inOrder, zones } = now;
  const names = new Map(inOrder.map((one) => [one.offer.id, nameOf(one)]));
  const usual = {
    ...{ total: 5_000, goods: 4_500, currency: storefront.currencies[0] ?? "EUR" },
    country: storefront.country,
    ...{ postcode: "", group: storefront.groups[0]?.id ?? "", kinds: [], delivery: "", weight: null },
    ...{ returning: false, device: "computer" as const, tries: 0 },
  };
  return proposeBaskets(candidatesIn(now, "test"), usual, zones, (id) => names.get(id) ?? "");
}

/** What becomes of each basket with each offer, as it is being worked on and as live runs. */
export interface BasketRow extends KeptBasket {
  working: ReadonlyMap<string, Cell>;
  live: ReadonlyMap<string, Cell>;
}

export function basketTable(now: StorefrontNow, kept: readonly KeptBasket[], at: number): BasketRow[] {
  const all = kept.map(({ basket }) => basket);
  const working = tableOf(candidatesIn(now, "test"), all, at);
  const live = tableOf(candidatesIn(now, "live"), all, at);
  return kept.map((one, i) => ({
    ...one,
    working: working[i] ?? new Map(),
    live: live[i] ?? new Map(),
  }));
}
