import { setTimeout as wait } from "node:timers/promises";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { sign } from "#core/webhooks/standard-webhooks";
import { currentEndpoint } from "#server/connections/connections";
import { openEndpointSecret } from "#server/connections/webhook";
import { switchOffer } from "#server/offers/offers";
import { firstOwnerLink } from "#server/people/invitations";
import { openRuntime, type Runtime } from "#server/runtime";
import { readSettings } from "#server/settings";
import { issueApiKey } from "#server/storefronts/storefronts";
import { until } from "../../demo/play";
import { anotherZahlung, inTest, kill, kiteOrder, onServer, openWorld, type SystemWorld } from "./world";

// Several processes on one libSQL server: two that serve and work, beside the one that a test turns; and the server
// going away under them.

let world: SystemWorld;
let key = "";
let processes: Awaited<ReturnType<typeof anotherZahlung>>[] = [];
const here = onServer;
beforeAll(async () => {
  if (!here) return;
  world = await openWorld({ beside: false });
  key = await issueApiKey(world.rt, "ida", "luvwinkel-de", "test");
  processes = await Promise.all([anotherZahlung(world.env), anotherZahlung(world.env)]);
});
afterAll(async () => {
  if (!here) return;
  await Promise.all(processes.map(({ child }) => kill(child, "SIGTERM")));
  await world.end();
});

const origin = (n: number) => processes[n % processes.length]?.origin ?? "";
const ask = async (at: number, path: string, payload: unknown, once?: string) => {
  const response = await fetch(`${origin(at)}/api/v1${path}`, {
    method: "POST",
    headers: {
      authorization: `Bearer ${key}`,
      "content-type": "application/json",
      ...(once && { "idempotency-key": once }),
    },
    body: JSON.stringify(payload),
    signal: AbortSignal.timeout(60_000),
  });
  return { status: response.status, body: (await response.json()) as Record<string, unknown> };
};
const ready = async (at: number) => (await fetch(`${origin(at)}/readyz`)).status;
const order = () => {
  const { lines, ...rest } = kiteOrder();
  return {
    ...rest,
    lines: lines.map((line) => ({ ...line, unit: "39.00", total: "39.00" })),
    shipping: "4.90",
    tax: "7.01",
    total: "43.90",
  };
};
const rows = async (sql: string) => (await world.rt.db.client.execute(sql)).rows;

describe.skipIf(!here)("several processes on one libSQL server", () => {
  it("have one address for the first owner, however many start", async () => {
    await world.rt.db.client.execute("delete from sessions");
    await world.rt.db.client.execute("delete from people");
    const settings = readSettings(world.env, { production: true });
    const others = await Promise.all([1, 2, 3].map(() => openRuntime(settings, { root: process.cwd() })));
    const links = await Promise.all([world.rt, ...others].map((rt: Runtime) => firstOwnerLink(rt)));
    expect(new Set(links).size).toBe(1);
    expect(links[0]).toMatch(/^http/);
    expect(await rows("select * from invitations where first = 1")).toHaveLength(1);
    for (const rt of others) rt.db.close();
  });

  it("see at once what another has changed, whatever they keep in memory", async () => {
    const shown = async (at: number) => ((await ask(at, "/offers", order())).body.shown as unknown[]).length;
    expect([await shown(0), await shown(1)]).toEqual([1, 1]);
    await switchOffer(world.rt, "ida", inTest(world.offerId), "test", true);
    expect([await shown(0), await shown(1)]).toEqual([0, 0]);
    await switchOffer(world.rt, "ida", inTest(world.offerId), "test", false);
    expect([await shown(0), await shown(1)]).toEqual([1, 1]);
  });

  it("do each thing once, whichever of them is asked, and however often", async () => {
    const asked = Array.from({ length: 20 }, (_, n) => ({ once: `twice-${n}`, order: order() }));
    const answers = await Promise.all(
      asked.flatMap((one, n) => [
        ask(n, "/checkouts", one.order, one.once),
        ask(n + 1, "/checkouts", one.order, one.once),
      ]),
    );
    const opened = new Set(answers.filter((one) => one.status === 201).map((one) => one.body.checkout));
    expect(answers.filter((one) => ![201, 409].includes(one.status))).toEqual([]);
    expect(opened.size).toBe(20);
    expect(
      await rows(
        "select reference from checkouts where reference in (select reference from checkouts group by reference having count(*) > 1)",
      ),
    ).toEqual([]);
  });

  it("lose nothing that was acknowledged while the server is away for a minute, say so, and find it again by themselves", async () => {
    const database = world.database;
    if (!database) throw new Error("there is no server");
    const endpoint = await currentEndpoint(world.rt, world.connectionId, "test");
    const secret = openEndpointSecret(world.rt, endpoint);
    const opened: { reference: string; once: string; order: ReturnType<typeof order> }[] = [];
    const failed: typeof opened = [];
    const told: string[] = [];
    let over = false;
    const shops = Array.from({ length: 8 }, async (_, shop) => {
      for (let n = 0; !over; n++) {
        const one = order();
        const sent = { reference: one.reference, once: `away-${shop}-${n}`, order: one };
        const { status } = await ask(shop, "/checkouts", one, sent.once).catch(() => ({ status: 0 }));
        (status === 201 ? opened : failed).push(sent);
        expect([201, 503, 0]).toContain(status);
        await wait(50);
      }
    });
    const providers = Array.from({ length: 4 }, async (_, provider) => {
      for (let n = 0; !over; n++) {
        const id = `ring-${provider}-${n}`;
        const body = JSON.stringify({ tell: "bell.test", at: new Date().toISOString(), about: null });
        const status = await fetch(`${origin(provider)}/hooks/${endpoint.path}`, {
          method: "POST",
          headers: { "content-type": "application/json", ...sign(secret, id, Date.now(), body) },
          body,
        }).then(
          (response) => response.status,
          () => 0,
        );
        if (status === 204) told.push(id);
        await wait(50);
      }
    });
    await until("some are opened", () => opened.length > 30 && told.length > 30);
    database.halt();
    await until("both say that it is away", async () => (await ready(0)) === 503 && (await ready(1)) === 503);
    await wait(20_000);
    await database.kill();
    const before = opened.length;
    await wait(40_000);
    expect([await ready(0), await ready(1)]).toEqual([503, 503]);
    expect(opened.length, "nothing is acknowledged meanwhile").toBe(before);
    await database.start();
    await until("both are there again", async () => (await ready(0)) === 200 && (await ready(1)) === 200);
    await until("new ones are opened", () => opened.length > before + 30);
    over = true;
    await Promise.all([...shops, ...providers]);
    const kept = (await rows("select reference from checkouts")).map((row) => String(row.reference));
    expect(opened.filter((one) => !kept.includes(one.reference))).toEqual([]);
    const messages = (await rows("select message_id from webhooks")).map((row) => String(row.message_id));
    expect(told.filter((id) => !messages.includes(id))).toEqual([]);
    // A shop that asks again what it got no answer to has one checkout of it in the end.
    for (const [n, one] of failed.entries())
      expect((await ask(n, "/checkouts", one.order, one.once)).status).toBe(201);
    const all = (await rows("select reference from checkouts")).map((row) => String(row.reference));
    for (const { reference } of failed) expect(all.filter((one) => one === reference)).toHaveLength(1);
    await until(
      "all is applied",
      async () => (await rows("select 1 from webhooks where outcome = 'waiting'")).length === 0,
    );
  });
});
