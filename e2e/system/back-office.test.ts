import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { checkoutOf } from "#server/checkouts/checkouts";
import { pay } from "#server/checkouts/pay";
import type { Payment } from "#server/database/rows";
import { call as gatewayCall, lineOf } from "#server/gateway/gateway";
import { paymentOf } from "#server/payments/record";
import { addStorefront, issueApiKey } from "#server/storefronts/storefronts";
import { until } from "../../demo/play";
import { type Deed, deedsOf, doDeed } from "../../standins/shop/back-office";
import { Counter } from "../../standins/shop/counter";
import { luvwinkelDe } from "../../demo/scenario";
import { must } from "./at-providers";
import { openKite, openWorld, type SystemWorld } from "./world";

// A shop's own back office, over the shop API.

let world: SystemWorld;
let key = "";
let elsewhere = "";
beforeAll(async () => {
  world = await openWorld({ beside: false });
  key = await issueApiKey(world.rt, "test", "luvwinkel-de", "test");
  await addStorefront(world.rt, "test", { ...luvwinkelDe("http://localhost:2"), id: "other", name: "Other" });
  elsewhere = await issueApiKey(world.rt, "test", "other", "test");
});
afterAll(() => world.end());
beforeEach(async () => {
  await fetch(`${world.standins}/weather/karvello`, { method: "DELETE" });
});

let sent = 0;
async function call(
  method: string,
  path: string,
  body?: unknown,
  { once = `k${(sent += 1)}`, as = key }: { once?: string | null; as?: string } = {},
) {
  const response = await fetch(`${world.origin}/api/v1${path}`, {
    method,
    headers: {
      authorization: `Bearer ${as}`,
      ...(method === "POST" && { "content-type": "application/json" }),
      ...(method === "POST" && once && { "idempotency-key": once }),
    },
    ...(method === "POST" && { body: JSON.stringify(body ?? {}) }),
  });
  const read = (await response.json()) as Record<string, unknown>;
  return { status: response.status, body: read, payment: read.payment as Record<string, unknown> };
}
async function bought(capture: "at-once" | "later", reference = `BO-${(sent += 1)}`): Promise<Payment> {
  const checkout = await openKite(world.rt, { reference });
  const paid = await pay(world.rt, checkout, world.offerId, "play-approved", { capture, patient: true });
  if (paid.kind !== "payment") throw new Error(paid.kind);
  if (capture === "at-once") await until("captured", async () => (await now(paid.payment)).captured > 0);
  return paid.payment;
}
const now = async ({ id }: Payment) => must(await paymentOf(world.rt, id));
async function sandboxPlays(payment: Payment, answer: string) {
  const line = must(await lineOf(world.rt, payment));
  await gatewayCall(world.rt, line, "actForShopper", { ref: (await now(payment)).providerRef, answer });
}
const act = (payment: Payment, kind: string, body?: unknown, options?: Parameters<typeof call>[3]) =>
  call("POST", `/payments/${payment.id}/${kind}`, body, options);

describe("a shop's back office", () => {
  it("captures when goods are sent, in parts and again, and releases what is not sent", async () => {
    const payment = await bought("later");
    expect(await act(payment, "capture", { amount: "10.00", final: false })).toMatchObject({
      status: 200,
      body: { done: true },
      payment: { captured: "10.00", held: "33.90" },
    });
    expect(await act(payment, "release", { amount: "3.90" })).toMatchObject({ payment: { held: "30.00" } });
    expect(await act(payment, "capture")).toMatchObject({ payment: { captured: "40.00", held: "0.00" } });
    expect(await act(payment, "capture")).toMatchObject({
      status: 409,
      body: { type: "/problems/not-possible" },
    });
  });

  it("refunds once for each key, whatever it is asked, and no more than there is", async () => {
    const payment = await bought("at-once");
    const first = await act(payment, "refund", { amount: "5.00", reason: "torn" }, { once: "torn-1" });
    const again = await act(payment, "refund", { amount: "5.00", reason: "torn" }, { once: "torn-1" });
    expect([first, again]).toMatchObject([
      { payment: { refunded: "5.00" } },
      { payment: { refunded: "5.00" } },
    ]);
    expect((await act(payment, "refund", { amount: "6.00" }, { once: "torn-1" })).status).toBe(409);
    expect((await act(payment, "refund", { amount: "99.00" })).status).toBe(409);
    expect(await act(payment, "refund", { amount: "5,00" })).toMatchObject({
      status: 422,
      body: { errors: [{ pointer: "/amount" }] },
    });
    expect((await act(payment, "refund", {}, { once: null })).status).toBe(400);
    expect(await act(payment, "refund")).toMatchObject({ payment: { state: "refunded", refunded: "43.90" } });
  });

  it("captures and refunds by lines of the order, each no more often than it was ordered", async () => {
    const payment = await bought("later");
    // The kite without its shipping, then the shipping.
    const lines = [{ line: 0, quantity: 1 }];
    expect(await act(payment, "capture", { lines, final: false })).toMatchObject({
      status: 200,
      payment: { captured: "39.00", held: "4.90" },
    });
    expect(await act(payment, "capture", { lines })).toMatchObject({
      status: 422,
      body: { errors: [{ pointer: "/lines/0/quantity", code: "more-than-left" }] },
    });
    expect(await act(payment, "capture", { shipping: true })).toMatchObject({
      payment: { captured: "43.90" },
    });
    // A capture does not count for refunds; the same key asks once.
    const refund = () => act(payment, "refund", { lines, reason: "torn" }, { once: "by-lines" });
    expect([await refund(), await refund()]).toMatchObject([
      { payment: { refunded: "39.00" } },
      { payment: { refunded: "39.00" } },
    ]);
    expect((await act(payment, "refund", { lines })).status).toBe(422);
    expect((await act(payment, "refund", { lines, amount: "1.00" })).body).toMatchObject({
      errors: [{ pointer: "/amount", code: "not-with-lines" }],
    });
    expect((await act(payment, "refund", { lines: [{ line: 4, quantity: 1 }] })).body).toMatchObject({
      errors: [{ pointer: "/lines/0/line" }],
    });
    expect((await act(payment, "refund", { lines: [{ line: 0, quantity: -1 }] })).status).toBe(422);
  });

  it("reads what a person should look at about a payment", async () => {
    const payment = await bought("at-once");
    const read = async () =>
      ((await call("GET", `/payments/${payment.id}`)).body as { findings: string[] }).findings;
    expect(await read()).toEqual([]);
    await sandboxPlays(payment, "complain");
    await until("the finding", async () => (await read()).length > 0);
    expect(await read()).toEqual(["dispute"]);
    const { rows } = await world.rt.db.client.execute({
      sql: "select body from outbox where payment_id = ? order by created_at desc, id desc limit 1",
      args: [payment.id],
    });
    expect(JSON.parse(String(rows[0]?.body))).toMatchObject({ data: { payment: { findings: ["dispute"] } } });
  });

  it("sends a shopper back to an app that the storefront lists, and to no other", async () => {
    const open = async (returnAddress: string) => {
      const { status, body } = await call("POST", "/checkouts", {
        ...{ reference: `APP-${(sent += 1)}`, currency: "EUR", shipping: "0", tax: "0", total: "39.00" },
        lines: [{ name: "Kite", quantity: 1, unit: "39.00", total: "39.00" }],
        ...{ country: "DE", language: "de", group: "retail", returnAddress },
      });
      const [error] = (body.errors as { pointer: string; code: string }[] | undefined) ?? [];
      return [status, error?.code ?? null];
    };
    expect(await open("com.luvwinkel.app:/orders/7")).toEqual([422, "unknown-app"]);
    await world.rt.db.client.execute(
      `update storefronts set apps = '["com.luvwinkel.app"]' where id = 'luvwinkel-de'`,
    );
    expect(await open("com.luvwinkel.app:/orders/7")).toEqual([201, null]);
    expect(await open("com.luvwinkel.other:/orders/7")).toEqual([422, "unknown-app"]);
    expect(await open("javascript:alert(1)")).toEqual([422, "malformed"]);
  });

  it("is told to come back when it calls too often, and nothing was done", async () => {
    const fresh = await issueApiKey(world.rt, "test", "luvwinkel-de", "test");
    world.settings.shopCallsPerSecond = 3;
    try {
      const answers = await Promise.all(
        Array.from({ length: 12 }, () =>
          fetch(`${world.origin}/api/v1/storefront`, { headers: { authorization: `Bearer ${fresh}` } }),
        ),
      );
      const refused = answers.filter((one) => one.status === 429);
      expect(refused.length).toBeGreaterThan(0);
      expect(answers.filter((one) => one.status === 200).length).toBeGreaterThan(0);
      expect(refused[0]?.headers.get("retry-after")).toBe("1");
      expect(await refused[0]?.json()).toMatchObject({ type: "/problems/too-many", status: 429 });
      // Another key is another shop.
      const other = await fetch(`${world.origin}/api/v1/storefront`, {
        headers: { authorization: `Bearer ${elsewhere}` },
      });
      expect(other.status).toBe(200);
    } finally {
      world.settings.shopCallsPerSecond = 1_000_000;
    }
  });

  it("hears that an end is not known, and later how it ended", async () => {
    const payment = await bought("at-once");
    world.wire.http = () => Promise.reject(new TypeError("gone"));
    world.settings.providerTimeout = 300;
    const asked = await act(payment, "refund", { amount: "1.00" }, { once: "unknown" });
    world.wire.http = null;
    world.settings.providerTimeout = 60_000;
    expect(asked).toMatchObject({ status: 202, body: { done: false } });
    await until("it is done", async () => (await now(payment)).refunded === 100);
    expect(await act(payment, "refund", { amount: "1.00" }, { once: "unknown" })).toMatchObject({
      status: 200,
      payment: { refunded: "1.00" },
    });
  });

  it("reaches nothing of another storefront, and no act that there is not", async () => {
    const payment = await bought("at-once");
    expect((await act(payment, "refund", {}, { as: elsewhere })).status).toBe(404);
    expect((await act(payment, "toString")).status).toBe(404);
    expect((await call("POST", "/payments/pay_nobody/refund")).status).toBe(404);
    expect(
      (await call("POST", `/orders/${payment.orderReference}/cancel`, {}, { as: elsewhere })).status,
    ).toBe(404);
    expect((await now(payment)).refunded).toBe(0);
  });

  it("cancels an order that is not paid, with what is asked of a shopper, and not one that is", async () => {
    const checkout = await openKite(world.rt, { reference: "CANCEL" });
    const paid = await pay(world.rt, checkout, world.offerId, "play-ask", { patient: true });
    expect(await call("POST", "/orders/CANCEL/cancel")).toMatchObject({
      status: 200,
      body: { state: "cancelled" },
    });
    expect((await checkoutOf(world.rt, checkout.id))?.state).toBe("cancelled");
    if (paid.kind === "payment") expect((await now(paid.payment)).state).toBe("cancelled");
    const other = await bought("at-once", "NOT-CANCEL");
    expect(await call("POST", `/orders/${other.orderReference}/cancel`)).toMatchObject({
      status: 409,
      body: { type: "/problems/order-paid" },
    });
    const open = await openKite(world.rt, { reference: "EXPIRE" });
    expect(await call("POST", `/checkouts/${open.id}/expire`)).toMatchObject({ body: { state: "expired" } });
    expect((await call("POST", "/orders/nobody/cancel")).status).toBe(404);
  });

  it("asks anew for another sum by a new checkout, which ends the older one", async () => {
    const before = await openKite(world.rt, { reference: "AMEND" });
    await openKite(world.rt, {
      ...{ reference: "AMEND", total: 4490, shipping: 590 },
    });
    expect((await checkoutOf(world.rt, before.id))?.state).toBe("cancelled");
    expect((await call("GET", "/orders/AMEND")).body).toMatchObject({ due: "44.90", state: "open" });
  });

  it("reads orders, payments and what it was told, page by page", async () => {
    const orders = await call("GET", "/orders?state=paid");
    expect(orders.body).toMatchObject({ next: null });
    expect((orders.body.orders as { state: string }[]).every((one) => one.state === "paid")).toBe(true);
    const one = await bought("at-once", "LISTED");
    const found = await call("GET", "/payments?order=LISTED");
    expect(found.body).toMatchObject({ payments: [{ payment: one.id, order: "LISTED" }], next: null });
    const at = (await paymentOf(world.rt, one.id))?.createdAt ?? 0;
    const between = async (since: number, until: number) =>
      (
        await call(
          "GET",
          `/payments?order=LISTED&since=${new Date(since).toISOString()}&until=${new Date(until).toISOString()}`,
        )
      ).body.payments;
    expect(await between(at, at)).toHaveLength(1);
    expect([...((await between(at - 9, at - 1)) as []), ...((await between(at + 1, at + 9)) as [])]).toEqual(
      [],
    );
    expect((await call("GET", "/orders?state=rich")).status).toBe(422);
    expect((await call("GET", "/events?after=%27%20or%201=1")).status).toBe(422);
    expect((await call("GET", "/events?since=yesterday")).status).toBe(422);
    for (let n = 0; n < 101; n++) await openKite(world.rt);
    const seen = new Set<string>();
    let cursor: string | null = "";
    for (let pages = 0; cursor !== null && pages < 10; pages++) {
      const page = await call("GET", `/orders${cursor && `?after=${cursor}`}`);
      for (const order of page.body.orders as { order: string }[]) seen.add(order.order);
      cursor = page.body.next as string | null;
    }
    const { rows } = await world.rt.db.client.execute(
      "select count(*) as n from orders where origin = 'shop'",
    );
    expect(seen.size).toBe(Number(rows[0]?.n));
    const events = (await call("GET", "/events")).body.events as { id: string; type: string }[];
    expect(events.length).toBeGreaterThan(3);
    const rest = await call("GET", `/events?after=${events[2]?.id ?? ""}`);
    expect((rest.body.events as { id: string }[])[0]?.id).toBe(events[3]?.id);
    const away = await call("GET", "/events", undefined, { as: elsewhere });
    expect(away.body).toEqual({ events: [], next: null });
  });
});

describe("the demo shop's back office", () => {
  it("sends, gives back and cancels through the generated client", async () => {
    const counter = new Counter(() => "http://shop.example");
    counter.state.api = `${world.origin}/api/v1`;
    counter.state.keys.test = key;
    const payment = await bought("later", "SHOP-1");
    const placed = must(
      counter.place({ moewe: 1 }, { email: "ida@example.org", country: "DE", language: "de" }),
    );
    const order = Object.assign(placed, {
      ...{ no: "SHOP-1", mode: "test" as const, payment: payment.id, state: "authorised" },
      ...{ money: { due: "43.90", held: "43.90", paid: "0.00", refunded: "0.00" } },
    });
    expect(deedsOf(order)).toEqual(["sent"]);
    const does = (deed: Deed, amount: string, once: string) => doDeed(counter, order, deed, { amount, once });
    expect(await does("sent", "43.90", "sent-1")).toBe("SHOP-1: 43.90 taken.");
    Object.assign(order, { state: "captured", money: { ...order.money, held: "0.00", paid: "43.90" } });
    expect(deedsOf(order)).toEqual(["refund"]);
    expect(await does("refund", "3.90", "back-1")).toBe("SHOP-1: 3.90 given back.");
    expect(await does("refund", "3.90", "back-1"), "the same press again").toBe("SHOP-1: 3.90 given back.");
    expect((await now(payment)).refunded).toBe(390);
    expect(await does("refund", "400.00", "back-2")).toMatch(/^409: /);
    expect(await does("cancel", "", "cancel-1")).toMatch(/^409: Void or refund its payment/);
  });
});
