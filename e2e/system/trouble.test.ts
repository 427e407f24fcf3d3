import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import type { OfferDocument } from "#core/offers/offer";
import { checkoutOf, decideFor } from "#server/checkouts/checkouts";
import { chooseOther, expireCheckout } from "#server/checkouts/leave";
import { lookUp } from "#server/checkouts/look-up";
import { viewOf } from "#server/checkouts/view";
import { pay } from "#server/checkouts/pay";
import { followTroubles } from "#server/connections/troubles";
import type { Checkout, Payment } from "#server/database/rows";
import { saveOffer } from "#server/offers/offers";
import { orderHere } from "#server/orders/list";
import { operationsOf } from "#server/operations/operations";
import { act } from "#server/payments/actions";
import { paymentOf } from "#server/payments/record";
import { storefrontNow } from "#server/storefronts/now";
import { cardDocument, luvwinkel, offerNow, until } from "../../demo/play";
import { must } from "./at-providers";
import { openKite, openWorld, type SystemWorld } from "./world";

// A provider that does not answer is left alone for a while, and stands in nobody's way.

let world: SystemWorld;
beforeAll(async () => {
  world = await openWorld({ beside: false });
  world.settings.mostFailures = 3;
});
afterAll(() => world.end());
afterEach(async () => {
  await fetch(`${world.standins}/weather/karvello`, { method: "DELETE" });
  world.clock.offset += 120_000;
  await followTroubles(world.rt);
});

const rt = () => world.rt;
const now = async ({ id }: Payment) => must(await paymentOf(rt(), id));
async function buy(
  checkout: Checkout,
  capture: "at-once" | "later" = "at-once",
  token = "play-approved",
): Promise<Payment> {
  const fresh = must(await checkoutOf(rt(), checkout.id));
  const paid = await pay(rt(), fresh, world.offerId, token, { capture });
  if (paid.kind !== "payment") throw new Error(paid.kind);
  return paid.payment;
}
const calls = async () =>
  Number(
    (await rt().db.client.execute("select count(*) as n from exchanges where \"to\" = 'provider'")).rows[0]
      ?.n,
  );
const troubled = async () =>
  must(await storefrontNow(rt(), "luvwinkel-de")).connections.map((one) => one.troubled.test !== null);
async function saves(document: OfferDocument) {
  const offer = await offerNow(rt(), world.offerId);
  await saveOffer(rt(), "test", await luvwinkel(rt()), offer, document, offer.working.number);
}
/** Has the provider break until it is left alone. */
async function inTrouble() {
  await world.weather("error", 1_000);
  const payment = await buy(await openKite(rt(), { reference: `BREAKS-${rt().ids.next("n")}` }));
  await until("it is left alone", async () => (await troubled()).includes(true));
  return payment;
}

describe("a provider that does not answer", () => {
  it("is left alone: a shopper is told at once and can pay another way, and nothing went out", async () => {
    await inTrouble();
    const before = await calls();
    const checkout = await openKite(rt(), { reference: "AT-ONCE" });
    // A provider may take a minute here: whoever waits for it would wait as long.
    const started = performance.now();
    const payment = await buy(checkout);
    expect(performance.now() - started).toBeLessThan(20_000);
    expect(payment.state).toBe("failed");
    expect((await operationsOf(rt(), payment.id))[0]).toMatchObject({ state: "refused", code: "left-alone" });
    const view = await viewOf(rt(), must(await checkoutOf(rt(), checkout.id)), null);
    expect(view.scene).toMatchObject({ name: "choose", again: { kind: "failed" } });
    const { rows } = await rt().db.client.execute({
      sql: "select count(*) as n from exchanges where payment_id = ? and operation = 'create'",
      args: [payment.id],
    });
    expect(Number(rows[0]?.n)).toBe(0);
    expect(await calls()).toBeLessThanOrEqual(before + 1);
  });

  it("has its offer withheld by itself where the offer wants that, until it answers again", async () => {
    // Withheld, nobody could pay with it any more: the provider breaks first.
    await inTrouble();
    await saves({ ...cardDocument, withheldInTrouble: true });
    const checkout = await openKite(rt(), { reference: "WITHHELD" });
    const withheld = async () =>
      (await decideFor(rt(), checkout)).decision.withheld.flatMap((one) =>
        one.because.map(({ code }) => code),
      );
    expect(await withheld()).toEqual(["in-trouble"]);
    await followTroubles(rt());
    expect(await withheld()).toEqual(["in-trouble"]);
    await fetch(`${world.standins}/weather/karvello`, { method: "DELETE" });
    await followTroubles(rt());
    expect(await withheld()).toEqual([]);
    expect(await troubled()).not.toContain(true);
    await saves(cardDocument);
  });

  it("does later what nobody waits for, and says at once to a person that it cannot", async () => {
    const held = await buy(await openKite(rt(), { reference: "HELD" }), "later");
    await until("it is held", async () => (await now(held)).held === 4390);
    await inTrouble();
    const pressed = await act(rt(), "ida", await now(held), { kind: "capture", amount: 4390, once: "press" });
    expect(pressed).toMatchObject({ ok: false, code: "left-alone" });
    const byItself = { kind: "capture" as const, amount: 4390, once: "by itself", patience: 0 };
    expect(await act(rt(), "zahlung", await now(held), byItself)).toMatchObject({ ok: false, open: true });
    await fetch(`${world.standins}/weather/karvello`, { method: "DELETE" });
    world.clock.offset += 120_000;
    await followTroubles(rt());
    await until("it is captured", async () => (await now(held)).captured === 4390);
  });
});

/** A payment that is made over there while its answer, and every look-up after it, is lost on the way. */
async function lostOnTheWay(checkout: Checkout, token = "play-approved"): Promise<Payment> {
  world.wire.http = async (input, init) => {
    await fetch(input, init);
    throw new TypeError("lost on the way");
  };
  const fresh = must(await checkoutOf(rt(), checkout.id));
  const paid = await pay(rt(), fresh, world.offerId, token);
  if (paid.kind !== "payment") throw new Error(paid.kind);
  return paid.payment;
}
const order = async ({ orderId }: Checkout) => must((await orderHere(rt(), "luvwinkel-de", orderId))?.order);
const choosesOther = async ({ id }: Checkout) => chooseOther(rt(), must(await checkoutOf(rt(), id)));

describe("a shopper whose payment nobody can tell anything of", () => {
  it("is shown soon that it waits, pays another way, and pays once", async () => {
    world.settings.mostFailures = 1_000_000;
    const checkout = await openKite(rt(), { reference: "ASIDE" });
    const started = performance.now();
    const first = await lostOnTheWay(checkout);
    expect(performance.now() - started).toBeLessThan(20_000);
    expect((await viewOf(rt(), must(await checkoutOf(rt(), checkout.id)), null)).scene.name).toBe("waiting");
    expect(await choosesOther(checkout)).toBe("free");
    expect((await viewOf(rt(), must(await checkoutOf(rt(), checkout.id)), null)).scene.name).toBe("choose");
    world.wire.http = null;
    const second = await buy(checkout);
    await until("it is paid", async () => (await order(checkout)).payingPaymentId !== null);
    await lookUp(rt(), await now(first));
    // Whichever came first pays the order; the other goes back by itself.
    await until("one of them went back", async () => {
      const both = await Promise.all([now(first), now(second)]);
      const kept = both.filter((one) => one.captured - one.refunded > 0 || one.held > 0);
      return kept.length === 1 && kept[0]?.id === (await order(checkout)).payingPaymentId;
    });
    expect((await order(checkout)).paid).toBe(4390);
  });

  it("is paid by the first when that turns out to be made, and is not asked for the second any more", async () => {
    const checkout = await openKite(rt(), { reference: "FIRST-AFTER-ALL" });
    const first = await lostOnTheWay(checkout);
    expect(await choosesOther(checkout)).toBe("free");
    world.wire.http = null;
    const fresh = must(await checkoutOf(rt(), checkout.id));
    const paid = await pay(rt(), fresh, world.offerId, "play-ask", { patient: true });
    const second = must(paid.kind === "payment" ? paid.payment : null);
    await lookUp(rt(), await now(first));
    await until("the first pays", async () => (await order(checkout)).payingPaymentId === first.id);
    await until("the second is let go", async () => (await now(second)).state === "cancelled");
    expect((await checkoutOf(rt(), checkout.id))?.state).toBe("paid");
    expect((await now(second)).captured).toBe(0);
  });

  it("cannot set aside what is paid", async () => {
    const checkout = await openKite(rt(), { reference: "TOO-LATE" });
    await buy(checkout);
    expect(await choosesOther(checkout)).toBe("too-late");
  });
});

/** A payment of which the provider says that it is of another amount, whenever it is asked. */
async function takenForAnother(checkout: Checkout): Promise<Payment> {
  world.wire.http = async (input, init) => {
    const answer = await fetch(input, init);
    const text = await answer.text();
    const { status, headers } = answer;
    return new Response(text.replaceAll('"sum":4390', '"sum":4490'), { status, headers });
  };
  // No message of the right amount settles it.
  await world.weather("lose", 10);
  return buy(checkout, "at-once", "play-ask");
}

describe("a payment that the provider takes for another", () => {
  afterEach(() => {
    world.wire.http = null;
  });

  it("stands in no shopper's way: they pay another way, and a person decides about it", async () => {
    const checkout = await openKite(rt(), { reference: "MISTAKEN" });
    const first = await takenForAnother(checkout);
    expect((await now(first)).state).toBe("created");
    expect(await choosesOther(checkout)).toBe("free");
    world.wire.http = null;
    const second = await buy(checkout);
    await until("the order is paid", async () => (await order(checkout)).payingPaymentId === second.id);
    expect((await now(first)).state).not.toBe("captured");
  });

  it("does not keep a checkout open whose time is over", async () => {
    const checkout = await openKite(rt(), { reference: "MISTAKEN-LATE" });
    await takenForAnother(checkout);
    await expireCheckout(rt(), must(await checkoutOf(rt(), checkout.id)));
    expect((await checkoutOf(rt(), checkout.id))?.state).toBe("expired");
  });
});
