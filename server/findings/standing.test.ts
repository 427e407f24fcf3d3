import { said } from "#core/said";
import { afterAll, beforeAll, expect, it } from "vitest";
import { speaking } from "../../scripts/english";
import { addStorefront } from "../storefronts/storefronts";
import { north, openTestRuntime, type TestRuntime } from "../test-runtime";
import { ofWork } from "./background";
import { listFindings as listSaid, settleFinding } from "./findings";
import { followStorefront } from "./standing";

const list = speaking(listSaid);
const DAY = 86_400_000;
let world: TestRuntime;

beforeAll(async () => {
  world = await openTestRuntime();
  await addStorefront(world.rt, "ida", north);
});
afterAll(() => world.close());

const open = async (at = world.rt) => {
  await followStorefront(at, north.id);
  return (await list(at, north.id, { mode: "live", open: true, after: null })).rows;
};
const titles = async (at = world.rt) => (await open(at)).map(({ title }) => title);
const news = (id: string) =>
  world.rt.db.client.execute({
    sql: `insert into jobs (id, kind, key, lane, run_at, tries, created_at) values (?, 'deliver-news', ?, ?, 1, 6, 1)`,
    args: [id, id, `news:${north.id}:live`],
  });
const later = (by: number) => {
  const rt = { ...world.rt, now: () => world.rt.now() + by } as typeof world.rt;
  Object.setPrototypeOf(rt, Object.getPrototypeOf(world.rt) as object);
  return rt;
};

it("opens what is wrong with the work behind a storefront, counts it anew, and ends it by itself", async () => {
  const { client } = world.rt.db;
  expect(await titles()).toEqual([]);
  await news("one");
  expect(await open()).toMatchObject([
    { title: "The shop does not take 1 piece of news", meaning: "wrong", to: `/s/${north.id}/shop` },
  ]);
  const [before] = await open();
  await news("two");
  expect(await open()).toMatchObject([{ id: before?.id, title: "The shop does not take 2 pieces of news" }]);
  await client.execute("update jobs set run_at = null where id = 'one'");
  expect(await titles()).toContain("1 piece of background work given up");
  expect((await open()).find(({ kind }) => kind === "work-given-up")).toMatchObject({
    to: "/jobs",
    meaning: "waits",
  });
  await client.execute("delete from jobs");
  expect(await titles()).toEqual([]);
});

it("tells of letters that are not taken and of subscriptions that cannot be charged, with what the last try said", async () => {
  const { client } = world.rt.db;
  const inVain = (id: string, kind: string, key: string, lane: string, error: object | string) =>
    client.execute({
      sql: `insert into jobs (id, kind, key, lane, run_at, tries, error, created_at) values (?, ?, ?, ?, 1, 5, ?, 1)`,
      args: [id, kind, key, lane, JSON.stringify(error)],
    });
  await inVain(
    "l1",
    "send-receipt",
    "pay_1",
    "mail",
    said("receipts.not-taken", { because: "mailbox full" }),
  );
  await inVain("l2", "ask-shopper", "sub_1:1:1", "mail", said("receipts.not-taken", { because: "no route" }));
  const subscription = (id: string, mode: string) =>
    client.execute({
      sql: `insert into subscriptions (id, storefront_id, mode, origin, reference, shopper, customer, terms, quantity, amount,
        currency, state, next, charged, ends, version, created_at, updated_at)
        values (?, ?, ?, 'shop', ?, 'c', '{}', '{}', 1, 1, 'EUR', 'running', 1, 1, 0, 1, 1, 1)`,
      args: [id, north.id, mode, id],
    });
  for (const [id, mode] of [
    ["sub_1", "live"],
    ["sub_2", "test"],
  ] as const) {
    await subscription(id, mode);
    await inVain(`r-${id}`, "repeat", id, `repeat:${north.id}`, said("subscriptions.offer-away"));
  }
  const found = (await open()).map(({ title, says, to, meaning }) => ({ title, says, to, meaning }));
  expect(found).toContainEqual({
    ...{ title: "2 letters to shoppers not taken", to: "/jobs", meaning: "waits" },
    says: expect.stringContaining("no route") as string,
  });
  expect(found).toContainEqual({
    ...{ title: "1 subscription cannot be charged", meaning: "wrong" },
    to: `/s/${north.id}/operate/subscriptions?mode=live`,
    says: expect.stringMatching(/ What is due is charged as soon as it can be\.$/) as string,
  });
  await client.execute("delete from jobs");
  await client.execute("delete from subscriptions");
  expect(await titles()).toEqual([]);
});

it("leaves settled what a person settled, and tells of it again when it lasts another day", async () => {
  const { client } = world.rt.db;
  await news("three");
  const [found] = await open();
  await settleFinding(world.rt, "ida", north.id, found?.id ?? "", { as: "resolved", reason: "moving house" });
  expect(await titles()).toEqual([]);
  expect(await titles(later(DAY))).toEqual(["The shop does not take 1 piece of news"]);
  await client.execute("delete from jobs");
  expect(await titles(later(DAY))).toEqual([]);
});

it("tells of a provider that does not answer, until most calls are answered again", async () => {
  const calls = async (from: number, count: number, ok: number) => {
    for (let i = from; i < from + count; i++)
      await world.rt.db.client.execute({
        sql: `insert into exchanges (id, at, "from", "to", label, mode, connection_id, ok) values (?, ?, 'zahlung', 'provider', 'x', 'live', 'n', ?)`,
        args: [`x${i}`, world.rt.now(), ok],
      });
  };
  const found = async () =>
    (await ofWork(world.rt, north.id, new Map([["n", "Karvello"]]))).map((one) => one.kind);
  await world.rt.db.client.execute("pragma foreign_keys = off");
  await calls(0, 2, 0);
  expect(await found()).toEqual([]);
  await calls(2, 1, 0);
  expect(await found()).toEqual(["in-trouble"]);
  await calls(3, 4, 1);
  expect(await found()).toEqual([]);
});
