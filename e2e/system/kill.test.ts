import { speaking } from "../../scripts/english";
import { fork } from "node:child_process";
import { once } from "node:events";
import { createServer, type IncomingMessage } from "node:http";
import type { AddressInfo } from "node:net";
import { Webhook } from "standardwebhooks";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { sign } from "#core/webhooks/standard-webhooks";
import { type Plan, usualTrying } from "#core/subscriptions/plan";
import { termsOf } from "#core/subscriptions/terms";
import { auditBreak } from "#server/audit/audit";
import { pay } from "#server/checkouts/pay";
import { currentEndpoint } from "#server/connections/connections";
import { openEndpointSecret } from "#server/connections/webhook";
import { cutOver as cutOverSaid, fallBack } from "#server/cutover/cutover";
import { call, lineOf, openLine } from "#server/gateway/gateway";
import { paymentOf } from "#server/payments/record";
import { mustStand } from "#server/storefronts/now";
import { newSubscription } from "#server/subscriptions/begin";
import { callerOf, issueApiKey, setNewsAddress } from "#server/storefronts/storefronts";
import { editOffer } from "../../demo/accounts";
import { lockedNow, must, rehearse, until } from "../../demo/play";
import { program } from "../../scripts/programs.mjs";
import { anotherZahlung, kill, openKite, openWorld, type SystemWorld } from "./world";

const cutOver = speaking(cutOverSaid);

let world: SystemWorld;
beforeAll(async () => {
  world = await openWorld({ beside: false });
});
afterAll(() => world.end());

const rows = async (query: string, ...args: string[]) =>
  (await world.rt.db.client.execute({ sql: query, args })).rows;
const count = async (query: string, ...args: string[]) =>
  Number((await rows(`select count(*) as n from ${query}`, ...args))[0]?.n);

const another = () => anotherZahlung(world.env);

describe("killed at any moment", () => {
  it("has every acknowledged webhook, applied once", async () => {
    const endpoint = await currentEndpoint(world.rt, world.connectionId, "test");
    const secret = openEndpointSecret(world.rt, endpoint);
    const paid = await pay(world.rt, await openKite(world.rt), world.offerId, "play-approved");
    if (paid.kind !== "payment") throw new Error(paid.kind);
    const { payment } = paid;
    await until(
      "Karvello's own webhooks",
      async () => (await count("webhooks where payment_id = ?", payment.id)) === 2,
    );
    const factsBefore = await count("facts where payment_id = ?", payment.id);
    const acknowledged: string[] = [];
    let sent = 0;
    for (let round = 0; round < 3; round++) {
      const { child, origin } = await another();
      const enough = acknowledged.length + 6 + round * 9;
      const senders = Array.from({ length: 12 }, async () => {
        while (!child.killed) {
          const id = `kill-${(sent += 1)}`;
          const about = {
            no: payment.providerRef,
            your_ref: payment.reference,
            sum: 4390,
            coin: "EUR",
            stand: "part_given_back",
            held: 4390,
            taken: 4390,
            given_back: sent,
            turn: 1_000 + sent,
            backs: [{ no: "B1", sum: sent, stand: "done" }],
            refusal: null,
            ask_at: null,
            card: { network: "Norda", last: "0019" },
          };
          const body = JSON.stringify({ tell: "slip.given_back", at: new Date().toISOString(), about });
          try {
            const response = await fetch(`${origin}/hooks/${endpoint.path}`, {
              method: "POST",
              headers: { "content-type": "application/json", ...sign(secret, id, Date.now(), body) },
              body,
            });
            if (response.status === 204) acknowledged.push(id);
          } catch {
            return;
          }
        }
      });
      // Twelve messages are under way whenever the process is killed.
      await until("some are acknowledged", () => acknowledged.length >= enough);
      await kill(child, "SIGKILL");
      await Promise.all(senders);
    }
    await until("all is applied", async () => (await count("webhooks where outcome = 'waiting'")) === 0);
    const kept = await rows("select message_id, outcome from webhooks where message_id like 'kill-%'");
    const ids = kept.map((row) => String(row.message_id));
    expect(acknowledged.filter((id) => !ids.includes(id))).toEqual([]);
    expect(new Set(ids).size).toBe(ids.length);
    expect(kept.every((row) => row.outcome === "applied")).toBe(true);
    // Each message is one fact: the totals that it tells.
    expect(await count("facts where payment_id = ?", payment.id)).toBe(factsBefore + ids.length);
    const most = Math.max(...ids.map((id) => Number(id.slice(5))));
    expect((await paymentOf(world.rt, payment.id))?.refunded).toBe(most);
  });

  it("delivers the news that waited in the outbox, signed, under one id each", async () => {
    const heard: { id: string; body: string }[] = [];
    const secret = `whsec_${Buffer.alloc(32, 5).toString("base64")}`;
    const shop = createServer((request, response) => {
      void text(request).then((body) => {
        new Webhook(secret).verify(body, request.headers as Record<string, string>);
        heard.push({ id: String(request.headers["webhook-id"]), body });
        setTimeout(() => response.writeHead(204).end(), 40);
      });
    });
    shop.listen(0);
    const { port } = shop.address() as AddressInfo;
    const { rt } = world;
    // News waits at an address where nobody listens; then a process is killed while it delivers.
    await setNewsAddress(rt, { storefrontId: "luvwinkel-de", mode: "test" }, "http://localhost:9/", secret);
    for (let n = 0; n < 12; n++) await pay(rt, await openKite(rt), world.offerId, "play-approved");
    const waiting = await count("jobs where kind = 'deliver-news'");
    expect(waiting).toBeGreaterThanOrEqual(12);
    await setNewsAddress(
      rt,
      { storefrontId: "luvwinkel-de", mode: "test" },
      `http://localhost:${port}/`,
      secret,
    );
    const { child } = await another();
    await rt.db.client.execute({
      sql: "update jobs set run_at = ?, lease = null where kind = 'deliver-news'",
      args: [Date.now()],
    });
    await until("some news", () => heard.length > 2);
    await kill(child, "SIGKILL");
    world.clock.offset = 60_000;
    rt.nudge();
    await until("all news", async () => (await count("jobs where kind = 'deliver-news'")) === 0);
    world.clock.offset = 0;
    const all = (await rows("select id, delivered_at from outbox")).map((row) => String(row.id));
    expect(all.filter((id) => !heard.some((one) => one.id === id))).toEqual([]);
    for (const { id, body } of heard)
      expect(heard.filter((one) => one.id === id).every((one) => one.body === body)).toBe(true);
    shop.closeAllConnections();
    shop.close();
  });

  it("has cut over whole or not at all", async () => {
    const { rt } = world;
    await rehearse(rt, "test", world.offerId);
    await callerOf(rt, await issueApiKey(rt, "test", "luvwinkel-de", "live"));
    expect((await lockedNow(rt, world.connectionId)).gates.filter((gate) => !gate.open)).toEqual([]);
    const outcomes = new Set<string>();
    let entries = 0;
    // From before it begins, through the middle, to after it has said that it moved.
    for (const [round, delay] of ["before", 0, 2, 5, 8, 12, 20, "after"].entries()) {
      const child = fork(program("e2e/system/cut-over.ts"), {
        env: { ...process.env, ...world.env, CONNECTION: world.connectionId },
      });
      await once(child, "message");
      const said = once(child, "message");
      if (delay !== "before") child.send("go");
      if (delay === "after") expect(await said).toContain("moved");
      else await new Promise((resolve) => setTimeout(resolve, Number(delay) || 0));
      await kill(child, "SIGKILL");
      const [pair] = await rows("select live from connection_storefronts");
      const [offer] = await rows("select live_id, working_id from offers");
      const cutovers = await count("cutovers where kind = 'cut-over'");
      const audited = await count("audit where action = 'cut over'");
      const told = await count("outbox where dedupe like '%:test-orders'");
      const moved = cutovers > entries;
      expect([audited, told], `round ${round}`).toEqual([cutovers, cutovers]);
      expect(pair?.live === "live").toBe(moved);
      if (moved) expect(offer?.live_id).toBe(offer?.working_id);
      else if (cutovers === 0) expect(offer?.live_id).toBeNull();
      outcomes.add(moved ? "whole" : "not at all");
      entries = cutovers;
      if (moved) expect(await fallBack(rt, "test", "luvwinkel-de", world.connectionId)).toBe(true);
    }
    expect([...outcomes].sort()).toEqual(["not at all", "whole"]);
    expect(await auditBreak(rt)).toBeNull();
  });

  it("moves the lever once when two people press at the same moment", async () => {
    const { rt } = world;
    const { connectionId } = world;
    const { revisionIds } = await lockedNow(rt, connectionId);
    const move = (person: string) => cutOver(rt, person, "luvwinkel-de", [{ connectionId, revisionIds }]);
    const before = await count("cutovers");
    const moves = await Promise.all(["ida", "enno"].map(move));
    expect(moves.map((one) => one.ok).sort()).toEqual([false, true]);
    const again = await move("ida");
    expect(again).toMatchObject({ ok: false, says: "It is live, and nothing would change." });
    const backs = await Promise.all(
      ["ida", "enno"].map((person) => fallBack(rt, person, "luvwinkel-de", connectionId)),
    );
    expect(backs.sort()).toEqual([false, true]);
    expect(await count("cutovers")).toBe(before + 2);
  });

  it("charges each period of a subscription once, however often it dies as they all come due", async () => {
    const plan: Plan = {
      ...{ id: "daily", names: { de: "Wind", en: "Wind" }, rhythm: { count: 1, unit: "month" }, times: null },
      ...{ prices: { EUR: 700 }, setUp: {}, setUpNames: {}, trial: null, fixedDay: null, tax: null },
    };
    const repeats = { plans: [plan], trying: usualTrying, timeZone: "UTC" };
    await editOffer(world.rt, "luvwinkel-de", world.offerId, { repeats });
    const now = await mustStand(world.rt, "luvwinkel-de");
    const terms = must(termsOf(plan, { currency: "EUR", language: "de" }, repeats), "terms");
    const customer = {
      country: "DE",
      language: "de",
      group: "retail",
      email: "",
      returnAddress: "http://x.example/",
    };
    const mandate = { words: "Es wird abgebucht.", language: "de" };
    const ids: string[] = [];
    for (let i = 0; i < 12; i++) {
      const made = newSubscription(world.rt, now, {
        ...{ mode: "test", origin: "shop", reference: `KILL-${i}`, shopper: `shopper-${i}` },
        ...{ customer, terms, quantity: 1 },
      });
      await world.rt.db.write(made.statements);
      const paid = await pay(world.rt, made.checkout, world.offerId, "play-approved", {
        mandate,
        patient: true,
      });
      if (paid.kind !== "payment") throw new Error(paid.kind);
      const line = must(await lineOf(world.rt, paid.payment), "line");
      await call(world.rt, line, "actForShopper", { ref: paid.payment.providerRef, answer: "pass" });
      ids.push(made.subscription.id);
    }
    const running = "subscriptions where state = 'running' and instrument_id is not null";
    await until("they run", async () => (await count(running)) === ids.length);
    // For this process nothing is due, for the others everything.
    world.clock.offset = -10 * 86_400_000;
    const due = Date.now() - 1_000;
    await world.rt.db.client.batch([
      { sql: "update subscriptions set next_due = ?", args: [due] },
      { sql: "update jobs set run_at = ? where kind = 'repeat' and lease is null", args: [due] },
    ]);
    for (const alive of [15, 60, 150, 30]) {
      const { child } = await another();
      await new Promise((resolve) => setTimeout(resolve, alive));
      await kill(child, "SIGKILL");
    }
    world.clock.offset = 600_000;
    await world.rt.db.client.execute(
      "update jobs set run_at = 0, lease = null where kind in ('repeat', 'operation')",
    );
    world.rt.nudge();
    const paidPeriods = "subscription_periods where number = 1 and state = 'paid'";
    await until("every period", async () => (await count(paidPeriods)) === ids.length);
    world.clock.offset = 0;
    expect(await count("subscription_periods where number > 0")).toBe(ids.length);
    const tried = await rows(
      "select id, reference, captured from payments where order_reference like 'KILL-%-1'",
    );
    expect(tried.filter((one) => one.captured === 700)).toHaveLength(ids.length);
    // The provider says the same: of all that was ever asked for, each period was taken once.
    const line = must(await openLine(world.rt, { connectionId: world.connectionId, mode: "test" }), "line");
    let taken = 0;
    for (const { reference } of tried) {
      const found = await call(world.rt, line, "find", { reference: String(reference) });
      if (found.kind !== "answered") throw new Error(found.kind);
      taken += found.value.payments.filter((one) => one.captured > 0).length;
    }
    expect(taken).toBe(ids.length);
  });

  it("charges once when killed while the provider works", async () => {
    // Karvello charges, its answer never comes, and its webhooks neither.
    await world.weather("time-out", 1);
    await world.weather("lose", 9);
    const checkout = await openKite(world.rt);
    const child = fork(program("e2e/system/pay-once.ts"), {
      env: { ...process.env, ...world.env, CHECKOUT: checkout.id, OFFER: world.offerId },
    });
    await once(child, "message");
    const made = async () => (await rows("select * from payments where checkout_id = ?", checkout.id))[0];
    await until("the charge", async () => (await world.weatherLeft("time-out")) === 0);
    await kill(child, "SIGKILL");
    expect((await made())?.state).toBe("created");
    world.clock.offset = 600_000;
    world.rt.nudge();
    await until("the truth", async () => (await made())?.state === "captured");
    world.clock.offset = 0;
    expect(await count("payments where checkout_id = ?", checkout.id)).toBe(1);
    const line = must(await openLine(world.rt, { connectionId: world.connectionId, mode: "test" }), "line");
    const found = await call(world.rt, line, "find", {
      reference: String((await made())?.reference),
    });
    expect(found.kind === "answered" && found.value.payments.length).toBe(1);
  });
});

async function text(request: IncomingMessage): Promise<string> {
  const parts: Buffer[] = [];
  for await (const part of request) parts.push(part as Buffer);
  return Buffer.concat(parts).toString("utf8");
}
