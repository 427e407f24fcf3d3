import { and, asc, desc, eq, sql } from "drizzle-orm";
import { afterAll, beforeAll, expect, it } from "vitest";
import { listOrdersHere, type OrderFilter } from "../orders/list";
import { addStorefront } from "../storefronts/storefronts";
import { north, openTestRuntime, type TestRuntime } from "../test-runtime";
import { orders } from "./schema";
import { knownFirst, walk } from "./walk";

// Rows that are rare among many are found stretch by stretch: all of them, once, in order.

const TOTAL = 5_000;
const NOW = 1_700_000_000_000;

let world: TestRuntime;
beforeAll(async () => {
  world = await openTestRuntime();
  await addStorefront(world.rt, "ida", north);
  // Every four orders are opened at the same moment; every 997th was cancelled, every 1,500th is of an amount of its own.
  await world.rt.db.client.execute({
    sql: `insert into orders (id, storefront_id, mode, origin, reference, currency, due, state, version, created_at, updated_at)
      with recursive seq(n) as (select 1 union all select n + 1 from seq where n < ?)
      select 'ord_' || printf('%05d', n), ?, 'live', 'shop', 'LW-' || n, 'EUR',
        case when n % 1500 = 0 then 777 else 4390 end, case when n % 997 = 0 then 'cancelled' else 'paid' end,
        1, ? + (n / 4) * 60000, 0 from seq`,
    args: [TOTAL, north.id, NOW],
  });
});
afterAll(() => world.close());

const here = () => and(eq(orders.storefrontId, north.id), eq(orders.mode, "live"));
const path = () => ({ table: orders, by: [orders.createdAt, orders.id], within: here() });
const numbers = (rows: readonly { id: string }[]) => rows.map(({ id }) => Number(id.slice(4)));
const every = (step: number) => Array.from({ length: Math.floor(TOTAL / step) }, (_, i) => (i + 1) * step);

async function walked(
  change: object,
  most: number,
  rare = sql`${orders.state} = 'cancelled'`,
  upwards = false,
) {
  const rows = await walk(world.rt, { ...path(), upwards, ...change }, most, (stretch, left) =>
    world.rt.db.orm
      .select({ id: orders.id })
      .from(orders)
      .where(and(rare, stretch))
      .orderBy(...[orders.createdAt, orders.id].map(upwards ? asc : desc))
      .limit(left),
  );
  return numbers(rows);
}

it.each([1, 3, 250, 997, 5_000, 20_000])("finds all of them with a first step of %i rows", async (first) => {
  expect(await walked({ first }, 100)).toEqual(every(997).reverse());
  expect(await walked({ first }, 100, undefined, true)).toEqual(every(997));
});

it("ends with as many as are wanted, and goes on after one of them", async () => {
  expect(await walked({ first: 7 }, 2)).toEqual([4985, 3988]);
  const after = "ord_03988";
  expect(await walked({ first: 7, after }, 2)).toEqual([2991, 1994]);
  expect(await walked({ first: 7, after }, 9, undefined, true)).toEqual([4985]);
  const place = [NOW + Math.floor(3988 / 4) * 60_000, "ord_03988"];
  expect(await walked({ first: 7, after: place }, 2)).toEqual([2991, 1994]);
});

it("begins anew after a row that there is none of", async () => {
  expect(await walked({ after: "ord_gone" }, 2)).toEqual([4985, 3988]);
  expect(numbers((await list({ after: "gone" })).rows)[0]).toBe(TOTAL);
});

it("keeps within its bounds, and takes what stands at them", async () => {
  const [least, greatest] = [NOW + Math.floor(1994 / 4) * 60_000, NOW + Math.floor(3988 / 4) * 60_000];
  expect(await walked({ first: 7, least, greatest }, 9)).toEqual([3988, 2991, 1994]);
  expect(await walked({ first: 7, least, greatest }, 9, undefined, true)).toEqual([1994, 2991, 3988]);
  expect(await walked({ first: 7, least: greatest + 60_000, greatest: null }, 9)).toEqual([4985]);
  expect(await walked({ first: 7, least: NOW + 1e9, greatest: NOW + 2e9 }, 9)).toEqual([]);
});

it("takes rows together that its order does not tell apart", async () => {
  const seen: number[] = [];
  await walk(
    world.rt,
    { ...path(), by: [orders.createdAt], first: 6 },
    TOTAL,
    async (stretch) => {
      const rows = await world.rt.db.orm.select({ id: orders.id }).from(orders).where(stretch);
      seen.push(...numbers(rows));
      return rows;
    },
    () => 0,
  );
  expect(seen.sort((a, b) => a - b)).toEqual(every(1));
});

it("counts what one row stands for", async () => {
  const sums = await walk(
    world.rt,
    { ...path(), first: 10 },
    100,
    (stretch, left) => {
      const some = world.rt.db.orm
        .select({ due: orders.due })
        .from(orders)
        .where(stretch)
        .limit(left)
        .as("some");
      return world.rt.db.orm.select({ rows: sql<number>`count(*)`.mapWith(Number) }).from(some);
    },
    (parts) => parts.reduce((all, one) => all + one.rows, 0),
  );
  expect(sums.map(({ rows }) => rows)).toEqual([10, 20, 40, 30]);
});

it("asks once where the first step has enough, and lets others have their turn where not", async () => {
  let [turns, asked] = [0, 0];
  const { client } = world.rt.db;
  const execute = client.execute.bind(client);
  client.execute = ((one: never) => (asked++, execute(one))) as typeof client.execute;
  let over = false;
  const others = () => {
    turns += 1;
    if (!over) setImmediate(others);
  };
  setImmediate(others);
  await walked({}, 25, sql`${orders.state} = 'paid'`);
  expect(asked).toBe(1);
  turns = 0;
  await walked({ first: 10 }, 25, sql`${orders.state} = 'none'`);
  expect(turns).toBeGreaterThan(5);
  over = true;
  client.execute = execute;
});

const list = (change: Partial<OrderFilter>) =>
  listOrdersHere(world.rt, north.id, {
    ...{ mode: "live", state: null, query: "", connection: null, offer: null, amount: null },
    ...{ from: null, to: null, after: null, ...change },
  });

it("leads through all pages of orders, narrowed and not, each order once", async () => {
  const all = async (change: Partial<OrderFilter>) => {
    const found: number[] = [];
    let after: string | null = null;
    do {
      const page = await list({ ...change, after });
      found.push(...numbers(page.rows));
      after = page.next;
    } while (after !== null);
    return found;
  };
  expect(await all({ from: NOW + 1_200 * 60_000 })).toEqual(
    every(1)
      .filter((n) => n >= 4800)
      .reverse(),
  );
  expect(await all({ amount: 777 })).toEqual([4500, 3000, 1500]);
  expect(await all({ amount: 777, to: NOW + 1_124 * 60_000 })).toEqual([3000, 1500]);
  expect(await all({ query: "LW-4390" })).toEqual([4390]);
  // By their numbers, the last first.
  const begins = every(1).filter((n) => String(n).startsWith("12"));
  const backwards = begins.sort((a, b) => (String(a) < String(b) ? 1 : -1));
  expect(await all({ query: "LW-12" })).toEqual(backwards);
  expect(await all({ query: "LW-3", state: "cancelled" })).toEqual([3988]);
  expect(await all({ query: "LW-X" })).toEqual([]);
  // In small letters, or by the digits that stand on the invoice.
  expect(await all({ query: "lw-4390" })).toEqual([4390]);
  expect(await all({ query: "438", amount: 4390 })).toEqual([
    4389, 4388, 4387, 4386, 4385, 4384, 4383, 4382, 4381, 4380, 438,
  ]);
});

it.each([1, 2, 3, 4, 9])(
  "pages of %i lead through what is known and then what is walked, each once",
  async (most) => {
    const [known, others] = [
      ["k1", "k2", "k3"],
      ["a", "k2", "b", "c", "d", "e"],
    ];
    const rows = (ids: readonly string[]) => ids.map((id) => ({ id }));
    const read = (after: string | null, wanted: number, without: readonly string[]) => {
      const rest = after === null ? others : others.slice(others.indexOf(after) + 1);
      return Promise.resolve(rows(rest.filter((id) => !without.includes(id)).slice(0, wanted)));
    };
    const seen: string[] = [];
    let after: string | null = null;
    do {
      const page: { rows: { id: string }[]; next: string | null } = await knownFirst(
        rows(known),
        after,
        most,
        read,
      );
      expect(page.rows.length).toBeLessThanOrEqual(most);
      expect(page.rows.length).toBeGreaterThan(0);
      seen.push(...page.rows.map(({ id }) => id));
      after = page.next;
    } while (after !== null);
    expect(seen).toEqual(["k1", "k2", "k3", "a", "b", "c", "d", "e"]);
  },
);
