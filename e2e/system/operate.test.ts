import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Order } from "#core/orders/order";
import { usualTerms } from "#core/storefronts/money-terms";
import { checkoutOf } from "#server/checkouts/checkouts";
import { expireCheckout } from "#server/checkouts/leave";
import { pay } from "#server/checkouts/pay";
import type { Checkout, Payment } from "#server/database/rows";
import { findingsAbout as findingsAboutSaid } from "#server/findings/findings";
import { call, lineOf } from "#server/gateway/gateway";
import { listOrdersHere, orderHere, type OrderFilter } from "#server/orders/list";
import { takeLate } from "#server/payments/late";
import { addNote, notesOf } from "#server/payments/notes";
import { paymentOf } from "#server/payments/record";
import { decideRefund, refundOrAsk, refundRequestsOf } from "#server/payments/second-person";
import { captureMany, toCapture } from "#server/payments/to-capture";
import { forgetView, saveView, viewQuery, viewsOf } from "#server/payments/views";
import { setMoneyTerms } from "#server/storefronts/storefronts";
import { until } from "../../demo/play";
import { speaking } from "../../scripts/english";
import { must } from "./at-providers";
import { openKite, openWorld, type SystemWorld } from "./world";

// What people do with payments and orders all day, and what an owner has set about it.

const findingsAbout = speaking(findingsAboutSaid);
const DE = "luvwinkel-de";

let world: SystemWorld;
beforeAll(async () => {
  world = await openWorld({ beside: false });
});
afterAll(() => world.end());

const rt = () => world.rt;
const now = async ({ id }: Payment) => must(await paymentOf(rt(), id));
const kite = (reference: string, change: Partial<Order> = {}) => openKite(rt(), { reference, ...change });
async function buy(checkout: Checkout, token: string, capture: "at-once" | "later" = "at-once") {
  const fresh = must(await checkoutOf(rt(), checkout.id));
  const paid = await pay(rt(), fresh, world.offerId, token, { patient: true, capture });
  if (paid.kind !== "payment") throw new Error(paid.kind);
  return paid.payment;
}
const orders = (change: Partial<OrderFilter> = {}) =>
  listOrdersHere(rt(), DE, { mode: "test", state: null, query: "", after: null, ...change });
const orderOfPayment = async (payment: Payment) => {
  const checkout = must(await checkoutOf(rt(), payment.checkoutId));
  return must(await orderHere(rt(), DE, checkout.orderId)).order;
};

describe("a refund that wants two people", () => {
  const press = (amount: number, once: string, reason = "torn sail") => ({
    ...{ kind: "refund" as const, amount, once },
    ...(reason && { reason }),
  });

  it("is asked for, told of, and made when somebody else agrees", async () => {
    await setMoneyTerms(rt(), "ida", DE, { ...usualTerms, secondPersonFrom: { EUR: 2000 } });
    const payment = await buy(await kite("TWO-PEOPLE"), "play-approved");
    // Below the line one person is enough.
    expect((await refundOrAsk(rt(), "ida", await now(payment), press(1999, "small"))).ok).toBe(true);
    expect(await refundOrAsk(rt(), "ida", await now(payment), press(2000, "mute", ""))).toMatchObject({
      ok: false,
    });
    const asked = await refundOrAsk(rt(), "ida", await now(payment), press(2000, "large"));
    expect(asked).toMatchObject({ ok: false, waits: true });
    // One at a time, and never more than there is.
    expect(await refundOrAsk(rt(), "uwe", await now(payment), press(2100, "more"))).toMatchObject({
      ok: false,
    });
    expect(await refundOrAsk(rt(), "ida", await now(payment), press(9999, "all"))).toMatchObject({
      ok: false,
    });
    expect((await now(payment)).refunded).toBe(1999);
    const [request] = await refundRequestsOf(rt(), payment.id);
    const { id } = must(request);
    expect(await findingsAbout(rt(), payment.id)).toMatchObject([{ kind: "refund-to-agree", state: "open" }]);
    expect(await decideRefund(rt(), "ida", await now(payment), id, true)).toMatchObject({ ok: false });
    // Two presses at once move the money once.
    const agreed = await Promise.all([
      decideRefund(rt(), "uwe", await now(payment), id, true),
      decideRefund(rt(), "uwe", await now(payment), id, true),
    ]);
    expect(agreed.filter((one) => one.ok)).toHaveLength(1);
    expect((await now(payment)).refunded).toBe(3999);
    expect((await findingsAbout(rt(), payment.id))[0]?.state).toBe("resolved");
    expect(await refundRequestsOf(rt(), payment.id)).toMatchObject([{ state: "agreed", decidedBy: "uwe" }]);
  });

  it("is declined, or taken back by who asked, and moves nothing", async () => {
    const payment = await buy(await kite("DECLINED"), "play-approved");
    for (const who of ["uwe", "ida"]) {
      await refundOrAsk(rt(), "ida", await now(payment), press(4390, `of ${who}`));
      const [request] = await refundRequestsOf(rt(), payment.id);
      expect(await decideRefund(rt(), who, await now(payment), must(request).id, false)).toMatchObject({
        ok: true,
      });
    }
    expect((await now(payment)).refunded).toBe(0);
    await setMoneyTerms(rt(), "ida", DE, usualTerms);
  });
});

/** A payment that the issuer approves although its checkout has ended meanwhile. */
async function late(reference: string): Promise<Payment> {
  const checkout = await kite(reference);
  const payment = await buy(checkout, "play-ask");
  // The checkout ends while the provider does not hear that the payment is not wanted any more.
  const { rows } = await rt().db.client.execute({
    sql: "update checkouts set state = 'expired', closed_at = ?, active_payment_id = null where id = ? returning id",
    args: [rt().now(), checkout.id],
  });
  expect(rows).toHaveLength(1);
  const line = must(await lineOf(rt(), payment));
  await call(rt(), line, "actForShopper", { ref: (await now(payment)).providerRef, answer: "pass" });
  await until("it is approved", async () => (await now(payment)).captured > 0);
  return payment;
}

describe("money that comes late", () => {
  it("is taken for its order, and told of", async () => {
    const payment = await late("LATE-TAKEN");
    expect(await orderOfPayment(payment)).toMatchObject({ state: "paid", payingPaymentId: payment.id });
    const [finding] = await findingsAbout(rt(), payment.id);
    expect(finding?.says).toMatch(/It was taken for the order/);
  });

  it("is given back by itself where an owner wants that", async () => {
    await setMoneyTerms(rt(), "ida", DE, { ...usualTerms, late: "return" });
    const payment = await late("LATE-BACK");
    await until("it is given back", async () => (await now(payment)).refunded === 4390);
    expect(await orderOfPayment(payment)).toMatchObject({ state: "open", payingPaymentId: null, paid: 0 });
    await until("nothing waits", async () =>
      (await findingsAbout(rt(), payment.id)).every((one) => one.state === "resolved"),
    );
  });

  it("waits for a person where an owner wants that, who takes it once", async () => {
    await setMoneyTerms(rt(), "ida", DE, { ...usualTerms, late: "ask" });
    const payment = await late("LATE-ASKED");
    expect(await orderOfPayment(payment)).toMatchObject({ state: "open", payingPaymentId: null });
    expect((await findingsAbout(rt(), payment.id))[0]?.says).toMatch(
      /Take it for the order, or give it back/,
    );
    expect(await takeLate(rt(), "ida", await now(payment))).toEqual({ ok: true });
    expect(await takeLate(rt(), "uwe", await now(payment))).toEqual({ ok: true });
    const order = await orderOfPayment(payment);
    expect(order).toMatchObject({ state: "paid", payingPaymentId: payment.id, paid: 4390 });
    expect(await findingsAbout(rt(), payment.id)).toMatchObject([{ state: "resolved", person: "ida" }]);
    const { rows } = await rt().db.client.execute(
      "select count(*) as n from audit where action = 'late payment taken'",
    );
    expect(Number(rows[0]?.n)).toBe(1);
    await setMoneyTerms(rt(), "ida", DE, usualTerms);
  });
});

describe("money that is held", () => {
  it("is captured for many payments by one press, once", async () => {
    const held = await Promise.all(
      ["HELD-1", "HELD-2", "HELD-3"].map(async (one) => buy(await kite(one), "play-approved", "later")),
    );
    const listed = await toCapture(rt(), DE, "test");
    expect(listed.map((one) => one.id)).toEqual(expect.arrayContaining(held.map((one) => one.id)));
    // What ends first stands in front.
    const ends = listed.map((one) => one.heldUntil ?? Infinity);
    expect(ends).toEqual([...ends].sort((a, b) => a - b));
    const ids = [...held.map((one) => one.id), "pay_nobody"];
    const results = await captureMany(rt(), "ida", DE, ids, "press");
    expect(results.map((one) => [one.order, one.as])).toEqual([
      ["HELD-1", "done"],
      ["HELD-2", "done"],
      ["HELD-3", "done"],
    ]);
    for (const one of held) expect(await now(one)).toMatchObject({ captured: 4390, held: 0 });
    const again = await captureMany(rt(), "ida", DE, ids, "press");
    expect(again.every((one) => one.as === "refused")).toBe(true);
    expect(await captureMany(rt(), "ida", "luvwinkel-uk", ids, "elsewhere")).toEqual([]);
    expect(await toCapture(rt(), DE, "live")).toEqual([]);
  });
});

describe("what people keep", () => {
  it("are notes about a payment, the newest first, and none that is empty", async () => {
    const payment = await buy(await kite("NOTED"), "play-short");
    expect(await addNote(rt(), "ida", payment.id, "  ")).toBe(false);
    expect(await addNote(rt(), "ida", payment.id, "x".repeat(2001))).toBe(false);
    await addNote(rt(), "ida", payment.id, "rang the shopper");
    await addNote(rt(), "uwe", payment.id, " paid by transfer ");
    const notes = await notesOf(rt(), payment.id);
    expect(notes.map((one) => [one.person, one.text])).toEqual([
      ["uwe", "paid by transfer"],
      ["ida", "rang the shopper"],
    ]);
  });

  it("are lists by name: the later of one name takes the place of the earlier", async () => {
    const query = viewQuery("?state=declined&after=cursor&evil=1&mode=live");
    expect(query).toBe("mode=live&state=declined");
    const save = (name: string, text = query) => saveView(rt(), "ida", DE, { name, query: text });
    expect([await save(" "), await save("Refused")]).toEqual(["no-name", "saved"]);
    await Promise.all([save("Refused", "mode=test"), save("Refused", "mode=test")]);
    expect((await viewsOf(rt(), DE)).map((one) => [one.name, one.query])).toEqual([["Refused", "mode=test"]]);
    for (let n = 1; n < 30; n++) await save(`view ${n}`);
    expect([await save("one more"), await save("Refused")]).toEqual(["too-many", "saved"]);
    const [first] = await viewsOf(rt(), DE);
    await forgetView(rt(), "luvwinkel-uk", must(first).id);
    expect(await viewsOf(rt(), DE)).toHaveLength(30);
    await forgetView(rt(), DE, must(first).id);
    expect(await viewsOf(rt(), DE)).toHaveLength(29);
  });
});

describe("the list of orders", () => {
  it("has one line an order, by state, by the beginning of its reference, by e-mail, page after page", async () => {
    const mail = "orders@elsewhere.example";
    for (let n = 1; n <= 30; n++) await kite(`LIST-${String(n).padStart(2, "0")}`, { email: mail });
    await buy(await kite("LIST-07"), "play-approved");
    const first = await orders({ query: "LIST-" });
    expect(first.rows).toHaveLength(25);
    const second = await orders({ query: "LIST-", after: first.next });
    const all = [...first.rows, ...second.rows].map((one) => one.reference);
    expect([new Set(all).size, second.next]).toEqual([30, null]);
    expect((await orders({ query: "LIST-0" })).rows).toHaveLength(9);
    expect((await orders({ query: "LIST-", state: "paid" })).rows.map((one) => one.reference)).toEqual([
      "LIST-07",
    ]);
    expect((await orders({ query: mail })).rows).toHaveLength(25);
    expect((await orders({ query: "nobody@elsewhere.example" })).rows).toEqual([]);
    const refunded = await orders({ state: "refunded" });
    expect(refunded.rows.every((one) => one.refunded > 0)).toBe(true);
    expect(refunded.rows.map((one) => one.reference)).toContain("TWO-PEOPLE");
  });

  it("leads to every checkout and payment of one", async () => {
    const [row] = (await orders({ query: "LIST-07" })).rows;
    const found = must(await orderHere(rt(), DE, must(row).id));
    expect(found.checkouts).toHaveLength(2);
    expect(found.payments).toMatchObject([{ state: "captured" }]);
    expect(await orderHere(rt(), "luvwinkel-uk", must(row).id)).toBeNull();
    for (const one of found.checkouts) await expireCheckout(rt(), one);
  });
});
