import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Checkout } from "#server/database/rows";
import { checkoutByToken, checkoutOf } from "#server/checkouts/checkouts";
import { expireCheckout, turnBack } from "#server/checkouts/leave";
import { pay } from "#server/checkouts/pay";
import { type Scene, viewOf } from "#server/checkouts/view";
import { call, openLine } from "#server/gateway/gateway";
import { switchOffer } from "#server/offers/offers";
import { must, until } from "../../demo/play";
import { inTest, openKite, openWorld, type SystemWorld } from "./world";

// What the shopper is shown at each moment of a checkout.

let world: SystemWorld;
beforeAll(async () => {
  world = await openWorld();
});
afterAll(() => world.end());

const sceneOf = async (checkout: Checkout, wanted: string | null = null): Promise<Scene> => {
  const fresh = must(await checkoutOf(world.rt, checkout.id), "checkout");
  return (await viewOf(world.rt, fresh, wanted)).scene;
};
const paid = async (checkout: Checkout, token: string) => {
  const result = await pay(world.rt, checkout, world.offerId, token);
  if (result.kind !== "payment") throw new Error(result.kind);
  return result.payment;
};

describe("a fresh checkout", () => {
  it("shows what the shop ordered, as the shop wrote it", async () => {
    const checkout = await openKite(world.rt, { reference: "LW-scene", language: "en" });
    const view = await viewOf(world.rt, checkout, null);
    expect(view).toMatchObject({ storefront: "Luvwinkel DE", mode: "test" });
    expect(view.order).toMatchObject({ reference: "LW-scene", total: 4390, shipping: 490, currency: "EUR" });
    expect(JSON.stringify(view), "the shopper's address is nobody else's").not.toContain("ida@example.org");
  });

  it("has its only offer chosen, with the provider's frame for this page and the test cards", async () => {
    const scene = await sceneOf(await openKite(world.rt));
    if (scene.name !== "choose") throw new Error(scene.name);
    expect(scene.chosen).toBe(world.offerId);
    expect(scene.offers).toHaveLength(1);
    const src = new URL(scene.frame?.src ?? "");
    expect(src.origin).toBe(world.standins);
    expect(scene.frame?.origin).toBe(world.standins);
    expect(src.searchParams.get("origin")).toBe(world.origin);
    expect(src.searchParams.get("key")).toBe(world.keys.test["frame-key"]);
    expect(scene.frame?.src, "no secret goes to a browser").not.toContain(world.keys.test["server-key"]);
    expect(scene.instruments.length).toBeGreaterThan(5);
    expect(scene.again).toBeNull();
  });

  it("is not shown an offer that it does not get, whatever it asks for", async () => {
    const dear = await openKite(world.rt, {
      total: 200_000,
      lines: [{ name: "x", quantity: 1, unit: 199_510, total: 199_510 }],
    });
    expect(await sceneOf(dear, world.offerId)).toEqual({ name: "nothing" });
    await switchOffer(world.rt, "test", inTest(world.offerId), "test", true);
    expect(await sceneOf(await openKite(world.rt))).toEqual({ name: "nothing" });
    await switchOffer(world.rt, "test", inTest(world.offerId), "test", false);
  });

  it("is found by its own address only", async () => {
    const checkout = await openKite(world.rt);
    expect((await checkoutByToken(world.rt, checkout.token))?.id).toBe(checkout.id);
    for (const wrong of ["", "x", checkout.id, checkout.token.slice(1), `${checkout.token}a`, "' or 1=1 --"])
      expect(await checkoutByToken(world.rt, wrong), wrong).toBeNull();
  });
});

describe("after a try", () => {
  it("says why the card was declined, and offers another try of the same order", async () => {
    const checkout = await openKite(world.rt);
    const reasons: unknown[] = [];
    for (const token of ["play-short", "play-expired", "play-code", "play-fraud", "play-no", "play-error"]) {
      await paid(checkout, token);
      const scene = await sceneOf(checkout);
      reasons.push(
        scene.name === "choose" &&
          (scene.again?.kind === "declined" ? scene.again.reason : scene.again?.kind),
      );
    }
    expect(reasons).toEqual([
      "insufficient-funds",
      "expired-card",
      "wrong-code",
      "suspected-fraud",
      "do-not-honour",
      "failed",
    ]);
    await paid(checkout, "play-celesta");
    expect(await sceneOf(checkout)).toEqual({ name: "paid", instrument: "Celesta …0091" });
  });

  it("leads to the bank while it asks, and nowhere else", async () => {
    const checkout = await openKite(world.rt);
    const payment = await paid(checkout, "play-ask");
    const scene = await sceneOf(checkout);
    expect(scene).toEqual({
      name: "challenge",
      at: "bank",
      // The issuers ask on a host of their own, which the profile names, and are posted to.
      address: `${world.standins.replace("localhost", "127.0.0.1")}/karvello/sandbox/ask`,
      handOver: { slip: payment.providerRef, sum: "43.90 EUR" },
    });
    await until("Karvello's message of it", async () => {
      const { rows } = await world.rt.db.client.execute({
        sql: "select 1 from facts where payment_id = ? and source = 'webhook'",
        args: [payment.id],
      });
      return rows.length > 0;
    });
    // An address on a host that the profile does not name is not shown, whoever stated it.
    await world.rt.db.client.execute({
      sql: "update facts set statement = json_set(statement, '$.challenge', 'https://elsewhere.example/') where payment_id = ? and json_extract(statement, '$.status') = 'pending'",
      args: [payment.id],
    });
    expect(await sceneOf(checkout)).toEqual({ name: "waiting" });
  });

  it("follows the bank's answer without the shopper's page", async () => {
    const checkout = await openKite(world.rt);
    const payment = await paid(checkout, "play-ask");
    const line = must(await openLine(world.rt, { connectionId: world.connectionId, mode: "test" }), "line");
    await call(world.rt, line, "actForShopper", { ref: payment.providerRef, answer: "fail" });
    await until("the answer", async () => (await sceneOf(checkout)).name === "choose");
    expect(await sceneOf(checkout)).toMatchObject({
      again: { kind: "declined", reason: "authentication-failed" },
    });
    const second = await paid(checkout, "play-ask");
    await call(world.rt, line, "actForShopper", { ref: second.providerRef, answer: "pass" });
    await until("the answer", async () => (await sceneOf(checkout)).name === "paid");
  });

  it("waits while nobody can say", async () => {
    const checkout = await openKite(world.rt);
    await world.weather("error", 20);
    await world.weather("lose", 5);
    await paid(checkout, "play-approved");
    expect(await sceneOf(checkout)).toEqual({ name: "waiting" });
    await fetch(`${world.standins}/weather/karvello`, { method: "DELETE" });
  });
});

describe("a checkout that is over", () => {
  it("was turned back from", async () => {
    const checkout = await openKite(world.rt);
    expect(await turnBack(world.rt, checkout)).toBe("cancelled");
    expect(await sceneOf(checkout)).toEqual({ name: "cancelled" });
    expect(await turnBack(world.rt, must(await checkoutOf(world.rt, checkout.id), "checkout"))).toBe(
      "cancelled",
    );
    expect(await pay(world.rt, checkout, world.offerId, "play-approved")).toMatchObject({
      kind: "under-way",
    });
  });

  it("cannot be turned back from once it is paid", async () => {
    const checkout = await openKite(world.rt);
    await paid(checkout, "play-approved");
    expect(await turnBack(world.rt, checkout)).toBe("too-late");
    expect(await turnBack(world.rt, must(await checkoutOf(world.rt, checkout.id), "checkout"))).toBe(
      "too-late",
    );
    expect((await sceneOf(checkout)).name).toBe("paid");
  });

  it("has run out of time, for the shopper at once and for the shop by news", async () => {
    const checkout = await openKite(world.rt);
    await world.rt.db.client.execute({
      sql: "update checkouts set expires_at = ? where id = ?",
      args: [world.rt.now() - 1, checkout.id],
    });
    const late = must(await checkoutOf(world.rt, checkout.id), "checkout");
    expect((await viewOf(world.rt, late, null)).scene).toEqual({ name: "expired" });
    expect((await pay(world.rt, late, world.offerId, "play-approved")).kind).not.toBe("payment");
    await expireCheckout(world.rt, late);
    await expireCheckout(world.rt, late);
    expect(await sceneOf(checkout)).toEqual({ name: "expired" });
    const { rows } = await world.rt.db.client.execute({
      sql: "select count(*) as n from outbox where checkout_id = ? and body like '%checkout.closed%'",
      args: [checkout.id],
    });
    expect(rows[0]?.n).toBe(1);
  });
});
