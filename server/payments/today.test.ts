import { afterAll, beforeAll, expect, it } from "vitest";
import { addStorefront } from "../storefronts/storefronts";
import { north, openTestRuntime, type TestRuntime } from "../test-runtime";
import { approvalsOf, todayOf } from "./today";

const DAY = 86_400_000;
let world: TestRuntime;
const TODAY = 1_790_000_000_000;

/** Puts payments in as they stand in the books, without what they belong to. */
async function paid(rows: { at: number; state: string; captured?: number; authorised?: number }[]) {
  const { client } = world.rt.db;
  await client.execute("pragma foreign_keys = off");
  for (const [i, { at, state, captured = 0, authorised = captured }] of rows.entries())
    await client.execute({
      sql: `insert into payments (id, checkout_id, storefront_id, connection_id, key_set_id, profile_version_id, offer_id,
              revision_id, method_id, mode, origin, reference, order_reference, amount, currency, capture, state, held, authorised,
              captured, refunded, version, parts, created_at, updated_at)
            values (?, 'c', ?, 'n', 'k', 'v', 'o', 'r', 'm', 'live', 'shop', ?, 'O', 1000, 'EUR', 'at-once', ?, ?, ?, ?, 0, 1,
              '{}', ?, ?)`,
      args: [
        `p${at}-${i}`,
        north.id,
        `r${at}-${i}`,
        state,
        state === "authorised" ? authorised : 0,
        authorised,
        captured,
        at,
        at,
      ],
    });
}

beforeAll(async () => {
  world = await openTestRuntime();
  await addStorefront(world.rt, "ida", north);
});
afterAll(() => world.close());

it("says how today's live payments go, and what was usual before", async () => {
  const empty = await todayOf(world.rt, north.id, TODAY);
  expect(empty).toMatchObject({ approved: 0, declined: 0, pending: 0, captured: {}, usual: null });
  const before = Array.from({ length: 10 }, (_, day) =>
    Array.from({ length: 5 }, (_, i) => ({
      at: TODAY - (day + 1) * DAY + i * 1000,
      state: i < 4 || day % 2 ? "captured" : "declined",
      captured: i < 4 || day % 2 ? 1000 : 0,
    })),
  ).flat();
  await paid(before);
  await paid([
    { at: TODAY + 1000, state: "captured", captured: 1000 },
    { at: TODAY + 2000, state: "authorised", authorised: 700 },
    { at: TODAY + 3000, state: "declined" },
    { at: TODAY + 4000, state: "pending" },
  ]);
  const later = { ...world.rt, now: () => world.rt.now() + 3_600_000 } as typeof world.rt;
  Object.setPrototypeOf(later, Object.getPrototypeOf(world.rt) as object);
  const today = await todayOf(later, north.id, TODAY);
  expect(today).toMatchObject({
    approved: 2,
    declined: 1,
    pending: 1,
    captured: { EUR: 1000 },
    held: { payments: 1, amounts: { EUR: 700 } },
  });
  expect(today.usual?.low).toBeCloseTo(0.8);
  expect(today.usual?.high).toBeCloseTo(1);
});

it("tells at which account fewer are approved than on most of its days, once there are enough to tell", async () => {
  const { rt } = world;
  const now = rt.now();
  const day = (ago: number, captured: number, declined: number) =>
    Array.from({ length: captured + declined }, (_, i) => ({
      at: now - ago * DAY - 1_000 - i,
      state: i < captured ? "captured" : "declined",
      captured: i < captured ? 1000 : 0,
    }));
  const lately = async () => (await approvalsOf(rt, north.id)).get("n");
  await rt.db.client.execute("delete from findings");
  await rt.db.client.execute("delete from payments");
  expect(await lately()).toBeUndefined();
  await paid(day(0, 4, 5));
  expect(await lately(), "nine are too few to tell").toBeUndefined();
  await paid(day(0.1, 0, 1));
  expect(await lately(), "nothing is usual yet").toEqual({ approved: 4, decided: 10, low: null });
  await paid([2, 3, 4, 5].flatMap((ago) => day(ago, 4, 1)));
  expect(await lately()).toEqual({ approved: 4, decided: 10, low: 0.8 });
});
