import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { checkoutOf } from "#server/checkouts/checkouts";
import { pay } from "#server/checkouts/pay";
import { viewOf } from "#server/checkouts/view";
import type { Payment } from "#server/database/rows";
import { findingsAbout as findingsAboutSaid } from "#server/findings/findings";
import { act } from "#server/payments/actions";
import { paymentOf } from "#server/payments/record";
import { issueApiKey } from "#server/storefronts/storefronts";
import { until } from "../../demo/play";
import { speaking } from "../../scripts/english";
import { must } from "./at-providers";
import { openWorld, type SystemWorld } from "./world";

// An order that is paid in parts, because the shop says so: a deposit, and the rest when the kite is built.

const findingsAbout = speaking(findingsAboutSaid);

let world: SystemWorld;
let key = "";
beforeAll(async () => {
  world = await openWorld({ beside: false });
  key = await issueApiKey(world.rt, "test", "luvwinkel-de", "test");
  await world.rt.db.client.execute(
    `update storefronts set currencies = '["EUR","GBP"]' where id = 'luvwinkel-de'`,
  );
});
afterAll(() => world.end());

const rt = () => world.rt;
const now = async ({ id }: Payment) => must(await paymentOf(rt(), id));

let asked = 0;
async function call(method: string, path: string, body?: unknown) {
  const response = await fetch(`${world.origin}/api/v1${path}`, {
    method,
    headers: {
      authorization: `Bearer ${key}`,
      ...(body !== undefined && {
        "content-type": "application/json",
        "idempotency-key": `d${(asked += 1)}`,
      }),
    },
    ...(body !== undefined && { body: JSON.stringify(body) }),
  });
  return { status: response.status, body: (await response.json()) as Record<string, unknown> };
}
const order = (reference: string, change: object = {}) => ({
  ...{ reference, currency: "EUR", shipping: "0", tax: "0", total: "900.00", country: "DE", language: "de" },
  lines: [{ name: "Kite made to measure", quantity: 1, unit: "900.00", total: "900.00" }],
  ...{ group: "retail", email: "ida@example.org", returnAddress: "http://localhost:1/orders" },
  ...change,
});
const open = (reference: string, change: object = {}) => call("POST", "/checkouts", order(reference, change));
async function opened(reference: string, change: object = {}): Promise<string> {
  const { status, body } = await open(reference, change);
  expect(status, JSON.stringify(body)).toBe(201);
  return String(body.checkout);
}
async function bought(checkoutId: string, capture: "at-once" | "later" = "at-once"): Promise<Payment> {
  const checkout = must(await checkoutOf(rt(), checkoutId));
  const paid = await pay(rt(), checkout, world.offerId, "play-approved", { capture, patient: true });
  if (paid.kind !== "payment") throw new Error(paid.kind);
  await until("approved", async () => (await now(paid.payment)).authorised > 0);
  if (capture === "at-once") await until("captured", async () => (await now(paid.payment)).captured > 0);
  return paid.payment;
}
const standing = async (reference: string) => (await call("GET", `/orders/${reference}`)).body;
const stateOf = async (id: string) => must(await checkoutOf(rt(), id)).state;

describe("an order that is paid in parts", () => {
  it("asks for the deposit first and then for the rest, and is paid once all of it is there", async () => {
    const first = await opened("KITE-1", { payNow: "200.00" });
    expect((await viewOf(rt(), must(await checkoutOf(rt(), first)), null)).order).toMatchObject({
      total: 90_000,
      payNow: 20_000,
    });
    const deposit = await bought(first);
    expect((await now(deposit)).amount).toBe(20_000);
    expect(await standing("KITE-1")).toMatchObject({ state: "open", paid: "200.00", left: "700.00" });
    // A deposit is no paid order: the shop is told no stage of one.
    expect((await standing("KITE-1")).stage).toBeNull();
    expect(await stateOf(first)).toBe("paid");
    // Without a word about how much, the rest is asked for.
    const second = await opened("KITE-1");
    expect((await call("GET", `/checkouts/${second}`)).body).toMatchObject({
      total: "900.00",
      payNow: "700.00",
    });
    const rest = await bought(second);
    expect(await standing("KITE-1")).toMatchObject({
      ...{ state: "paid", paid: "900.00", left: "0.00", payment: rest.id, stage: "Paid: to the loft" },
    });
    expect((await open("KITE-1")).body).toMatchObject({ type: "/problems/order-paid" });
    expect(await findingsAbout(rt(), rest.id)).toEqual([]);
  });

  it("refuses more than is left, nothing, and another currency", async () => {
    const refused = async (reference: string, change: object) => {
      const { status, body } = await open(reference, change);
      return [status, (body.errors as { pointer: string; code: string }[] | undefined)?.[0]];
    };
    expect(await refused("KITE-2", { payNow: "900.01" })).toMatchObject([422, { pointer: "/payNow" }]);
    expect(await refused("KITE-2", { payNow: "0" })).toMatchObject([422, { pointer: "/payNow" }]);
    expect(await refused("KITE-2", { payNow: "lots" })).toMatchObject([422, { code: "not-a-number" }]);
    await bought(await opened("KITE-2", { payNow: "200.00" }));
    expect(await refused("KITE-2", { payNow: "700.01" })).toMatchObject([422, { code: "more-than-left" }]);
    expect(await refused("KITE-2", { currency: "GBP" })).toMatchObject([422, { code: "other-currency" }]);
    const lines = [{ name: "Smaller", quantity: 1, unit: "150.00", total: "150.00" }];
    expect(await refused("KITE-2", { lines, total: "150.00" })).toMatchObject([422, { pointer: "/total" }]);
  });

  it("ends checkouts that have no room any more, and those that ask for what was asked anew", async () => {
    const whole = await opened("KITE-3");
    const once = await opened("KITE-3", { payNow: "200.00" });
    const again = await opened("KITE-3", { payNow: "300.00" });
    expect([await stateOf(whole), await stateOf(once)]).toEqual(["cancelled", "cancelled"]);
    await bought(again);
    const rest = [await opened("KITE-3", { payNow: "500.00" }), await opened("KITE-3")];
    expect(await Promise.all(rest.map(stateOf))).toEqual(["cancelled", "open"]);
  });

  it("gives back by itself what was paid beyond it", async () => {
    const held = await bought(await opened("KITE-4", { payNow: "600.00" }), "later");
    // Both are pressed before either is decided: the second has no room.
    const part = await opened("KITE-4", { payNow: "300.00" });
    await rt().db.client.execute({
      sql: `update checkouts set "order" = json_set("order", '$.payNow', 60000) where id = ?`,
      args: [part],
    });
    const beyond = await bought(part, "later");
    await until("it is let go", async () => (await now(beyond)).state === "voided");
    expect(await standing("KITE-4")).toMatchObject({ state: "open", held: "600.00", left: "300.00" });
    expect((await now(held)).held).toBe(60_000);
  });

  it("has room again for a part that was let go of, and none for one that was refunded", async () => {
    const held = await bought(await opened("KITE-5", { payNow: "200.00" }), "later");
    await bought(await opened("KITE-5"));
    expect(await standing("KITE-5")).toMatchObject({ state: "paid", held: "200.00", paid: "700.00" });
    await act(rt(), "ida", await now(held), { kind: "void", amount: 20_000, once: "void" });
    expect(await standing("KITE-5")).toMatchObject({ state: "open", held: "0.00", left: "200.00" });
    const last = await bought(await opened("KITE-5"));
    expect(await standing("KITE-5")).toMatchObject({ state: "paid", paid: "900.00" });
    await act(rt(), "ida", await now(last), { kind: "refund", amount: 20_000, once: "refund" });
    expect(await standing("KITE-5")).toMatchObject({ state: "paid", refunded: "200.00", left: "0.00" });
  });
});
