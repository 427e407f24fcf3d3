import { speaking } from "../../scripts/english";
import { afterAll, beforeAll, expect, it } from "vitest";
import { findingsOf as findingsOfSaid } from "../findings/current";
import { addStorefront } from "../storefronts/storefronts";
import { mustStand } from "../storefronts/now";
import { north, openTestRuntime, type TestRuntime } from "../test-runtime";
import { approvalsOf, todayOf } from "./today";

const findingsOf = speaking(findingsOfSaid);

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

it("tells of payments that need a look, and of nothing else", async () => {
  const now = await mustStand(world.rt, north.id);
  expect(await findingsOf(world.rt, now)).toEqual([]);
  await world.rt.db.client.execute(
    `insert into findings (id, storefront_id, mode, kind, subject, payment_id, order_reference, detail, "values", state, opened_at)
     select 'f', storefront_id, mode, 'surplus', id, id, 'LW-7', '', '{"sum":{"amount":1000,"currency":"EUR"}}', 'open', 5
     from payments where state = 'captured' and created_at = ${TODAY + 1000}`,
  );
  expect(await findingsOf(world.rt, now)).toMatchObject([
    { title: "LW-7 was paid twice", meaning: "wrong", to: expect.stringMatching(/^\/operate\/p/) as string },
  ]);
});

it("tells of a provider that does not answer and of news that nobody takes", async () => {
  const { client } = world.rt.db;
  const now = await mustStand(world.rt, north.id);
  const connections = now.connections.map(({ connection }) => connection.id);
  const found = async () =>
    (await findingsOf(world.rt, now)).filter((one) => one.id !== "f").map((one) => one.title);
  expect(await found()).toEqual([]);
  await client.execute({
    sql: `insert into jobs (id, kind, key, lane, run_at, tries, created_at) values ('j', 'deliver-news', 'n', ?, 1, 6, 1)`,
    args: [`news:${north.id}:live`],
  });
  expect(await found()).toEqual(["The shop does not take 1 piece of news"]);
  await client.execute("delete from jobs where id = 'j'");
  const known = {
    ...now,
    connections: [{ connection: { id: "n", name: "Karvello" } }],
  } as unknown as typeof now;
  const calls = async (from: number, count: number, ok: number) => {
    for (let i = from; i < from + count; i++)
      await client.execute({
        sql: `insert into exchanges (id, at, "from", "to", label, mode, connection_id, ok) values (?, ?, 'zahlung', 'provider', 'x', 'live', 'n', ?)`,
        args: [`x${i}`, world.rt.now(), ok],
      });
  };
  const trouble = async () =>
    (await findingsOf(world.rt, known)).filter((one) => one.id.startsWith("trouble")).map((one) => one.title);
  await calls(0, 2, 0);
  expect(await trouble()).toEqual([]);
  await calls(2, 1, 0);
  expect(await trouble()).toEqual(["Karvello is in trouble"]);
  await calls(3, 4, 1);
  expect(await trouble(), "most calls are answered again").toEqual([]);
  expect(connections).toEqual([]);
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
