import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { paragraphs, plainText } from "#core/rich-text";
import { isCreditorReference } from "#core/ways/offline/bank";
import type { OfflineKind } from "#core/ways/offline/kinds";
import type { OfflineTerms } from "#core/ways/offline/terms";
import { checkoutOf } from "#server/checkouts/checkouts";
import { chooseOther, expireCheckout } from "#server/checkouts/leave";
import { pay } from "#server/checkouts/pay";
import { viewOf } from "#server/checkouts/view";
import type { Payment } from "#server/database/rows";
import { listFindings, findingsAbout as findingsAboutSaid } from "#server/findings/findings";
import { followStorefront } from "#server/findings/standing";
import { addOffline, copyOffline, offlineLacks, putLive } from "#server/offers/offline";
import { USAGE_DAYS, usageOf } from "#server/offers/usage";
import { removeOffer, saveOffer, switchOffer } from "#server/offers/offers";
import { act } from "#server/payments/actions";
import { paymentOf } from "#server/payments/record";
import { receiveMany, toBePaid } from "#server/payments/to-be-paid";
import { anyOfferIn, mustStand, type OfflineOffer } from "#server/storefronts/now";
import { issueApiKey } from "#server/storefronts/storefronts";
import { giveBack, giveUp, receive, takeBack } from "#server/ways/offline/money";
import { until } from "../../demo/play";
import { speaking } from "../../scripts/english";
import { must } from "./at-providers";
import { openKite, openWorld, type SystemWorld } from "./world";

// Ways of paying that no provider moves the money of: from the offer to the money, and back.

const findingsAbout = speaking(findingsAboutSaid);
const DE = "luvwinkel-de";
const DAY = 86_400_000;
const account = { holder: "Luvwinkel Drachenbau", iban: "de49 9990 0000 0000 2041 01", bic: "", bank: "" };

let world: SystemWorld;
let transfer = "";
const rt = () => world.rt;
const now = async ({ id }: Pick<Payment, "id">) => must(await paymentOf(rt(), id));
const offer = async (id: string, storefront = DE) => {
  const one = anyOfferIn(await mustStand(rt(), storefront), id);
  if (one?.way !== "offline") throw new Error("not offline");
  return one;
};
const edit = async (one: OfflineOffer, terms: Partial<OfflineTerms>, change: object = {}) => {
  const { storefront } = await mustStand(rt(), one.offer.storefrontId);
  const { document, number } = one.working;
  const offline = { ...document.offline, ...terms };
  return saveOffer(rt(), "ida", storefront, one, { ...document, ...change, offline }, number);
};
const added = async (kind: OfflineKind) => {
  const made = await addOffline(rt(), "ida", DE, kind);
  if (!made.ok) throw new Error("not added");
  return made.id;
};
async function place(reference: string, offerId = transfer) {
  const checkout = await openKite(rt(), { reference });
  const placed = await pay(rt(), checkout, offerId, "");
  if (placed.kind !== "payment") throw new Error(placed.kind);
  return { checkout: async () => must(await checkoutOf(rt(), checkout.id)), payment: placed.payment };
}
let entries = 0;
const entry = (amount: number, on = rt().now()) => ({ amount, on, note: "", once: `e${(entries += 1)}` });
const orderOf = async (reference: string) => {
  const { rows } = await rt().db.client.execute({
    sql: "select state, paid, refunded, stage from orders where reference = ?",
    args: [reference],
  });
  return rows[0];
};

beforeAll(async () => {
  world = await openWorld({ beside: false });
  transfer = await added("bank-transfer");
  expect(await edit(await offer(transfer), { account })).toMatchObject({ ok: true });
});
afterAll(() => world.end());

describe("an offer without a provider", () => {
  it("starts whole in words, and goes live once it has an account and its stages", async () => {
    const id = await added("bank-transfer");
    const one = await offer(id);
    expect(one.working.document.wording.de?.label).toBe("Überweisung");
    const where = { storefrontId: DE, offerId: id };
    const { storefront } = await mustStand(rt(), DE);
    const lacks = offlineLacks(storefront, one).map(({ path }) => path);
    expect(lacks).toContain("offline.account.iban");
    expect(await putLive(rt(), "ida", where)).toMatchObject({ ok: false });
    expect(await edit(one, { account: { ...account, iban: "DE48999000000000204101" } })).toMatchObject({
      ok: false,
      problems: [{ path: "offline.account.iban" }],
    });
    expect(await edit(one, { account })).toMatchObject({ ok: true });
    const stages = {
      ...{ pending: "Reserved", captured: "Paid: to the loft", cancelled: "Refused", expired: "Refused" },
      ...{ refunded: "Handed back", "partly-refunded": "Handed back" },
    };
    expect(await edit(await offer(id), {}, { stages })).toMatchObject({ ok: true });
    expect(offlineLacks((await mustStand(rt(), DE)).storefront, await offer(id))).toEqual([]);
    const { number } = (await offer(id)).working;
    expect(await putLive(rt(), "ida", where, number - 1)).toMatchObject({
      ok: false,
      says: { code: "offers.overtaken", values: { number } },
    });
    expect((await offer(id)).live).toBeNull();
    expect(await putLive(rt(), "ida", where, number)).toMatchObject({ ok: true });
    expect((await offer(id)).live?.id).toBe((await offer(id)).working.id);
    // A place that stands for nothing keeps the next revision out of live.
    const odd = { de: paragraphs("Bitte an {nobody}"), en: paragraphs("To {account}") };
    expect(await edit(await offer(id), { instructions: odd })).toMatchObject({ ok: true });
    expect(await putLive(rt(), "ida", where)).toMatchObject({ ok: false });
    expect((await offer(id)).live?.number).toBeLessThan((await offer(id)).working.number);
    // It is switched off before it is removed, and can be had on another storefront.
    expect(await removeOffer(rt(), "ida", where)).toMatchObject({ ok: false });
    expect(await switchOffer(rt(), "ida", where, "live", true)).toMatchObject({ ok: true });
    expect(await removeOffer(rt(), "ida", where)).toMatchObject({ ok: true });
  });

  it("keeps nothing of what a text may not hold", async () => {
    const id = await added("own");
    const odd = { type: "doc", content: [{ type: "script", content: [{ type: "text", text: "alert(1)" }] }] };
    const instructions = { de: odd as never, fr: paragraphs("x") };
    expect(await edit(await offer(id), { instructions }), "it has no name yet").toMatchObject({ ok: false });
    const wording = { de: { label: "Haffgroschen", hint: "" } };
    expect(await edit(await offer(id), { instructions }, { wording })).toMatchObject({ ok: true });
    expect((await offer(id)).working.document.offline?.instructions).toEqual({
      de: { type: "doc", content: [] },
    });
    expect(await edit(await offer(id), { dueDays: 400 })).toMatchObject({ ok: false });
    await removeOffer(rt(), "ida", { storefrontId: DE, offerId: id });
  });

  it("can be copied, with words in the other storefront's languages", async () => {
    const copied = await copyOffline(rt(), "ida", await offer(transfer), DE);
    if (!copied.ok) throw new Error("not copied");
    expect((await offer(copied.id)).working.document.offline?.account?.iban).toBe("DE49999000000000204101");
    await removeOffer(rt(), "ida", { storefrontId: DE, offerId: copied.id });
  });
});

describe("an order that is paid by transfer", () => {
  it("is placed, says what to transfer, and is paid once all of it came", async () => {
    const { checkout, payment } = await place("WIRE-1");
    expect(await now(payment)).toMatchObject({ state: "pending", captured: 0, connectionId: null });
    expect(isCreditorReference(payment.providerRef ?? "")).toBe(true);
    const { scene } = await viewOf(rt(), await checkout(), null);
    if (scene.name !== "placed") throw new Error(scene.name);
    expect(scene.transfer).toMatchObject({ holder: account.holder, reference: payment.providerRef });
    expect(scene.transfer?.code?.text.split("\n")).toContain("EUR43.90");
    expect(plainText(must(scene.instructions))).toContain(payment.providerRef);
    expect(plainText(must(scene.instructions))).toMatch(/43,90/);
    // Nobody asks a provider, and nothing expires with the checkout's usual time.
    expect((await checkout()).expiresAt).toBeGreaterThan(rt().now() + 7 * DAY);
    await receive(rt(), "ida", await now(payment), entry(2000));
    expect(await now(payment)).toMatchObject({ state: "pending", captured: 2000 });
    expect(await orderOf("WIRE-1")).toMatchObject({ state: "open" });
    expect((await viewOf(rt(), await checkout(), null)).scene).toMatchObject({ left: { amount: 2390 } });
    await receive(rt(), "ida", await now(payment), entry(2390));
    expect(await now(payment)).toMatchObject({ state: "captured", captured: 4390 });
    expect(await orderOf("WIRE-1")).toMatchObject({ state: "paid", paid: 4390 });
    expect((await checkout()).state).toBe("paid");
    expect(await findingsAbout(rt(), payment.id)).toEqual([]);
  });

  it("counts a press once, refuses sums and days that cannot be, and takes a mistake back", async () => {
    const { payment } = await place("WIRE-2");
    const once = entry(4390);
    await receive(rt(), "ida", await now(payment), once);
    await receive(rt(), "ida", await now(payment), once);
    expect((await now(payment)).captured).toBe(4390);
    for (const odd of [entry(0), entry(-5), entry(1.5), entry(100, rt().now() + 3 * DAY), entry(100, 0)])
      expect(await receive(rt(), "ida", await now(payment), odd)).toMatchObject({ ok: false });
    expect(await takeBack(rt(), "ida", await now(payment), "nothing")).toMatchObject({ ok: false });
    expect(await takeBack(rt(), "ida", await now(payment), once.once)).toMatchObject({ ok: true });
    expect(await now(payment)).toMatchObject({ state: "pending", captured: 0 });
    await receive(rt(), "ida", await now(payment), entry(4390));
    expect(await giveBack(rt(), "ida", await now(payment), entry(5000))).toMatchObject({ ok: false });
    expect(await giveBack(rt(), "ida", await now(payment), entry(390))).toMatchObject({ ok: true });
    expect(await now(payment)).toMatchObject({ state: "partly-refunded", refunded: 390 });
    expect(await orderOf("WIRE-2")).toMatchObject({ refunded: 390 });
  });

  it("tells of more than was asked for, and of money for an order that is paid already", async () => {
    const { payment } = await place("WIRE-3");
    await receive(rt(), "ida", await now(payment), entry(5000));
    expect((await findingsAbout(rt(), payment.id)).map((one) => one.kind)).toEqual(["too-much"]);
    // Another way was chosen meanwhile; the transfer comes all the same.
    const { checkout, payment: late } = await place("WIRE-4");
    expect(await chooseOther(rt(), await checkout())).toBe("free");
    expect((await now(late)).state).toBe("cancelled");
    const card = await pay(rt(), await checkout(), world.offerId, "play-approved", { patient: true });
    if (card.kind !== "payment") throw new Error(card.kind);
    await until("the card pays", async () => (await now(card.payment)).state === "captured");
    await receive(rt(), "ida", await now(late), entry(4390));
    const [surplus] = await findingsAbout(rt(), late.id);
    expect(surplus).toMatchObject({
      kind: "surplus",
      says: expect.stringMatching(/Give the €43\.90/) as string,
    });
    expect(await orderOf("WIRE-4")).toMatchObject({ state: "paid", paid: 4390 });
    expect((await now(card.payment)).refunded).toBe(0);
  });

  it("is given up by a person, or by time, and never while money is there", async () => {
    const { payment } = await place("WIRE-5");
    expect(await giveUp(rt(), "ida", await now(payment))).toMatchObject({ ok: true });
    expect((await now(payment)).state).toBe("cancelled");
    const { checkout, payment: other } = await place("WIRE-6");
    await receive(rt(), "ida", await now(other), entry(100));
    expect(await giveUp(rt(), "ida", await now(other))).toMatchObject({ ok: false });
    await expect(expireCheckout(rt(), await checkout())).rejects.toThrow();
    const { checkout: third, payment: last } = await place("WIRE-7");
    await expireCheckout(rt(), await third());
    expect(await now(last)).toMatchObject({ state: "expired" });
    expect((await third()).state).toBe("expired");
  });

  it("is in nobody's way: not asked of a provider, and refused where a provider would be needed", async () => {
    const { payment } = await place("WIRE-8");
    const acted = await act(rt(), "ida", await now(payment), { kind: "refund", amount: 100, once: "x" });
    expect(acted).toMatchObject({ ok: false });
    const key = await issueApiKey(rt(), "test", DE, "test");
    const response = await fetch(`${world.origin}/api/v1/payments/${payment.id}/capture`, {
      method: "POST",
      headers: {
        authorization: `Bearer ${key}`,
        "content-type": "application/json",
        "idempotency-key": "w8",
      },
      body: "{}",
    });
    expect(response.status).toBeGreaterThanOrEqual(400);
    expect(response.status).toBeLessThan(500);
    const jobs = await rt().db.client.execute({
      sql: "select kind from jobs where key = ? and kind in ('look-up', 'judge-walk', 'undo-surplus')",
      args: [payment.id],
    });
    expect(jobs.rows).toEqual([]);
  });
});

describe("what is to be paid", () => {
  it("is listed with what is due first in front, and written down for many at once", async () => {
    const placed = await Promise.all(["MANY-1", "MANY-2", "MANY-3"].map((one) => place(one)));
    const ids = placed.map(({ payment }) => payment.id);
    await rt().db.client.execute({
      sql: "update payments set due_at = ?, version = version + 1 where id = ?",
      args: [rt().now() - DAY, must(ids[2])],
    });
    const list = (await toBePaid(rt(), DE, "test")).map(({ id }) => id);
    expect(list[0]).toBe(ids[2]);
    const press = { on: rt().now(), once: "many" };
    const results = await receiveMany(rt(), "ida", DE, [...ids, "nobody", must(ids[0])], press);
    expect(results.map(({ ok }) => ok)).toEqual([true, true, true]);
    await receiveMany(rt(), "ida", DE, ids, press);
    for (const id of ids) expect(await now({ id })).toMatchObject({ state: "captured", captured: 4390 });
  });

  it("is a finding once it is overdue in live, until it came", async () => {
    const { payment } = await place("OVERDUE");
    await rt().db.client.execute({
      sql: "update payments set due_at = ?, mode = 'live', version = version + 1 where id = ?",
      args: [rt().now() - DAY, payment.id],
    });
    const kinds = async () => {
      await followStorefront(rt(), DE);
      const { rows } = await listFindings(rt(), DE, { mode: "live", open: true, after: null });
      return rows.map(({ kind }) => kind);
    };
    expect(await kinds()).toContain("overdue");
    await receive(rt(), "ida", await now(payment), entry(4390));
    expect(await kinds()).not.toContain("overdue");
  });

  it("is counted as chosen in live, for as long as that says something", async () => {
    // What was overdue just now was made a live one, and is the only such.
    expect(await usageOf(rt(), [transfer, "off_other"])).toEqual(new Map([[transfer, 1]]));
    expect(await usageOf(rt(), [])).toEqual(new Map());
    world.clock.offset += (USAGE_DAYS + 1) * DAY;
    expect(await usageOf(rt(), [transfer])).toEqual(new Map());
  });
});
