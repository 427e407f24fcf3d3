import { speaking } from "../../scripts/english";
import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import { currentEndpoint } from "#server/connections/connections";
import { followRegistrations, followSilence } from "#server/connections/following";
import { enterKey as enterKeySaid } from "#server/connections/keys";
import { retireKeys } from "#server/connections/rotation";
import {
  lookAtRegistrations,
  mendRegistrations as mendRegistrationsSaid,
  pingWebhook as pingWebhookSaid,
  registerWebhook as registerWebhookSaid,
  renewWebhook as renewWebhookSaid,
} from "#server/connections/webhook";
import { call, openLine } from "#server/gateway/gateway";
import { until } from "../../demo/play";
import { AtProviders, must } from "./at-providers";
import type { SystemWorld } from "./world";

const enterKey = speaking(enterKeySaid);
const mendRegistrations = speaking(mendRegistrationsSaid);
const pingWebhook = speaking(pingWebhookSaid);
const registerWebhook = speaking(registerWebhookSaid);
const renewWebhook = speaking(renewWebhookSaid);

let at: AtProviders;
let world: SystemWorld;
beforeAll(async () => {
  at = await AtProviders.open({ beside: false });
  world = at.world;
});
afterEach(() => {
  world.clock.offset = 0;
  world.wire.http = null;
});
afterAll(() => world.end());

describe("webhooks", () => {
  const byHand = async (provider: string) => {
    const { id, desk } = await at.connected(provider);
    await desk.press("sandbox", "address", { address: await at.webhookOf(id) });
    await desk.press("sandbox", "test");
    await until(`${provider} heard`, async () => (await at.heard(id)) !== null);
    return { id, desk };
  };
  const verdicts = async (id: string) =>
    (await world.rt.db.orm.query.webhooks.findMany())
      .filter((one) => one.connectionId === id)
      .map((one) => one.verdict);

  it("made known by hand prove what only a message can prove", async () => {
    const { id } = await byHand("ratenhaus");
    expect((await at.column(id)).fields["letter-secret"]?.state).toBe("proven");
    await byHand("ostwick");
  });

  it("signed with a replaced secret are believed while it is new here, and others are not", async () => {
    const { id, desk } = await byHand("ratenhaus");
    await desk.press("sandbox", "secret");
    await desk.press("sandbox", "test");
    await until("a refusal", async () => (await verdicts(id)).includes("signature-mismatch"));
    await enterKey(
      world.rt,
      "ida",
      await at.where(id),
      "test",
      "letter-secret",
      await desk.shows("sandbox", "letter-secret"),
    );
    expect((await at.column(id)).fields["letter-secret"]?.state).toBe("entered");
    await until("the new one", async () => {
      await desk.press("sandbox", "test");
      return (await at.column(id)).fields["letter-secret"]?.state === "proven";
    });
    // Once the earlier values are forgotten, messages go on being believed, and others refused.
    expect(await retireKeys(world.rt, "ida", await at.where(id), "test")).toBe(true);
    const before = must(await at.heard(id));
    world.clock.offset = 6_000;
    await desk.press("sandbox", "test");
    await until("one after", async () => must(await at.heard(id)) > before);
    world.clock.offset = 0;
  });

  it("are checked with the provider's published keys, fetched anew once for a key that is new", async () => {
    const { id, desk } = await at.connected("pennywhistle");
    await registerWebhook(world.rt, "ida", await at.where(id), "test");
    await pingWebhook(world.rt, await at.where(id), "test");
    await until("the first", async () => (await at.heard(id)) !== null);
    const before = must(await at.heard(id));
    // The kept set rests half a minute before it is fetched again.
    world.clock.offset = 31_000;
    await desk.press("sandbox", "turn");
    let sets = 0;
    world.wire.http = (input, init) => {
      if (String(input).endsWith("/id/keys")) sets += 1;
      return fetch(input, init);
    };
    await pingWebhook(world.rt, await at.where(id), "test");
    await until("with the new key", async () => must(await at.heard(id)) > before);
    await pingWebhook(world.rt, await at.where(id), "test");
    expect(sets).toBe(1);
    world.wire.http = null;
    world.clock.offset = 0;
  });

  it("that are forged or come a day late are kept apart and change nothing", async () => {
    const { id, desk } = await byHand("ostwick");
    const weather = (kind: string) =>
      fetch(`${world.standins}/weather/ostwick`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ side: "sandbox", kind, calls: 1 }),
      });
    await weather("badly-signed");
    await desk.press("sandbox", "test");
    await until("the forged one", async () => (await verdicts(id)).includes("signature-mismatch"));
    world.clock.offset = 86_400_000;
    await desk.press("sandbox", "test");
    await until("the late one", async () => (await verdicts(id)).includes("timestamp-too-old"));
    // The forged one comes again by itself, so that either may be the newest: that one is told.
    await until("the newest refusal is told", async () => {
      const newest = (await verdicts(id)).filter((one) => one !== "verified").at(-1);
      return (await at.column(id)).webhook?.refused?.verdict === newest;
    });
  });

  it("registered twice, too little, or at an address that was given up are found and mended", async () => {
    const { id, desk } = await at.connected("pennywhistle");
    await registerWebhook(world.rt, "ida", await at.where(id), "test");
    await desk.press("sandbox", "hook", { to: await at.webhookOf(id) });
    await lookAtRegistrations(world.rt, await at.where(id), "test");
    expect((await at.column(id)).webhook?.faults[0]).toMatch(/registered 2 times/);
    expect((await mendRegistrations(world.rt, "ida", await at.where(id), "test")).ok).toBe(true);
    expect((await at.column(id)).webhook?.faults).toEqual([]);
    const given = await at.webhookOf(id);
    await renewWebhook(world.rt, "ida", await at.where(id), "test");
    await desk.press("sandbox", "hook", { to: given });
    await desk.press("sandbox", "hook", { to: "https://elsewhere.example/" });
    await lookAtRegistrations(world.rt, await at.where(id), "test");
    const seen = must((await at.column(id)).webhook);
    expect(seen.faults.join(" ")).toMatch(/gave up is still registered/);
    expect(seen.elsewhere).toBeGreaterThan(0);
    await mendRegistrations(world.rt, "ida", await at.where(id), "test");
    expect((await at.column(id)).webhook).toMatchObject({ faults: [], registered: true });
  });

  it("come to a new address that is registered before the old one is taken off, or else go on as they were", async () => {
    const { id } = await at.connected("pennywhistle");
    await registerWebhook(world.rt, "ida", await at.where(id), "test");
    const old = await currentEndpoint(world.rt, id, "test");
    const asked: string[] = [];
    let refuse = true;
    world.wire.http = async (input, init) => {
      const method = init?.method ?? "GET";
      if (String(input).includes("hook")) {
        asked.push(
          `${method} ${(await currentEndpoint(world.rt, id, "test")).id === old.id ? "old" : "new"}`,
        );
        if (refuse && method === "POST") return new Response("{}", { status: 500 });
      }
      return fetch(input, init);
    };
    expect(await renewWebhook(world.rt, "ida", await at.where(id), "test")).toMatchObject({
      ok: false,
      says: expect.stringMatching(/^The old address stays/) as string,
    });
    expect((await currentEndpoint(world.rt, id, "test")).id).toBe(old.id);
    expect(asked).toEqual(["POST old"]);
    refuse = false;
    asked.length = 0;
    expect(await renewWebhook(world.rt, "ida", await at.where(id), "test")).toEqual({ ok: true });
    world.wire.http = null;
    expect(asked, "registered while the old one was in use, which went when the new one was").toEqual([
      "POST old",
      "DELETE new",
    ]);
    const now = await currentEndpoint(world.rt, id, "test");
    expect([now.id !== old.id, now.path !== old.path]).toEqual([true, true]);
    expect(now.registration?.id).not.toBe(old.registration?.id);
  });

  it("that went missing at the provider are noticed by themselves, and no sooner than an hour after the last look", async () => {
    const { id } = await at.connected("pennywhistle");
    await lookAtRegistrations(world.rt, await at.where(id), "test");
    const line = must(await openLine(world.rt, { connectionId: id, mode: "test" }));
    const hook = must((await currentEndpoint(world.rt, id, "test")).registration).id;
    await call(world.rt, line, "removeWebhook", { id: hook });
    await followRegistrations(world.rt);
    expect((await at.column(id)).webhook?.faults).toEqual([]);
    world.clock.offset = 61 * 60_000;
    // Whatever was put off while the clock stood further on in a test before.
    await world.rt.db.client.execute("delete from jobs where kind = 'read-registrations'");
    await followRegistrations(world.rt);
    world.rt.nudge();
    await until("what is missing", async () => (await at.column(id)).webhook?.faults.length === 1);
    expect((await at.column(id)).webhook?.faults).toEqual(["The provider no longer lists this address."]);
    world.clock.offset = 0;
    await mendRegistrations(world.rt, "ida", await at.where(id), "test");
    expect((await at.column(id)).webhook).toMatchObject({ faults: [], registered: true });
  });

  it("that stay away well past their usual time are told of", async () => {
    const { rows } = await world.rt.db.client.execute("select id, created_at from payments limit 1");
    expect(rows).toEqual([]);
    expect((await at.column(world.connectionId)).webhook?.silence).toBeNull();
    const { openKite } = await import("./world");
    const { pay } = await import("#server/checkouts/pay");
    await world.weather("lose", 10);
    await pay(world.rt, await openKite(world.rt), world.offerId, "play-approved");
    expect((await at.column(world.connectionId)).webhook?.silence).toBeNull();
    const lookUps = async () => {
      const { rows } = await world.rt.db.client.execute(
        "select count(*) as n from exchanges where operation = 'find' and payment_id is not null",
      );
      return Number(rows[0]?.n);
    };
    // Counted before the clock is turned: the round that follows silences may come by itself as soon as it is.
    const before = await lookUps();
    world.clock.offset = 25 * 60_000;
    expect((await at.column(world.connectionId)).webhook?.silence).toMatchObject({
      payments: 1,
      usual: 600_000,
    });
    // Look-ups take over, also for what an answer has settled.
    await followSilence(world.rt);
    await until("the look-up", async () => (await lookUps()) > before);
    const due = async () =>
      (await world.rt.db.client.execute("select id from jobs where kind = 'look-up'")).rows;
    await until("the end of the look-up", async () => (await due()).length === 0);
    const after = await lookUps();
    await followSilence(world.rt);
    expect(await due()).toEqual([]);
    expect(await lookUps()).toBe(after);
    world.clock.offset = 0;
    await fetch(`${world.standins}/weather/karvello`, { method: "DELETE" });
  });
});
