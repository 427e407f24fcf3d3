import { and, eq } from "drizzle-orm";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Order } from "#core/orders/order";
import { usualTerms } from "#core/storefronts/money-terms";
import { checkoutOf } from "#server/checkouts/checkouts";
import { expireCheckout } from "#server/checkouts/leave";
import { pay } from "#server/checkouts/pay";
import type { Checkout, Payment } from "#server/database/rows";
import { findingsAbout as findingsAboutSaid } from "#server/findings/findings";
import { call, lineOf } from "#server/gateway/gateway";
import { orders as orderRows } from "#server/database/schema";
import { walk } from "#server/database/walk";
import { exportedOrders, listOrdersHere, orderHere, type OrderFilter } from "#server/orders/list";
import { filterFrom, listPayments } from "#server/payments/list";
import { chargedIn, expectedFeeOf, monthOf } from "#server/costs/charged";
import { readEvidence } from "#server/payments/evidence";
import { decideReview } from "#server/payments/reviews";
import { moveDispute } from "#server/payments/disputes";
import { storefrontNow } from "#server/storefronts/now";
import { takeLate } from "#server/payments/late";
import { addNote, notesOf } from "#server/payments/notes";
import { paymentOf } from "#server/payments/record";
import { decideRefund, refundOrAsk, refundRequestsOf, wantsTwo } from "#server/payments/second-person";
import { captureMany, toCapture } from "#server/payments/to-capture";
import { forgetView, saveView, viewQuery, viewsOf } from "#server/views/views";
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
  listOrdersHere(rt(), DE, {
    ...{
      mode: "test",
      state: null,
      query: "",
      connection: null,
      offer: null,
      amount: null,
      from: null,
      to: null,
    },
    ...{ after: null, ...change },
  });
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
    // Below the line one person is enough; in parts it is no smaller.
    expect((await refundOrAsk(rt(), "ida", await now(payment), press(1999, "small"))).ok).toBe(true);
    expect(await wantsTwo(rt(), await now(payment), 1)).toBe(true);
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

async function sandbox(payment: Payment, answer: string) {
  const line = must(await lineOf(rt(), payment));
  await call(rt(), line, "actForShopper", { ref: (await now(payment)).providerRef, answer });
}
async function disputed(reference: string): Promise<Payment> {
  const payment = await buy(await kite(reference), "play-approved");
  await until("it is captured", async () => (await now(payment)).captured > 0);
  await sandbox(payment, "complain");
  await until("it is disputed", async () => (await now(payment)).dispute === "open");
  return payment;
}

describe("a dispute", () => {
  it("is answered with what speaks for the shop, once, and won", async () => {
    const payment = await disputed("ANSWERED");
    const letter = new File(["%PDF-1.7 the receipt"], "scans/receipt.pdf");
    expect(await readEvidence([new File(["<svg/>"], "receipt.pdf")])).toMatchObject({ ok: false });
    expect(await readEvidence(Array.from({ length: 6 }, () => letter))).toMatchObject({ ok: false });
    expect(await readEvidence([new File([new Uint8Array(5_000_001)], "long.pdf")])).toMatchObject({
      ok: false,
    });
    const evidence = await readEvidence([letter, new File([], "")]);
    if (!evidence.ok) throw new Error("refused");
    const { files } = evidence;
    expect(files.map(({ name, type }) => [name, type])).toEqual([["receipt.pdf", "application/pdf"]]);
    const says = { as: "answer", text: "Handed over at the door, see the receipt.", files } as const;
    expect(
      await moveDispute(rt(), "ida", await now(payment), {
        ...{ as: "answer", text: " ", files: [] },
      }),
    ).toMatchObject({
      ok: false,
    });
    expect(await moveDispute(rt(), "ida", await now(payment), says)).toMatchObject({ ok: true });
    expect(await now(payment)).toMatchObject({ dispute: "answered", inDispute: 4390, state: "disputed" });
    expect(await moveDispute(rt(), "ida", await now(payment), says)).toMatchObject({ ok: false });
    expect((await findingsAbout(rt(), payment.id)).every((one) => one.state === "resolved")).toBe(true);
    // What is handed in goes to the provider, and is in no exchange and no trail of ours.
    const asked = await rt().db.client.execute({
      sql: "select request from exchanges where payment_id = ? and operation = 'answerDispute'",
      args: [payment.id],
    });
    expect(String(asked.rows[0]?.request)).toContain("receipt.pdf");
    expect(String(asked.rows[0]?.request)).not.toContain(files[0]?.content);
    await sandbox(payment, "for-shop");
    await until("it is won", async () => (await now(payment)).dispute === "won");
    expect(await now(payment)).toMatchObject({ state: "captured", inDispute: 0, lost: 0 });
  });

  it("is accepted, although the answer to that is lost on the way, and its money is lost", async () => {
    const payment = await disputed("ACCEPTED");
    world.wire.http = async (input, init) => {
      const answer = await fetch(input, init);
      if ((init?.method ?? "GET") === "POST") throw new TypeError("lost on the way");
      return answer;
    };
    expect(await moveDispute(rt(), "ida", await now(payment), { as: "accept" })).toMatchObject({ ok: true });
    world.wire.http = null;
    expect(await now(payment)).toMatchObject({ dispute: "lost", lost: 4390, state: "disputed" });
    expect(await moveDispute(rt(), "ida", await now(payment), { as: "accept" })).toMatchObject({ ok: false });
  });
});

describe("a check for fraud", () => {
  it.each([
    ["pass", "passed", "captured"],
    ["refuse", "refused", "voided"],
  ] as const)("that is decided here: %s", async (decision, review, state) => {
    const payment = await buy(await kite(`WATCHED-${review}`), "play-watched");
    await until("it is looked at", async () => (await now(payment)).review === "open");
    expect(await decideReview(rt(), "ida", await now(payment), decision)).toMatchObject({ ok: true });
    await until("it is decided", async () => (await now(payment)).state === state);
    expect((await now(payment)).review).toBe(review);
    expect(await decideReview(rt(), "ida", await now(payment), decision)).toMatchObject({ ok: false });
  });
});

describe("fees", () => {
  it("that were charged stand beside what was expected, of a payment and of an account's month", async () => {
    const stands = must(await storefrontNow(rt(), DE));
    const payment = await buy(await kite("FEES"), "play-approved");
    await until("its fee is told", async () => (await now(payment)).fee !== null);
    // 1.35 percent and 0.22 of 43.90, as published and as charged.
    expect(await expectedFeeOf(rt(), stands, await now(payment))).toBe(81);
    expect((await now(payment)).fee).toBe(81);
    const { rows, more } = await chargedIn(rt(), stands, "test", monthOf(rt().now()));
    const [row] = rows;
    expect([rows.length, more, row?.connectionId, row?.currency]).toEqual([
      1,
      false,
      world.connectionId,
      "EUR",
    ]);
    expect(row?.charged).toBe(row?.expected);
    expect(row?.told).toBe(row?.payments);
    // A provider that charges otherwise than it publishes is seen.
    await rt().db.client.execute({
      sql: "update payments set fee = fee + 7, version = version + 1 where id = ?",
      args: [payment.id],
    });
    const [after] = (await chargedIn(rt(), stands, "test", monthOf(rt().now()))).rows;
    expect(must(after).charged - must(after).expected).toBe(7);
    expect((await chargedIn(rt(), stands, "test", monthOf(rt().now() - 40 * 86_400_000))).rows).toEqual([]);
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
  await sandbox(payment, "pass");
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
    const save = (name: string, text = query) => saveView(rt(), "ida", DE, "payments", { name, query: text });
    expect([await save(" "), await save("Refused")]).toEqual(["no-name", "saved"]);
    await Promise.all([save("Refused", "mode=test"), save("Refused", "mode=test")]);
    expect((await viewsOf(rt(), DE, "payments")).map((one) => [one.name, one.query])).toEqual([
      ["Refused", "mode=test"],
    ]);
    await saveView(rt(), "ida", DE, "orders", { name: "Refused", query: "state=open" });
    expect((await viewsOf(rt(), DE, "orders")).map((one) => one.query)).toEqual(["state=open"]);
    for (let n = 1; n < 30; n++) await save(`view ${n}`);
    expect([await save("one more"), await save("Refused")]).toEqual(["too-many", "saved"]);
    const [first] = await viewsOf(rt(), DE, "payments");
    await forgetView(rt(), "luvwinkel-uk", must(first).id);
    expect(await viewsOf(rt(), DE, "payments")).toHaveLength(30);
    await forgetView(rt(), DE, must(first).id);
    expect(await viewsOf(rt(), DE, "payments")).toHaveLength(29);
  });
});

describe("the list of orders", () => {
  it("is narrowed by what a payment is known by, by account, by what is due and by day, and is had as a file", async () => {
    const known = await buy(await kite("KNOWN-BY"), "play-approved");
    const paid = await now(known);
    const lastFour = must(paid.instrument).slice(-4);
    for (const query of [must(paid.providerRef), paid.reference, lastFour])
      expect((await orders({ query })).rows.map((one) => one.reference)).toContain("KNOWN-BY");
    const { id, createdAt, due } = must((await orders({ query: "KNOWN-BY" })).rows[0]);
    const has = async (change: Partial<OrderFilter>) =>
      (await orders({ query: "KNOWN-", ...change })).rows.map((one) => one.id).includes(id);
    expect(await has({ connection: world.connectionId })).toBe(true);
    expect(await has({ connection: "con_none" })).toBe(false);
    expect(await has({ offer: world.offerId, connection: world.connectionId })).toBe(true);
    expect(await has({ offer: "off_none", connection: world.connectionId })).toBe(false);
    expect([await has({ amount: due }), await has({ amount: due + 1 })]).toEqual([true, false]);
    expect(await has({ from: createdAt, to: createdAt })).toBe(true);
    expect([await has({ from: createdAt + 1 }), await has({ to: createdAt - 1 })]).toEqual([false, false]);
    const all = await exportedOrders(rt(), DE, {
      ...{
        mode: "test",
        state: null,
        query: "KNOWN-",
        connection: null,
        offer: null,
        amount: null,
        from: null,
        to: null,
      },
      after: null,
    });
    expect(all.map((one) => one.id)).toEqual([id]);
  });

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
    // In stretches of a few rows, as where there are very many.
    const path = { table: orderRows, by: [orderRows.createdAt, orderRows.id], first: 2 };
    const walked = await walk(rt(), path, 99, (stretch, left) =>
      rt()
        .db.orm.select({ reference: orderRows.reference })
        .from(orderRows)
        .where(and(eq(orderRows.reference, "LIST-07"), stretch))
        .limit(left),
    );
    expect(walked).toEqual([{ reference: "LIST-07" }]);
    expect((await orders({ query: "LIST-", state: "paid" })).rows.map((one) => one.reference)).toEqual([
      "LIST-07",
    ]);
    const mailed = await orders({ query: mail });
    const rest = await orders({ query: mail, after: mailed.next });
    expect([mailed.rows.length, rest.rows.length, rest.next]).toEqual([25, 5, null]);
    expect(new Set([...mailed.rows, ...rest.rows].map((one) => one.id)).size).toBe(30);
    const typed = filterFrom(new URLSearchParams("q=list-07"), "test");
    const { rows } = await listPayments(rt(), DE, typed);
    expect(rows.map((one) => one.orderReference)).toEqual(["LIST-07"]);
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
