import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Order } from "#core/orders/order";
import { checkoutOf } from "#server/checkouts/checkouts";
import { expireCheckout } from "#server/checkouts/leave";
import { pay } from "#server/checkouts/pay";
import type { Checkout, OrderRow, Payment } from "#server/database/rows";
import { call, lineOf } from "#server/gateway/gateway";
import { findingsAbout as findingsAboutSaid, listFindings, settleFinding } from "#server/findings/findings";
import { orderOf } from "#server/orders/orders";
import { act } from "#server/payments/actions";
import { paymentOf } from "#server/payments/record";
import { until } from "../../demo/play";
import { speaking } from "../../scripts/english";
import { must } from "./at-providers";
import { openKite, openWorld, type SystemWorld } from "./world";

// Orders, and what becomes of them when more than one payment is made for one.

const findingsAbout = speaking(findingsAboutSaid);

let world: SystemWorld;
beforeAll(async () => {
  world = await openWorld({ beside: false });
});
afterAll(() => world.end());

const rt = () => world.rt;
const now = async ({ id }: Payment) => must(await paymentOf(rt(), id));
const order = async (reference: string): Promise<OrderRow> =>
  must(await orderOf(rt(), { storefrontId: "luvwinkel-de", mode: "test", origin: "shop", reference }));
async function buy(checkout: Checkout, token = "play-approved"): Promise<Payment> {
  const paid = await pay(rt(), must(await checkoutOf(rt(), checkout.id)), world.offerId, token, {
    patient: true,
  });
  if (paid.kind !== "payment") throw new Error(paid.kind);
  return paid.payment;
}
async function answer(payment: Payment, says: "pass" | "fail") {
  const line = must(await lineOf(rt(), payment));
  await call(rt(), line, "actForShopper", { ref: (await now(payment)).providerRef, answer: says });
}
/** What the shop was told of an order, the oldest first. */
async function news(reference: string) {
  const { rows } = await rt().db.client.execute("select body from outbox order by id");
  return rows
    .map((row) => JSON.parse(String(row.body)) as { type: string; data: { order: Record<string, unknown> } })
    .filter((one) => one.type === "order.changed" && one.data.order.order === reference);
}
const kite = (reference: string, change: Partial<Order> = {}) => openKite(rt(), { reference, ...change });

describe("an order", () => {
  it("knows what is due, held, paid and refunded, and counts each change", async () => {
    const checkout = await kite("ONE");
    expect(await order("ONE")).toMatchObject({ state: "open", due: 4390, paid: 0, payingPaymentId: null });
    const declined = await buy(checkout, "play-short");
    expect(await order("ONE")).toMatchObject({ state: "open", stage: "Refused" });
    const payment = await buy(checkout);
    await until("it is captured", async () => (await order("ONE")).paid === 4390);
    expect(await order("ONE")).toMatchObject({
      state: "paid",
      payingPaymentId: payment.id,
      stage: "Paid: to the loft",
    });
    await act(rt(), "ida", await now(payment), { kind: "refund", amount: 1000, once: "part" });
    expect(await order("ONE")).toMatchObject({ state: "paid", paid: 4390, refunded: 1000 });
    const versions = (await news("ONE")).map((one) => Number(one.data.order.version));
    expect(versions).toEqual([...versions].sort((a, b) => a - b));
    expect(new Set(versions).size).toBe(versions.length);
    expect((await order("ONE")).version).toBe(versions.at(-1));
    expect((await now(declined)).state).toBe("declined");
  });

  it("is paid once: of two checkouts the first wins, and the other is closed", async () => {
    const [first, second, asked] = [await kite("TWO"), await kite("TWO"), await kite("TWO")];
    const waiting = await buy(asked, "play-ask");
    const payment = await buy(first);
    expect((await checkoutOf(rt(), second.id))?.state).toBe("cancelled");
    await until("what was asked elsewhere is let go", async () => (await now(waiting)).state === "expired");
    expect(await order("TWO")).toMatchObject({ payingPaymentId: payment.id, state: "paid" });
  });

  it("is not unpaid by a second payment: that is a finding, and goes back by itself", async () => {
    const [first, second] = [await kite("SURPLUS"), await kite("SURPLUS")];
    const waiting = await buy(second, "play-ask");
    const payment = await buy(first);
    // The shopper passes the bank's question in the other window before it could be let go of.
    await answer(waiting, "pass").catch(() => undefined);
    await until("it has come to an end", async () => {
      const { state } = await now(waiting);
      return ["refunded", "voided", "expired"].includes(state);
    });
    await until("it is captured", async () => (await order("SURPLUS")).paid === 4390);
    expect(await order("SURPLUS")).toMatchObject({
      state: "paid",
      payingPaymentId: payment.id,
      refunded: 0,
      stage: "Paid: to the loft",
    });
    for (const one of await news("SURPLUS"))
      if (one.data.order.payment)
        expect(one.data.order).toMatchObject({ payment: payment.id, refunded: "0.00" });
  });

  it("tells of a surplus until it is gone, and of one that cannot be given back until somebody has settled it", async () => {
    const [first, second] = [await kite("STUCK"), await kite("STUCK")];
    const waiting = await buy(second, "play-ask");
    await buy(first);
    await rt().db.client.execute({
      sql: "update checkouts set active_payment_id = null, state = 'open' where id = ?",
      args: [second.id],
    });
    const refunds =
      "select count(*) as n from payment_operations where payment_id = ? and kind in ('refund', 'void')";
    world.wire.http = (input, init) =>
      init?.method === "POST" && /give-back|drop/.test(String(input))
        ? Promise.resolve(Response.json({ fault: { code: "K-999", text: "not today" } }, { status: 422 }))
        : fetch(input, init);
    try {
      await answer(waiting, "pass").catch(() => undefined);
      const found = async () =>
        (await findingsAbout(rt(), waiting.id)).filter((one) => one.kind === "surplus");
      if ((await now(waiting)).state === "pending" || (await now(waiting)).captured > 0) {
        await until("it is a finding", async () => (await found()).length === 1);
        expect((await found())[0]?.says).toContain("Another payment pays this order already.");
        const tried = async () =>
          Number((await rt().db.client.execute({ sql: refunds, args: [waiting.id] })).rows[0]?.n);
        await until("it was tried", async () => (await tried()) > 0);
        const calm = async () => {
          const jobs = "select 1 from jobs where kind in ('undo-surplus', 'operation', 'apply')";
          return (await rt().db.client.execute(jobs)).rows.length === 0;
        };
        await until(
          "nothing of it is left to do",
          async () => (await now(waiting)).captured > 0 && (await calm()),
        );
        // Once for what was held, and once for what was captured.
        const before = await tried();
        expect(before).toBeLessThanOrEqual(2);
        world.clock.offset = 60_000;
        rt().nudge();
        await until("nothing of it comes again", calm);
        expect(await tried(), "what was refused is not tried again for ever").toBe(before);
        world.clock.offset = 0;
        const [finding] = await found();
        const settled = { as: "resolved", reason: "refunded by hand" } as const;
        expect(await settleFinding(rt(), "ida", "luvwinkel-de", must(finding).id, settled)).toBe(true);
        expect((await found())[0]).toMatchObject({
          state: "resolved",
          person: "ida",
          reason: "refunded by hand",
        });
      }
    } finally {
      world.wire.http = null;
      world.clock.offset = 0;
    }
  });

  it("gives nothing back by itself of what was there before orders were kept", async () => {
    const [first, second] = [await kite("OLD"), await kite("OLD-2")];
    const paying = await buy(first);
    const other = await buy(second);
    await until(
      "both are captured",
      async () => (await now(other)).captured === 4390 && (await order("OLD")).paid === 4390,
    );
    // As a migration leaves it: two captured payments of one order.
    await rt().db.client.execute({
      sql: "update checkouts set order_id = (select order_id from checkouts where id = ?) where id = ?",
      args: [first.id, second.id],
    });
    await act(rt(), "ida", await now(other), { kind: "refund", amount: 100, once: "by hand" });
    expect((await findingsAbout(rt(), other.id)).map((one) => one.kind)).toContain("surplus");
    rt().nudge();
    await new Promise((resolve) => setTimeout(resolve, 1_500));
    expect(await now(other)).toMatchObject({ refunded: 100 });
    expect(await order("OLD")).toMatchObject({ payingPaymentId: paying.id, refunded: 0 });
  });

  it("takes money that comes after its checkout was over, and says so", async () => {
    const checkout = await kite("LATE");
    const payment = await buy(checkout, "play-ask");
    // As if the provider had not been able to say that it let go.
    await rt().db.client.execute({
      sql: "update checkouts set active_payment_id = null where id = ?",
      args: [checkout.id],
    });
    await expireCheckout(rt(), must(await checkoutOf(rt(), checkout.id)));
    expect((await checkoutOf(rt(), checkout.id))?.state).toBe("expired");
    await answer(payment, "pass");
    await until("it is paid", async () => (await order("LATE")).paid === 4390);
    expect((await findingsAbout(rt(), payment.id)).map((one) => one.kind)).toEqual(["late"]);
    const { rows } = await listFindings(rt(), "luvwinkel-de", { mode: "test", open: true, after: null });
    expect(rows.map((one) => [one.to, one.kind])).toContainEqual([
      `/s/${payment.storefrontId}/operate/${payment.id}`,
      "late",
    ]);
  });

  it("sends no stage that the shop no longer declares, and says which is gone", async () => {
    const declared = await rt().db.client.execute("select stages from storefronts where id = 'luvwinkel-de'");
    await rt().db.client.execute(
      `update storefronts set stages = '["Reserved","Refused","Handed back","Under question"]' where id = 'luvwinkel-de'`,
    );
    const payment = await buy(await kite("STAGE"));
    await until("it is paid", async () => (await order("STAGE")).paid === 4390);
    expect((await order("STAGE")).stage).not.toBe("Paid: to the loft");
    expect((await findingsAbout(rt(), payment.id)).map((one) => one.kind)).toEqual(["stage-unknown"]);
    await rt().db.client.execute({
      sql: "update storefronts set stages = ? where id = 'luvwinkel-de'",
      args: [String(declared.rows[0]?.stages)],
    });
  });
});
