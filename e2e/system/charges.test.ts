import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { usualTerms } from "#core/storefronts/money-terms";
import type { OfferDocument } from "#core/offers/offer";
import { pay } from "#server/checkouts/pay";
import { viewOf } from "#server/checkouts/view";
import type { Payment } from "#server/database/rows";
import { saveLook } from "#server/looks/looks";
import { addOffline } from "#server/offers/offline";
import { saveOffer } from "#server/offers/offers";
import { act } from "#server/payments/actions";
import { paymentOf } from "#server/payments/record";
import { receiptView } from "#server/receipts/receipt-view";
import { anyOfferIn, mustStand } from "#server/storefronts/now";
import { issueApiKey, setMoneyTerms } from "#server/storefronts/storefronts";
import { receive } from "#server/ways/offline/money";
import { until } from "../../demo/play";
import { must } from "./at-providers";
import { openKite, openWorld, type SystemWorld } from "./world";

// What choosing a way of paying costs or saves: in the total before anything is paid, and in all that follows.

const DE = "luvwinkel-de";
let world: SystemWorld;
let cash = "";
const rt = () => world.rt;
const now = async ({ id }: Pick<Payment, "id">) => must(await paymentOf(rt(), id));
const fee = (sum: number, share = 0) => ({ charge: { kind: "fee" as const, share, sums: { EUR: sum } } });
const discount = (share: number) => ({ charge: { kind: "discount" as const, share, sums: {} } });

async function edit(id: string, change: Partial<OfferDocument>) {
  const stands = await mustStand(rt(), DE);
  const one = must(anyOfferIn(stands, id));
  const { charge: _charge, ...before } = one.working.document;
  return saveOffer(rt(), "ida", stands.storefront, one, { ...before, ...change }, one.working.number);
}
async function buy(reference: string, offerId: string, token: string, change: object = {}) {
  const checkout = await openKite(rt(), { reference, ...change });
  const paid = await pay(rt(), checkout, offerId, token, { patient: true });
  if (paid.kind !== "payment") throw new Error(paid.kind);
  return { checkout, payment: paid.payment };
}
const orderOf = async (reference: string) => {
  const { rows } = await rt().db.client.execute({
    sql: "select state, due, paid, held, refunded from orders where reference = ?",
    args: [reference],
  });
  return rows[0];
};

beforeAll(async () => {
  world = await openWorld();
  const made = await addOffline(rt(), "ida", DE, "cash-on-delivery");
  if (!made.ok) throw new Error("not added");
  cash = made.id;
});
afterAll(() => world.end());

describe("a fee", () => {
  it("is refused where the law of the shop's country forbids it, until an owner allows it", async () => {
    expect(await edit(cash, fee(490))).toMatchObject({
      ok: false,
      problems: [{ path: "charge", code: "offer.fees-refused" }],
    });
    await setMoneyTerms(rt(), "ida", DE, { ...usualTerms, choiceFees: true });
    expect(await edit(cash, fee(490))).toMatchObject({ ok: true });
  });

  it("stands in the total as soon as the way is chosen, and is what the courier collects", async () => {
    const checkout = await openKite(rt(), { reference: "FEE-1" });
    const before = await viewOf(rt(), checkout, world.offerId);
    const chosen = await viewOf(rt(), checkout, cash);
    expect([before.order.charge, chosen.order.charge]).toEqual([undefined, 490]);
    const paid = await pay(rt(), checkout, cash, "");
    if (paid.kind !== "payment") throw new Error(paid.kind);
    expect(paid.payment).toMatchObject({ amount: 4_880, choiceFee: 490, state: "pending" });
    const entry = { amount: 4_880, on: rt().now(), note: "", once: "fee-1" };
    await receive(rt(), "ida", paid.payment, entry);
    expect(await now(paid.payment)).toMatchObject({ state: "captured", captured: 4_880 });
    // The order is paid: its fee is no surplus, and nothing of it is missing.
    expect(await orderOf("FEE-1")).toMatchObject({ state: "paid", due: 4_390, paid: 4_880 });
    const { rows } = await rt().db.client.execute({
      sql: "select kind from findings where payment_id = ? and state = 'open'",
      args: [paid.payment.id],
    });
    expect(rows).toEqual([]);
    const receipt = await receiptView(rt(), checkout, await now(paid.payment));
    expect(receipt).toMatchObject({ order: { charge: 490, total: 4_390 }, paid: { amount: 4_880 } });
  });

  it("is not asked for where the shopper was shown another total", async () => {
    const checkout = await openKite(rt(), { reference: "FEE-SEEN" });
    expect(await pay(rt(), checkout, cash, "", { seen: 4_390 })).toEqual({
      ...{ kind: "refused", because: "total-changed" },
    });
    expect(await pay(rt(), checkout, world.offerId, "play-approved", { seen: 4_880 })).toMatchObject({
      because: "total-changed",
    });
    expect(await pay(rt(), checkout, cash, "", { seen: 4_880 })).toMatchObject({ kind: "payment" });
  });

  it("is added to a part of an order too, and the parts still make the order", async () => {
    const first = await buy("FEE-PARTS", cash, "", { payNow: 2_000 });
    await receive(rt(), "ida", first.payment, { amount: 2_490, on: rt().now(), note: "", once: "p1" });
    expect(await orderOf("FEE-PARTS")).toMatchObject({ state: "open", paid: 2_490 });
    const rest = await buy("FEE-PARTS", world.offerId, "play-approved", { payNow: 2_390 });
    await until("the rest", async () => (await now(rest.payment)).captured === 2_390);
    expect(await orderOf("FEE-PARTS")).toMatchObject({ state: "paid", paid: 4_880 });
  });

  it("withholds its offer once an owner refuses fees", async () => {
    await setMoneyTerms(rt(), "ida", DE, usualTerms);
    const checkout = await openKite(rt(), { reference: "FEE-2" });
    expect(await pay(rt(), checkout, cash, "")).toEqual({ kind: "refused", because: "not-offered" });
  });
});

it("chooses again what the same address was paid with last, where the shop wants that", async () => {
  await setMoneyTerms(rt(), "ida", DE, { ...usualTerms, choiceFees: true });
  const email = "Again@example.org";
  const { payment } = await buy("AGAIN-1", world.offerId, "play-approved", { email });
  await until("the capture", async () => (await now(payment)).captured > 0);
  const chosen = async (reference: string, about: object) => {
    const { scene } = await viewOf(rt(), await openKite(rt(), { reference, ...about }), null);
    return scene.name === "choose" ? [scene.offers.length > 1, scene.chosen] : scene.name;
  };
  expect(await chosen("AGAIN-2", { email })).toEqual([true, null]);
  const { storefront } = await mustStand(rt(), DE);
  const look = { corner: "square", face: "plain", light: "device", terms: "none", remembers: "yes" };
  expect(await saveLook(rt(), "ida", storefront, look)).toMatchObject({ ok: true });
  expect(await chosen("AGAIN-3", { email: "again@example.org" })).toEqual([true, world.offerId]);
  expect(await chosen("AGAIN-4", { email: "other@example.org" })).toEqual([true, null]);
  expect(await chosen("AGAIN-5", { email: "" })).toEqual([true, null]);
  await setMoneyTerms(rt(), "ida", DE, usualTerms);
});

describe("a discount", () => {
  it("is taken off what the provider is asked for, and goes back with all of it", async () => {
    expect(await edit(world.offerId, discount(1_000))).toMatchObject({ ok: true });
    const { payment } = await buy("LESS-1", world.offerId, "play-approved");
    expect(payment).toMatchObject({ amount: 3_951, choiceFee: -439 });
    await until("the capture", async () => (await now(payment)).captured === 3_951);
    expect(await orderOf("LESS-1")).toMatchObject({ state: "paid", due: 4_390, paid: 3_951 });
    await act(rt(), "ida", await now(payment), { kind: "refund", amount: 3_951, once: "less-back" });
    await until("the refund", async () => (await now(payment)).state === "refunded");
    expect(await orderOf("LESS-1")).toMatchObject({ refunded: 3_951 });
  });

  it("is told to the shop with the decision and with the payment", async () => {
    const key = await issueApiKey(rt(), "ida", DE, "test");
    const ask = (path: string, init: RequestInit = {}) =>
      fetch(`${world.origin}/api/v1/${path}`, {
        ...init,
        headers: { authorization: `Bearer ${key}`, "content-type": "application/json" },
      }).then((answer) => answer.json() as Promise<Record<string, unknown>>);
    expect(await ask("orders/LESS-1")).toMatchObject({
      order: "LESS-1",
      payments: [{ amount: "39.51", choiceFee: "-4.39" }],
    });
  });
});
