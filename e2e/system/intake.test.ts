import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { eq } from "drizzle-orm";
import { sign } from "#core/webhooks/standard-webhooks";
import { pay } from "#server/checkouts/pay";
import { currentEndpoint, endpointAddress } from "#server/connections/connections";
import { openEndpointSecret } from "#server/connections/webhook";
import { webhooks } from "#server/database/schema";
import type { Payment } from "#server/database/rows";
import { paymentOf } from "#server/payments/record";
import { until } from "../../demo/play";
import { openKite, openWorld, type SystemWorld } from "./world";

let world: SystemWorld;
let address = "";
let secret = "";
beforeAll(async () => {
  world = await openWorld({ beside: false });
  const endpoint = await currentEndpoint(world.rt, world.connectionId, "test");
  address = endpointAddress(world.rt, endpoint);
  secret = openEndpointSecret(world.rt, endpoint);
});
afterAll(() => world.end());

let ids = 0;
const send = (body: string, options: { at?: number; id?: string; secret?: string; to?: string } = {}) =>
  fetch(options.to ?? address, {
    method: "POST",
    headers: {
      "content-type": "application/json",
      ...sign(options.secret ?? secret, options.id ?? `m${(ids += 1)}`, options.at ?? Date.now(), body),
    },
    body,
  });

async function authorised(): Promise<Payment> {
  const paid = await pay(world.rt, await openKite(world.rt), world.offerId, "play-approved", {
    capture: "later",
  });
  if (paid.kind !== "payment") throw new Error(paid.kind);
  // Karvello's own news of it is in before a test adds to it.
  await until("its webhook", async () =>
    (await rowsAbout(paid.payment)).some((one) => one.outcome === "applied"),
  );
  return paid.payment;
}
const rowsAbout = async (payment: Payment) =>
  (await world.rt.db.orm.select().from(webhooks).where(eq(webhooks.connectionId, world.connectionId))).filter(
    (one) => one.body.includes(payment.reference),
  );
const event = (payment: Payment, taken: number, back: number, at: number, ref = payment.reference) =>
  JSON.stringify({
    tell: back ? "slip.given_back" : "slip.taken",
    at: new Date(at).toISOString(),
    about: {
      no: payment.providerRef,
      your_ref: ref,
      sum: payment.amount,
      coin: "EUR",
      stand: back ? "part_given_back" : "taken",
      held: payment.amount,
      taken,
      given_back: back,
      turn: 10 + taken + back,
      refusal: null,
      ask_at: null,
      card: { network: "Norda", last: "0019" },
    },
  });
const settled = () =>
  until(
    "all is applied",
    async () =>
      (await world.rt.db.orm.select().from(webhooks).where(eq(webhooks.outcome, "waiting"))).length === 0,
  );
const stateOf = async (payment: Payment) => {
  const { state, captured, refunded } = (await paymentOf(world.rt, payment.id)) as Payment;
  return { state, captured, refunded };
};

describe("the webhook intake", () => {
  it("comes to the same state doubled and in any order", async () => {
    const at = Date.now();
    const expected = { state: "partly-refunded", captured: 4390, refunded: 500 };
    for (const order of [
      [0, 1, 2],
      [2, 1, 0],
      [1, 1, 2, 0, 0],
      [2, 2, 0, 1],
    ]) {
      const payment = await authorised();
      const messages = [
        event(payment, 4390, 0, at),
        event(payment, 4390, 200, at + 1),
        event(payment, 4390, 500, at + 2),
      ];
      for (const i of order)
        expect((await send(messages[i] ?? "", { id: `${payment.id}-${i}` })).status).toBe(204);
      await settled();
      expect(await stateOf(payment)).toEqual(expected);
    }
  });

  it("takes a retry that is signed anew a day later under the same id, and refuses the old signature then", async () => {
    const payment = await authorised();
    const body = event(payment, 4390, 0, Date.now());
    const old = Date.now();
    expect((await send(body, { id: "day", at: old })).status).toBe(204);
    world.clock.offset = 86_400_000;
    expect((await send(body, { id: "day", at: old })).status).toBe(401);
    expect((await send(body, { id: "day", at: old + 86_400_000 })).status).toBe(204);
    await settled();
    world.clock.offset = 0;
    const rows = (await rowsAbout(payment)).filter((one) => one.messageId === "day");
    expect(rows.map((one) => one.outcome).sort()).toEqual(["applied", "repeated"]);
    expect(await stateOf(payment)).toMatchObject({ captured: 4390 });
  });

  it("keeps apart what it cannot verify, and changes nothing", async () => {
    const payment = await authorised();
    const body = event(payment, 4390, 4390, Date.now());
    const wrong = `whsec_${Buffer.alloc(32, 9).toString("base64")}`;
    expect((await send(body, { secret: wrong })).status).toBe(401);
    expect((await fetch(address, { method: "POST", body })).status).toBe(401);
    expect((await send(body, { at: Date.now() - 600_000 })).status).toBe(401);
    expect((await send(body, { at: Date.now() + 600_000 })).status).toBe(401);
    expect(await stateOf(payment)).toMatchObject({ state: "authorised", refunded: 0 });
    const verdicts = (await rowsAbout(payment))
      .filter((one) => one.outcome === "refused")
      .map((one) => one.verdict);
    expect(verdicts.sort()).toEqual([
      "header-missing",
      "signature-mismatch",
      "timestamp-too-new",
      "timestamp-too-old",
    ]);
  });

  it("does not take one mode's message at the other mode's address", async () => {
    const live = await currentEndpoint(world.rt, world.connectionId, "live");
    const payment = await authorised();
    const body = event(payment, 4390, 0, Date.now());
    expect((await send(body, { to: endpointAddress(world.rt, live) })).status).toBe(401);
    const signed = await send(body, {
      to: endpointAddress(world.rt, live),
      secret: openEndpointSecret(world.rt, live),
    });
    expect(signed.status).toBe(204);
    await settled();
    expect(await stateOf(payment)).toMatchObject({ state: "authorised" });
    expect(
      (await rowsAbout(payment)).filter((one) => one.mode === "live" && one.verdict === "verified")[0]
        ?.outcome,
    ).toBe("unknown-payment");
  });

  it("answers hostile requests clearly", async () => {
    expect((await fetch(`${world.origin}/hooks/nowhere`, { method: "POST", body: "{}" })).status).toBe(404);
    expect(
      (await fetch(`${world.origin}/hooks/${"A".repeat(43)}`, { method: "POST", body: "{}" })).status,
    ).toBe(404);
    expect((await fetch(address)).status).toBe(405);
    expect((await send("x".repeat(10_000_000))).status).toBe(413);
    for (const body of [
      "",
      "not json",
      "[]",
      "null",
      '{"tell":"__proto__"}',
      '{"tell":"slip.held","at":"never","about":{}}',
      "\u0000\ufffd",
    ]) {
      expect((await send(body)).status).toBe(204);
    }
    await settled();
    expect((await fetch(`${world.origin}/readyz`)).status).toBe(200);
  });

  it("leaves alone a signed message about another amount, currency or payment", async () => {
    const payment = await authorised();
    const told = JSON.parse(event(payment, 1, 0, Date.now())) as { about: Record<string, unknown> };
    for (const about of [
      { ...told.about, sum: 1 },
      { ...told.about, coin: "GBP" },
      { ...told.about, your_ref: "z-unknown" },
    ]) {
      expect((await send(JSON.stringify({ ...told, about }))).status).toBe(204);
    }
    await settled();
    expect(await stateOf(payment)).toMatchObject({ state: "authorised", captured: 0 });
  });
});
