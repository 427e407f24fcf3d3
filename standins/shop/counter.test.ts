import { createServer, type IncomingMessage } from "node:http";
import type { AddressInfo } from "node:net";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Webhook } from "standardwebhooks";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { Counter, partOf, type ShopOrder } from "./counter";
import { branches } from "./branches";

// The demo shop by itself: what it asks of a payment service, and what it believes of the news it hears.

let counter: Counter;
let asked: { method: string; path: string; key: string; body: Record<string, unknown> }[] = [];
let answers: Record<string, { status: number; body: object }> = {};
const service = createServer((request, response) => {
  void text(request).then((body) => {
    const path = String(request.url).replace("/api/v1", "");
    asked.push({
      method: String(request.method),
      path,
      key: String(request.headers.authorization).replace("Bearer ", ""),
      body: body ? (JSON.parse(body) as Record<string, unknown>) : {},
    });
    const answer = answers[path] ?? { status: 200, body: {} };
    response
      .writeHead(answer.status, { "content-type": "application/json" })
      .end(JSON.stringify(answer.body));
  });
});
let api = "";
beforeAll(async () => {
  service.listen(0);
  await new Promise((resolve) => service.once("listening", resolve));
  api = `http://localhost:${(service.address() as AddressInfo).port}/api/v1`;
});
afterAll(() => {
  service.closeAllConnections();
  service.close();
});
beforeEach(() => {
  asked = [];
  answers = { "/storefront": { status: 200, body: { mode: "test", name: "Luvwinkel DE" } } };
  counter = new Counter(() => "http://shop.example");
  counter.state.api = api;
  counter.state.keys.test = "key-test";
});

async function text(request: IncomingMessage): Promise<string> {
  let whole = "";
  for await (const part of request) whole += String(part);
  return whole;
}
const shopper = { email: "ida@example.org", country: "DE", language: "de" };
const place = () => counter.place({ moewe: 1, tape: 2 }, shopper) as ShopOrder;

describe("saying hello", () => {
  it("asks who it is, declares its stages and says where it listens", async () => {
    expect(await counter.sayHello("test")).toBe("Zahlung knows this shop as Luvwinkel DE (test).");
    expect(asked.map((one) => `${one.method} ${one.path}`)).toEqual([
      "GET /storefront",
      "PUT /stages",
      "PUT /news-address",
    ]);
    expect(asked.every((one) => one.key === "key-test")).toBe(true);
    expect(asked[1]?.body).toEqual({ stages: branches.de.stages });
    expect(asked[2]?.body).toEqual({
      address: "http://shop.example/news/test",
      secret: counter.state.secrets.test,
    });
    expect(Buffer.from(counter.state.secrets.test.slice(6), "base64")).toHaveLength(32);
  });

  it("notices a key of the other mode before it declares anything", async () => {
    answers["/storefront"] = { status: 200, body: { mode: "live", name: "Luvwinkel DE" } };
    expect(await counter.sayHello("test")).toBe("This is a live key, and this is the test field.");
    expect(asked).toHaveLength(1);
  });

  it("says hello for each branch, with stages and an address of its own", async () => {
    counter.access("uk").keys.live = "key-uk";
    answers["/storefront"] = { status: 200, body: { mode: "live", name: "Luvwinkel UK" } };
    expect(await counter.sayHello("live", "uk")).toBe("Zahlung knows this shop as Luvwinkel UK (live).");
    expect(asked.map(({ key }) => key)).toEqual(["key-uk", "key-uk", "key-uk"]);
    expect(asked[1]?.body).toEqual({ stages: branches.uk.stages });
    expect(asked[2]?.body).toMatchObject({ address: "http://shop.example/news/uk/live" });
  });

  it("repeats what the service says, and says when it does not answer", async () => {
    answers["/storefront"] = { status: 401, body: { detail: "This key is not known." } };
    expect(await counter.sayHello("test")).toBe("401: This key is not known.");
    counter.state.api = "http://localhost:1/api/v1";
    expect(await counter.sayHello("test")).toBe("Zahlung does not answer at http://localhost:1/api/v1");
  });
});

describe("an order", () => {
  it("adds up, and is opened for payment once for each press", async () => {
    answers["/checkouts"] = { status: 201, body: { checkout: "chk_1", address: "http://pay.example/1" } };
    const order = place();
    const sum = order.lines.reduce((total, line) => total + line.cents * line.quantity, order.shipping);
    expect(order.total).toBe(sum);
    expect(await counter.openCheckout(order, "1")).toMatchObject({ ok: true });
    const { body } = asked[0] as (typeof asked)[0];
    const cents = (value: unknown) => Math.round(Number(value) * 100);
    const lines = body.lines as { quantity: number; unit: string; total: string }[];
    for (const line of lines) expect(cents(line.total)).toBe(cents(line.unit) * line.quantity);
    expect(lines.reduce((total, line) => total + cents(line.total), cents(body.shipping))).toBe(
      cents(body.total),
    );
    expect(body).toMatchObject({
      reference: order.no,
      currency: "EUR",
      returnAddress: `http://shop.example/orders/${order.no}`,
    });
    expect(order.checkout).toBe("chk_1");
  });

  it("is in the currency and language of its branch, and asked for with that branch's key", async () => {
    counter.access("jp").keys.test = "key-jp";
    const order = counter.place({ moewe: 2 }, { ...shopper, country: "JP", language: "ja", branch: "jp" });
    expect(order).toMatchObject({ currency: "JPY", lines: [{ name: "一本糸の凧「かもめ」", cents: 6_240 }] });
    await counter.openCheckout(order as ShopOrder, "1");
    expect(asked[0]).toMatchObject({
      key: "key-jp",
      body: { currency: "JPY", shipping: "784", total: "13264", group: "retail", language: "ja" },
    });
    const dealer = counter.place({ moewe: 1 }, { ...shopper, group: "dealers" });
    await counter.openCheckout(dealer as ShopOrder, "1");
    expect(asked[1]).toMatchObject({ key: "key-test", body: { currency: "EUR", group: "dealers" } });
  });

  it("asks for the rest as the service tells it, whatever fee was paid with the first part", () => {
    const money = { due: "100.00", held: "0", paid: "34.90", refunded: "0", left: "70.00" };
    expect(partOf({ total: 10_000, money })).toBe(7_000);
  });

  it("is none without goods, and takes no odd numbers of them", () => {
    expect(counter.place({}, shopper)).toBeNull();
    expect(counter.place({ moewe: -3, unheard: 2 }, shopper)).toBeNull();
    expect(counter.place({ moewe: 1e9 }, shopper)?.lines[0]?.quantity).toBe(99);
  });
});

let sent = 0;
/** News as the service signs it: whether the shop believes it. */
const news = (type: string, data: object, secret = counter.state.secrets.test) => {
  const body = JSON.stringify({ type, data });
  const id = `msg_${(sent += 1)}`;
  const at = new Date();
  const headers = {
    "webhook-id": id,
    "webhook-timestamp": String(Math.floor(at.getTime() / 1000)),
    "webhook-signature": new Webhook(secret).sign(id, at, body),
  };
  return counter.hear("test", headers, body);
};

describe("news", () => {
  /** News of an order, from which it follows that `pays` pays it; `payment` is the one that moved. */
  const told = (
    order: ShopOrder,
    version: number,
    state: string,
    { payment = "pay_1", pays = payment as string | null, secret = counter.state.secrets.test } = {},
  ) =>
    news(
      "order.changed",
      {
        order: {
          ...{
            order: order.no,
            version,
            payment: pays,
            stage: pays === payment ? `stage of ${state}` : null,
          },
          ...{ due: "43.90", held: "0.00", paid: pays ? "43.90" : "0.00", refunded: "0.00" },
        },
        payment: { payment, state },
      },
      secret,
    );
  beforeEach(() => counter.sayHello("test"));

  it("is believed when it is signed with the shop's own secret, and not otherwise", () => {
    const order = place();
    expect(told(order, 1, "captured")).toBe(true);
    expect(order).toMatchObject({ state: "captured", stage: "stage of captured", money: { paid: "43.90" } });
    const forged = `whsec_${Buffer.alloc(32, 1).toString("base64")}`;
    expect(told(order, 9, "refunded", { secret: forged })).toBe(false);
    expect(counter.hear("live", {}, "{}")).toBe(false);
    expect(order.state).toBe("captured");
  });

  it("that was overtaken by newer news changes nothing", () => {
    const order = place();
    told(order, 3, "refunded");
    told(order, 2, "captured");
    told(order, 3, "refunded");
    expect(order).toMatchObject({ state: "refunded", version: 3 });
    expect(order.heard).toHaveLength(3);
  });

  it("of a second try replaces a refused one, and of another payment's end does not unpay a paid order", () => {
    const order = place();
    told(order, 4, "declined", { payment: "pay_1", pays: null });
    told(order, 5, "captured", { payment: "pay_2" });
    expect(order).toMatchObject({ state: "captured", payment: "pay_2" });
    told(order, 6, "refunded", { payment: "pay_1", pays: "pay_2" });
    expect(order).toMatchObject({ state: "captured", stage: "stage of captured", money: { paid: "43.90" } });
  });

  it("of a cutover closes the test orders it names, and no live one", () => {
    const test = place();
    counter.state.mode = "live";
    const live = place();
    expect(news("test-orders.close", { orders: [test.no, live.no, "LW-nobody"] })).toBe(true);
    expect([test.closed, live.closed]).toEqual([true, false]);
  });

  it("of an order of the other mode is heard and left alone", () => {
    counter.state.mode = "live";
    const live = place();
    told(live, 1, "captured");
    expect(live).toMatchObject({ state: "unpaid", heard: [] });
  });
});

describe("a subscription", () => {
  beforeEach(() => counter.sayHello("test"));

  const plan = {
    plan: "season",
    names: { de: "Ein Drachen je Saison" },
    every: { count: 3, unit: "month" as const },
    trialDays: 14,
    prices: [{ currency: "EUR", amount: "49.00", setUp: "5.00", trial: "0.00" }],
  };
  const begin = async () => {
    const body = {
      checkout: "chk_9",
      address: "http://pay.example/9",
      due: "5.00",
      state: "waiting",
      version: 1,
    };
    answers["/subscriptions"] = { status: 201, body: { ...body, nextAt: null } };
    const { email, language } = shopper;
    const about = { email, language, shopper: "customer-seebrise", group: "retail", branch: "de" as const };
    expect((await counter.subscribe(plan, about)).ok).toBe(true);
    return counter.state.orders[0] as ShopOrder;
  };
  const happens = (order: ShopOrder, version: number, what: string, more: object = {}) =>
    news("subscription.changed", {
      subscription: {
        ...{ reference: order.no, plan: "season", state: "running", nextAt: "2027-03-01T10:00:00Z", version },
        amount: "49.00",
      },
      happened: { what },
      ...more,
    });

  it("begins with an order of what is due, and is called by its number", async () => {
    asked.length = 0;
    const order = await begin();
    expect(order).toMatchObject({ total: 500, shopper: "customer-seebrise", checkout: "chk_9" });
    expect(asked[0]?.body).toMatchObject({
      reference: order.no,
      plan: "season",
      currency: "EUR",
      country: "DE",
    });
    expect(counter.state.subscriptions?.[order.no]).toMatchObject({ state: "waiting" });
  });

  it("is told of, an older word changes nothing, and each of its orders is written down once", async () => {
    const order = await begin();
    expect(happens(order, 3, "begun")).toBe(true);
    happens(order, 2, "opened");
    expect(counter.state.subscriptions?.[order.no]).toMatchObject({ state: "running", version: 3 });
    happens(order, 4, "opened", { order: `${order.no}-1` });
    happens(order, 5, "refused", { order: `${order.no}-1` });
    const later = counter.state.orders.filter(({ no }) => no === `${order.no}-1`);
    expect(later).toMatchObject([{ total: 4_900, shopper: "customer-seebrise", mode: order.mode }]);
    happens(order, 6, "opened", { order: `${order.no}-2` });
    expect(counter.state.orders[0]?.no).toBe(`${order.no}-2`);
  });
});

describe("the shelf", () => {
  it("keeps orders and keys over a restart", () => {
    const place_ = mkdtempSync(join(tmpdir(), "shop-"));
    const file = join(place_, "deep", "shop.json");
    const before = new Counter(() => "http://shop.example", file);
    before.place({ moewe: 1 }, shopper);
    before.shelf.write();
    const after = new Counter(() => "http://shop.example", file);
    expect(after.state.orders).toEqual(before.state.orders);
    expect(after.state.nextNo).toBe(1002);
    rmSync(place_, { recursive: true, force: true });
  });
});

describe("an order", () => {
  it("says what kind of goods it is, how it goes and where, and what is to be paid of a deposit", async () => {
    answers["/checkouts"] = { status: 201, body: { checkout: "chk_2", address: "http://pay.example/2" } };
    const order = counter.place(
      { sturm: 1, leine: 2 },
      { ...shopper, delivery: "pick-up", postcode: "25980", deposit: true },
    ) as ShopOrder;
    expect(order).toMatchObject({ shipping: 0, total: 18_900 + 2_580 });
    asked.length = 0;
    await counter.openCheckout(order, "1");
    expect(asked[0]?.body).toMatchObject({
      ...{
        delivery: "pick-up",
        weight: 1_500,
        shipTo: { country: "DE", postcode: "25980" },
        payNow: "64.44",
      },
      lines: [{ kind: "kite" }, { kind: "part" }],
    });
    expect(partOf({ total: 10_000, money: { due: "100", held: "0", paid: "30.00", refunded: "0" } })).toBe(
      7_000,
    );
    expect(partOf({ total: 10_000, money: { due: "100", held: "0", paid: "100.00", refunded: "0" } })).toBe(
      0,
    );
  });
});
