import { spoken, tell as words } from "../../scripts/english";
import { eq } from "drizzle-orm";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { Webhook } from "standardwebhooks";
import { exchanges, outbox } from "../database/schema";
import { addStorefront, setNewsAddress } from "../storefronts/storefronts";
import { north, openTestRuntime, type TestRuntime } from "../test-runtime";
import { towardsShop, waitAfter } from "#core/jobs/back-off";
import { jobs } from "../database/schema";
import { kinds } from "../jobs/kinds";
import { Runner } from "../jobs/runner";
import type { Runtime } from "../runtime";
import { sendAgain } from "./deliver";
import { newsOfCutover } from "./news";

const secret = `whsec_${Buffer.alloc(32, 9).toString("base64")}`;
const shop = { storefrontId: "north", mode: "test" } as const;

let world: TestRuntime;
let heard: { url: string; id: string; at: string; body: string; redirect?: string }[];

/** A shop that answers each message with the next of these, then with the last for ever. */
const answering = (...answers: (() => Response)[]) => {
  world.wire.http = (input, init) => {
    const headers = init?.headers as Record<string, string>;
    heard.push({
      url: String(input),
      id: headers["webhook-id"] ?? "",
      at: headers["webhook-timestamp"] ?? "",
      body: String(init?.body),
      redirect: String(init?.redirect),
    });
    const next = (answers.length > 1 ? answers.shift() : answers[0]) as () => Response;
    return Promise.resolve().then(next);
  };
};
const status =
  (code: number, headers: Record<string, string> = {}) =>
  () =>
    new Response(null, { status: code, headers });
const news = async () => spoken((await world.rt.db.orm.select().from(outbox))[0]);
/** The job that sends it. */
const job = async () => (await world.rt.db.orm.select().from(jobs).where(eq(jobs.kind, "deliver-news")))[0];
/** Does what is due of the news now, and says how much that was. */
async function deliverNews(rt: Runtime): Promise<number> {
  const tried = async () =>
    (await rt.db.orm.select().from(jobs).where(eq(jobs.kind, "deliver-news"))).filter(
      (one) => one.runAt !== null && one.runAt <= rt.now(),
    ).length;
  const due = await tried();
  const runner = new Runner(rt, kinds);
  runner.start();
  while ((await tried()) > 0) await new Promise((resolve) => setTimeout(resolve, 5));
  await runner.end();
  return due;
}
const tell = (orders: string[] = ["LW-1"], cutover = "cut_1") =>
  world.rt.db.write(newsOfCutover(world.rt, "north", cutover, orders));

beforeEach(async () => {
  heard = [];
  world = await openTestRuntime({ ZAHLUNG_ALLOW_PRIVATE_ADDRESSES: "1" });
  await addStorefront(world.rt, "test", north);
  await setNewsAddress(world.rt, shop, "http://north.example/news", secret);
});
afterEach(() => world.close());

describe("news", () => {
  it("is signed for the shop, sent once, and not followed elsewhere", async () => {
    answering(status(204));
    await tell();
    expect(await deliverNews(world.rt)).toBe(1);
    const [sent] = heard;
    expect(sent).toMatchObject({ url: "http://north.example/news", redirect: "manual" });
    const signed = spoken((await world.rt.db.orm.select().from(exchanges))[0]);
    expect(signed).toMatchObject({ from: "zahlung", to: "shop", ok: true, outcome: "answered 204" });
    expect(JSON.stringify(signed)).not.toContain(secret);
    expect(JSON.parse(sent?.body ?? "")).toMatchObject({
      type: "test-orders.close",
      data: { orders: ["LW-1"] },
    });
    expect(await news()).toMatchObject({
      tries: 1,
      deliveredAt: world.clock.now,
      lastOutcome: "The shop answered 204.",
    });
    world.clock.now += 60_000;
    expect(await deliverNews(world.rt)).toBe(0);
  });

  it("that was told twice goes out once", async () => {
    answering(status(200));
    await tell();
    await tell();
    await tell(["LW-1"], "cut_2");
    await deliverNews(world.rt);
    expect(heard).toHaveLength(2);
    expect(new Set(heard.map((one) => one.id)).size).toBe(2);
  });

  it("is tried again under its own id, signed with the time of the try, until it is taken", async () => {
    answering(
      status(500),
      () => Promise.reject(new TypeError("fetch failed")) as never,
      status(302, { location: "http://10.0.0.1/" }),
      status(202),
    );
    await tell();
    const outcomes: string[] = [];
    for (let tries = 0; tries < 4; tries++) {
      expect(await deliverNews(world.rt)).toBe(1);
      outcomes.push((await news())?.lastOutcome ?? "");
      expect(await deliverNews(world.rt), "not before its time").toBe(0);
      world.clock.now += waitAfter(towardsShop, tries + 1, 0) ?? 0;
    }
    expect(outcomes).toEqual([
      "The shop answered 500.",
      "The shop could not be reached.",
      "The shop answered 302.",
      "The shop answered 202.",
    ]);
    expect(new Set(heard.map((one) => one.id)).size).toBe(1);
    expect(new Set(heard.map((one) => one.body)).size).toBe(1);
    expect(new Set(heard.map((one) => one.at)).size).toBe(4);
  });

  it("is given up after three days, and says what happened last", async () => {
    answering(status(410));
    await tell();
    const start = world.clock.now;
    for (let runAt = world.clock.now; ;) {
      world.clock.now = runAt;
      await deliverNews(world.rt);
      const next = (await job())?.runAt;
      if (next == null) break;
      runAt = next;
    }
    const days = (world.clock.now - start) / 86_400_000;
    expect(days).toBeGreaterThan(2.5);
    expect(days).toBeLessThan(3.01);
    expect(await news()).toMatchObject({ deliveredAt: null, lastOutcome: "The shop answered 410." });
  });

  it("waits, uncounted as lost, for a shop that has not said where it listens", async () => {
    await world.rt.db.client.execute("delete from news_addresses");
    await tell();
    expect(await deliverNews(world.rt)).toBe(1);
    expect(heard).toEqual([]);
    expect(await news()).toMatchObject({ lastOutcome: "The shop has not said where it listens.", tries: 0 });
    answering(status(200));
    await setNewsAddress(world.rt, shop, "http://north.example/later", secret);
    expect((await job())?.tries, "that is no try").toBe(0);
    await deliverNews(world.rt);
    expect(heard.map((one) => one.url)).toEqual(["http://north.example/later"]);
  });

  it("is sent once more at a press, also after it was taken or given up", async () => {
    answering(status(410));
    await tell();
    await deliverNews(world.rt);
    await world.rt.db.orm.update(jobs).set({ runAt: null });
    expect(await deliverNews(world.rt)).toBe(0);
    answering(status(200));
    const one = await news();
    if (!one) throw new Error("no news");
    await sendAgain(world.rt, one);
    await deliverNews(world.rt);
    expect((await news())?.deliveredAt).toBe(world.clock.now);
    await sendAgain(world.rt, one);
    await deliverNews(world.rt);
    expect(heard).toHaveLength(3);
    expect(new Set(heard.map((each) => each.id)).size).toBe(1);
  });

  it("carries a signature that the specification's own library takes", async () => {
    let verified: unknown;
    // The library holds to the real clock, so the news is sent at the real time.
    world.clock.now = Date.now();
    world.wire.http = (_, init) => {
      verified = new Webhook(secret).verify(String(init?.body), init?.headers as Record<string, string>);
      return Promise.resolve(new Response(null, { status: 204 }));
    };
    await tell(["LW-7", "LW-8"]);
    await deliverNews(world.rt);
    expect(verified).toMatchObject({ data: { orders: ["LW-7", "LW-8"] } });
  });

  it("never goes into a private network, however the shop's address is written", async () => {
    const open = await openTestRuntime();
    try {
      await addStorefront(open.rt, "test", north);
      open.wire.http = () => Promise.reject(new Error("must not be called"));
      for (const [n, address] of [
        "http://203.0.113.9/plain",
        "https://127.0.0.1/x",
        "https://[::1]/x",
        "https://[::ffff:10.0.0.1]/x",
        "https://169.254.169.254/latest",
        "https://someone@203.0.113.9/",
        "https://2130706433/",
      ].entries()) {
        await setNewsAddress(open.rt, shop, address, secret);
        await open.rt.db.write(newsOfCutover(open.rt, "north", `cut_${n}`, ["LW-1"]));
        await deliverNews(open.rt);
        const rows = await open.rt.db.orm.select().from(outbox);
        expect(rows.at(-1)?.deliveredAt, address).toBeNull();
        expect(words(rows.at(-1)?.lastOutcome ?? ""), address).toMatch(
          /private network|Only https|user name/,
        );
        await open.rt.db.client.execute("delete from outbox");
        await open.rt.db.client.execute("delete from jobs");
      }
    } finally {
      open.close();
    }
  });
});
