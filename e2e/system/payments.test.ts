import { speaking, spoken } from "../../scripts/english";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { checkoutOf } from "#server/checkouts/checkouts";
import { expireCheckout, turnBack } from "#server/checkouts/leave";
import { lookUp } from "#server/checkouts/look-up";
import { pay } from "#server/checkouts/pay";
import { enterKey as enterKeySaid } from "#server/connections/keys";
import { proveKeys } from "#server/connections/proving";
import { call, lineOf, openLine } from "#server/gateway/gateway";
import { act as actSaid } from "#server/payments/actions";
import type { Payment } from "#server/database/rows";
import { paymentOf } from "#server/payments/record";
import { switchOffer as switchOfferSaid } from "#server/offers/offers";
import { filterFrom, listPayments } from "#server/payments/list";
import { lockedNow, luvwinkel, until, whereIs } from "../../demo/play";
import { candidatesAt, inTest, openKite, openWorld, type SystemWorld } from "./world";

const enterKey = speaking(enterKeySaid);
const act = speaking(actSaid);
const switchOffer = speaking(switchOfferSaid);

let world: SystemWorld;
beforeAll(async () => {
  world = await openWorld({ beside: false });
});
afterAll(() => world.end());
beforeEach(async () => {
  await fetch(`${world.standins}/weather/karvello`, { method: "DELETE" });
});

const buy = async (token: string, options: Parameters<typeof pay>[4] = {}) => {
  const checkout = await openKite(world.rt);
  const paid = await pay(world.rt, checkout, world.offerId, token, options);
  if (paid.kind !== "payment") throw new Error(paid.kind);
  return { checkout, payment: paid.payment };
};
const now = async (payment: Payment) => (await paymentOf(world.rt, payment.id)) as Payment;
const chargesOf = async (payment: Payment) => {
  const line = await lineOf(world.rt, payment);
  if (!line) throw new Error("no line");
  const answer = await call(world.rt, line, "find", {
    reference: payment.reference,
  });
  return answer.kind === "answered" ? answer.value.payments : [];
};

describe("paying", () => {
  it("captures, declines and fails as the issuer says, and closes the checkout only when paid", async () => {
    const good = await buy("play-approved");
    expect(good.payment).toMatchObject({ state: "captured", captured: 4390, stage: "Paid: to the loft" });
    expect((await checkoutOf(world.rt, good.checkout.id))?.state).toBe("paid");
    const bad = await buy("play-short");
    expect(bad.payment.state).toBe("declined");
    expect(await checkoutOf(world.rt, bad.checkout.id)).toMatchObject({
      state: "open",
      activePaymentId: null,
    });
    expect((await buy("play-error")).payment.state).toBe("failed");
  });

  it("makes one payment of a double press in two tabs", async () => {
    const checkout = await openKite(world.rt);
    await world.weather("latency", 1, 200);
    const presses = await Promise.all(
      [1, 2, 3, 4, 5].map(() => pay(world.rt, checkout, world.offerId, "play-approved")),
    );
    const made = presses.filter((one) => one.kind === "payment");
    expect(made).toHaveLength(1);
    expect(presses.filter((one) => one.kind === "under-way")).toHaveLength(4);
    expect(await pay(world.rt, checkout, world.offerId, "play-approved")).toMatchObject({
      kind: "under-way",
    });
    const [only] = made;
    expect(only?.kind === "payment" && (await chargesOf(only.payment)).length).toBe(1);
  });

  it("refuses an offer that is withheld, whatever the form said", async () => {
    const tooDear = await openKite(world.rt, {
      total: 200_000,
      lines: [{ name: "x", quantity: 1, unit: 199_510, total: 199_510 }],
    });
    expect(await pay(world.rt, tooDear, world.offerId, "play-approved")).toEqual({
      kind: "refused",
      because: "not-offered",
    });
    await switchOffer(world.rt, "test", inTest(world.offerId), "test", true);
    expect(await pay(world.rt, await openKite(world.rt), world.offerId, "play-approved")).toMatchObject({
      kind: "refused",
    });
    await switchOffer(world.rt, "test", inTest(world.offerId), "test", false);
    expect(await pay(world.rt, await openKite(world.rt), "off_unknown", "play-approved")).toMatchObject({
      kind: "refused",
    });
  });

  it("turns back, and lets go at the provider of what was asked", async () => {
    const { checkout, payment } = await buy("play-ask");
    expect(payment.state).toBe("pending");
    const fresh = await checkoutOf(world.rt, checkout.id);
    expect(fresh && (await turnBack(world.rt, fresh))).toBe("cancelled");
    expect((await now(payment)).state).toBe("cancelled");
    expect((await chargesOf(payment))[0]?.status).toBe("dropped");
    expect((await checkoutOf(world.rt, checkout.id))?.state).toBe("cancelled");
  });

  it("expires an abandoned checkout, and not one that was paid meanwhile", async () => {
    const abandoned = await buy("play-ask");
    const paid = await buy("play-approved");
    for (const { checkout } of [abandoned, paid]) {
      const fresh = await checkoutOf(world.rt, checkout.id);
      if (fresh?.state === "open") await expireCheckout(world.rt, fresh);
    }
    expect((await checkoutOf(world.rt, abandoned.checkout.id))?.state).toBe("expired");
    expect((await now(abandoned.payment)).state).toBe("expired");
    expect((await checkoutOf(world.rt, paid.checkout.id))?.state).toBe("paid");
  });
});

describe("a provider that misbehaves", () => {
  it.each(["time-out", "error", "html", "reset"])("charges once at most: %s", async (kind) => {
    await world.weather(kind, 1);
    if (kind === "time-out") world.impatient(400);
    const { payment } = await buy("play-approved");
    expect(payment.state).toBe("captured");
    expect(await chargesOf(payment)).toHaveLength(1);
  });

  it("waits with the shopper while nobody can say, and finds the truth by look-up", async () => {
    // Enough for look-ups of other payments as well.
    await world.weather("error", 50);
    const { checkout, payment } = await buy("play-approved");
    await until("it is noted that it waits", async () => (await now(payment)).state === "pending");
    await fetch(`${world.standins}/weather/karvello`, { method: "DELETE" });
    expect(await pay(world.rt, checkout, world.offerId, "play-approved")).toMatchObject({
      kind: "under-way",
    });
    world.clock.offset += 600_000;
    await lookUp(world.rt, await now(payment));
    expect((await now(payment)).state).toBe("failed");
    expect(await chargesOf(payment)).toHaveLength(0);
    expect((await checkoutOf(world.rt, checkout.id))?.activePaymentId).toBeNull();
    world.clock.offset = 0;
  });

  it("lets a second yes go that came after the order was paid otherwise", async () => {
    const asked = await buy("play-ask");
    // As if nobody had been able to say: the first try is given up and the shopper pays again.
    await world.rt.db.client.execute({
      sql: "update checkouts set active_payment_id = null where id = ?",
      args: [asked.checkout.id],
    });
    const checkout = await checkoutOf(world.rt, asked.checkout.id);
    const second = checkout && (await pay(world.rt, checkout, world.offerId, "play-approved"));
    expect(second?.kind === "payment" && second.payment.state).toBe("captured");
    const line = await openLine(world.rt, { connectionId: world.connectionId, mode: "test" });
    if (line) await call(world.rt, line, "actForShopper", { ref: asked.payment.providerRef, answer: "pass" });
    await until("the surplus is handed back", async () => (await now(asked.payment)).state === "refunded");
    expect((await checkoutOf(world.rt, asked.checkout.id))?.state).toBe("paid");
  });

  it("says which system did not answer, and keeps what was entered", async () => {
    world.wire.http = () => Promise.reject(new TypeError("fetch failed"));
    const where = await whereIs(world.rt, world.connectionId);
    const check = await enterKey(world.rt, "test", where, "test", "account-code", "KV-S-207714");
    expect(check.ok).toBe(true);
    world.wire.http = null;
    const { columnOf } = await import("#server/connections/handshake");
    const column = spoken(await columnOf(world.rt, where, await luvwinkel(world.rt), "test"));
    expect(column.unanswered).toBe("Karvello could not be reached.");
    expect(column.fields["account-code"]).toMatchObject({ state: "entered", hint: "KV-S-207714" });
    const { proveKeys } = await import("#server/connections/proving");
    await proveKeys(world.rt, where, "test");
    expect(
      (await columnOf(world.rt, where, await luvwinkel(world.rt), "test")).fields["account-code"],
    ).toMatchObject({
      state: "proven",
    });
  });
});

describe("actions", () => {
  it("captures in part, and refunds no more than there is", async () => {
    const { payment } = await buy("play-approved", { capture: "later" });
    expect(payment.state).toBe("authorised");
    expect(await act(world.rt, "test", payment, { kind: "capture", amount: 5000, once: "a" })).toMatchObject({
      ok: false,
      says: "That is more than there is.",
    });
    expect(await act(world.rt, "test", payment, { kind: "capture", amount: 3000, once: "b" })).toMatchObject({
      ok: true,
    });
    expect(await now(payment)).toMatchObject({ state: "partly-captured", captured: 3000 });
    expect(
      await act(world.rt, "test", await now(payment), { kind: "refund", amount: 3001, once: "c" }),
    ).toMatchObject({ ok: false });
    expect(
      await act(world.rt, "test", await now(payment), { kind: "refund", amount: 1000, once: "d" }),
    ).toMatchObject({ ok: true });
    expect(await now(payment)).toMatchObject({ state: "partly-refunded", refunded: 1000 });
  });

  it("refunds once when the same button is pressed twice", async () => {
    const { payment } = await buy("play-approved");
    await Promise.all(
      [1, 2].map(() => act(world.rt, "test", payment, { kind: "refund", amount: 1000, once: "same" })),
    );
    expect((await now(payment)).refunded).toBe(1000);
  });

  it("refunds once when the answer does not come", async () => {
    const { payment } = await buy("play-approved");
    await world.weather("time-out", 1);
    world.impatient(400);
    expect(
      await act(world.rt, "test", payment, { kind: "refund", amount: 1000, once: "lost" }),
    ).toMatchObject({ ok: true });
    expect((await now(payment)).refunded).toBe(1000);
  });

  it("uses the keys that the payment began with, after others were entered", async () => {
    const { payment } = await buy("play-approved");
    const other = await world.karvello.keys("sandbox");
    const where = await whereIs(world.rt, world.connectionId);
    await enterKey(world.rt, "test", where, "test", "server-key", other["server-key"] ?? "");
    expect(
      await act(world.rt, "test", payment, { kind: "refund", amount: 4390, once: "old-keys" }),
    ).toMatchObject({ ok: true });
    const [exchange] = (
      await world.rt.db.client.execute({
        sql: "select request from exchanges where payment_id = ? and operation = 'refund'",
        args: [payment.id],
      })
    ).rows;
    expect(String(exchange?.request)).toContain(`…${(world.keys.test["server-key"] ?? "").slice(-4)}`);
  });
});

describe("an offer's standing", () => {
  const standing = async () => (await candidatesAt(world.rt, "luvwinkel-de", "test"))[0]?.standing;
  const frameKey = async (value: string) =>
    enterKey(world.rt, "test", await whereIs(world.rt, world.connectionId), "test", "frame-key", value);

  it("outlives a check that the provider left unanswered, and not a key that it refused", async () => {
    expect(await standing()).toBe("ready");
    await world.weather("reset", 1);
    await proveKeys(world.rt, await whereIs(world.rt, world.connectionId), "test");
    expect(await standing()).toBe("ready");
    const { "frame-key": good = "" } = await world.karvello.keys("sandbox");
    await frameKey("kvf.s.abcdefghjkmnpqrstuvw");
    expect(await standing()).toBe("no-keys");
    await frameKey(good);
    expect(await standing()).toBe("ready");
  });
});

describe("live keys", () => {
  it("that are pasted wrong do not stop the live shop; right ones are used once they are proven", async () => {
    const { rt, karvello, connectionId, offerId } = world;
    await rt.db.client.execute("update connection_storefronts set live = 'live'");
    await rt.db.client.execute("update offers set live_id = working_id");
    const enter = async (field: string, value: string) =>
      enterKey(rt, "test", await whereIs(rt, connectionId), "live", field, value);
    const standing = async () => (await candidatesAt(rt, "luvwinkel-de", "live"))[0]?.standing;
    const keysOfPayment = async () => {
      // A live token comes from the frame only; what counts here is which keys the payment was begun with.
      const checkout = await openKite(rt, {}, "live");
      const paid = await pay(rt, checkout, offerId, "nothing");
      return paid.kind === "payment" ? paid.payment.keySetId : null;
    };
    const before = await keysOfPayment();
    expect(before).not.toBeNull();
    await enter("server-key", `kvs.l.${"a".repeat(32)}`);
    expect(await standing()).toBe("ready");
    expect(await keysOfPayment()).toBe(before);
    const gate = async () => (await lockedNow(rt, connectionId)).gates.find((one) => one.id === "live-keys");
    expect((await gate())?.open).toBe(false);

    const { "server-key": right = "" } = await karvello.keys("live");
    await enter("server-key", right);
    expect((await gate())?.open).toBe(true);
    expect(await keysOfPayment()).not.toBe(before);
    await rt.db.client.execute("update connection_storefronts set live = 'never'");
  });
});

describe("an answer without end", () => {
  it("is cut off, and said to be one", async () => {
    const line = await openLine(world.rt, { connectionId: world.connectionId, mode: "test" });
    if (!line) throw new Error("no line");
    let sent = 0;
    const endless = new ReadableStream<Uint8Array>({
      pull: (controller) => {
        sent += 1;
        controller.enqueue(new Uint8Array(100_000).fill(32));
      },
    });
    world.wire.http = () => Promise.resolve(new Response(endless));
    try {
      const answer = await call(world.rt, line, "account", {});
      expect(spoken(answer)).toMatchObject({ kind: "unanswered", says: expect.stringContaining("endless") });
      expect(sent).toBeLessThan(30);
    } finally {
      world.wire.http = null;
    }
  });
});

describe("a search", () => {
  const find = async (query: string, mode: "test" | "live" = "test") => {
    const filter = filterFrom(new URLSearchParams({ q: query }), mode);
    const { rows } = await listPayments(world.rt, "luvwinkel-de", filter);
    return rows.map((row) => row.orderReference);
  };

  it("finds by the order's beginning and by whole references, in its own mode only", async () => {
    const checkout = await openKite(world.rt, { reference: "SEEK-7" });
    const paid = await pay(world.rt, checkout, world.offerId, "play-approved");
    const payment = paid.kind === "payment" ? paid.payment : null;
    const rows = await world.rt.db.client.execute("select name from pragma_table_info('payments')");
    const columns = rows.rows.map((row) => String(row.name));
    const change: Record<string, string> = {
      id: "'pay_seek' || n",
      reference: "'z-seek' || n",
      order_reference: "'SEEK-9' || n",
      provider_ref: "'P' || n",
      mode: "'live'",
    };
    await world.rt.db.client.execute({
      sql: `insert into payments (${columns.join(",")})
        with recursive seq(n) as (select 1 union all select n + 1 from seq where n < 600)
        select ${columns.map((name) => change[name] ?? `one.${name}`).join(",")} from seq, (select * from payments where id = ?) as one`,
      args: [payment?.id ?? ""],
    });
    expect(await find("SEEK-")).toEqual(["SEEK-7"]);
    expect(await find(payment?.reference ?? "-")).toEqual(["SEEK-7"]);
    expect(await find(payment?.providerRef ?? "-")).toEqual(["SEEK-7"]);
    expect(await find("SEEK-9600", "live")).toEqual(["SEEK-9600"]);
    expect(await find("SEEK-9600")).toEqual([]);
    expect(await find("%")).toEqual([]);
    await world.rt.db.client.execute("delete from payments where mode = 'live' and id like 'pay_seek%'");
  });
});
