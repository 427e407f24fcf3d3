import { ToldError } from "#core/said";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import {
  addConnection,
  connectionOf,
  currentEndpoint,
  endpointAddress,
} from "#server/connections/connections";
import { enterKeys } from "#server/connections/keys";
import { pingWebhook, registerWebhook } from "#server/connections/webhook";
import { pay } from "#server/checkouts/pay";
import { turnBack } from "#server/checkouts/leave";
import { checkoutOf } from "#server/checkouts/checkouts";
import { lookUp } from "#server/checkouts/look-up";
import { viewOf } from "#server/checkouts/view";
import { addOffer, offerOf, saveOffer } from "#server/offers/offers";
import { paymentOf } from "#server/payments/record";
import { call, lineOf } from "#server/gateway/gateway";
import { listPayouts, payoutHere } from "#server/payouts/list";
import { profileOf } from "#server/profiles/profiles";
import { boardOf } from "#server/rehearsal/boards";
import { startRehearsal } from "#server/rehearsal/run";
import { storefrontNow } from "#server/storefronts/now";
import { storefrontOf } from "#server/storefronts/storefronts";
import { atDashboard, keysAt } from "../../demo/dashboards";
import { cardDocument, until } from "../../demo/play";
import { openKite, openWorld, type SystemWorld, wholeRehearsal } from "./world";

let world: SystemWorld;
beforeAll(async () => {
  world = await openWorld({ connect: false });
  await world.rt.db.client.execute(
    `update storefronts set stages = '["Reserved","Paid: to the loft","Refused","Handed back","Under question"]'`,
  );
});
afterAll(() => world.end());

const must = <T>(value: T | null | undefined): T => {
  if (value === null || value === undefined) throw new Error("missing");
  return value;
};

/** Connects a provider, proves its webhook, and offers one method. */
async function offered(provider: string, methodId: string, account?: string) {
  const { rt } = world;
  const desk = await atDashboard(world.standins, provider);
  const profile = must(await profileOf(rt, provider));
  const id = await addConnection(rt, "ida", { profile, storefrontId: "luvwinkel-de" });
  const where = must(await connectionOf(rt, id));
  await enterKeys(rt, "ida", where, "test", await keysAt(desk, "sandbox", account));
  if (profile.operations.registerWebhook) {
    await registerWebhook(rt, "ida", where, "test");
    await pingWebhook(rt, where, "test");
  } else {
    await desk.press("sandbox", "address", {
      address: endpointAddress(rt, await currentEndpoint(rt, id, "test")),
    });
    await desk.press("sandbox", "test");
  }
  await until(`${provider} heard`, async () => (await currentEndpoint(rt, id, "test")).provenAt !== null);
  const storefront = must(await storefrontOf(rt, "luvwinkel-de"));
  const added = await addOffer(rt, "ida", where, storefront, methodId);
  if (!added.ok) throw new ToldError(added.says);
  const now = must(await offerOf(rt, "luvwinkel-de", added.id));
  const saved = await saveOffer(
    rt,
    "ida",
    storefront,
    now,
    { ...cardDocument, limits: {} },
    now.working.number,
  );
  if (!saved.ok) throw new Error(JSON.stringify(saved));
  return added.id;
}
const offers: Record<string, string> = {};
const providers: [provider: string, method: string, account?: string][] = [
  ["ostwick", "card"],
  ["pennywhistle", "wallet"],
  ["quippa", "scan", "MT60167"],
  ["ratenhaus", "plan"],
];

const eur = (amount: number) => ({ amount, currency: "EUR" });

describe("a provider whose shopper goes on elsewhere", () => {
  it.each(providers)(
    "%s is rehearsed in every case that it has, and each is green",
    async (provider, method, account) => {
      const id = (offers[provider] = await offered(provider, method, account));
      const now = async () => must(await offerOf(world.rt, "luvwinkel-de", id));
      const required = (await boardOf(world.rt, await now())).cells
        .filter((cell) => cell.required)
        .map((cell) => cell.caseId);
      expect(required).toEqual(
        expect.arrayContaining(["approved", "insufficient-funds", "webhook-lost", "answer-lost"]),
      );
      await startRehearsal(world.rt, "ida", await now(), required);
      const isOver = async () => {
        const { cells, running } = await boardOf(world.rt, await now());
        return running === null && cells.filter((cell) => cell.required).every((cell) => cell.proof !== null);
      };
      await until("the rehearsal", isOver, wholeRehearsal);
      const { cells } = await boardOf(world.rt, await now());
      const bad = cells
        .filter((cell) => cell.required && cell.proof?.state !== "passed")
        .map((cell) => `${cell.caseId}: ${JSON.stringify(cell.proof)}`);
      expect(bad).toEqual([]);
    },
  );

  it("leads the shopper to the provider's page, and takes what comes of it by message", async () => {
    const checkout = await openKite(world.rt);
    const paid = await pay(world.rt, checkout, must(offers.pennywhistle), "");
    if (paid.kind !== "payment") throw new Error(paid.kind);
    const scene = (await viewOf(world.rt, must(await checkoutOf(world.rt, checkout.id)), null)).scene;
    expect(scene).toMatchObject({
      name: "challenge",
      at: "service",
      address: expect.stringContaining("/pennywhistle/sandbox/agree/") as string,
    });
    const page = scene.name === "challenge" ? scene.address : "";
    await fetch(page, { method: "POST", body: new URLSearchParams({ does: "agree" }), redirect: "manual" });
    await until("captured", async () => (await paymentOf(world.rt, paid.payment.id))?.state === "captured");
  });

  it("shows a code that the shopper's phone scans", async () => {
    const checkout = await openKite(world.rt);
    const paid = await pay(world.rt, checkout, must(offers.quippa), "");
    if (paid.kind !== "payment") throw new Error(paid.kind);
    const { scene } = await viewOf(world.rt, must(await checkoutOf(world.rt, checkout.id)), null);
    if (scene.name !== "code") throw new Error(scene.name);
    expect(scene.code.path).toMatch(/^M\d+ \d+h1v1h-1z/);
    const phone = await fetch(`${world.standins}/phone`, {
      method: "POST",
      body: new URLSearchParams({ code: scene.code.text }),
      redirect: "manual",
    });
    await fetch(must(phone.headers.get("location")), {
      method: "POST",
      body: new URLSearchParams({ does: "broke" }),
      redirect: "manual",
    });
    await until("declined", async () => (await paymentOf(world.rt, paid.payment.id))?.state === "declined");
    expect((await viewOf(world.rt, must(await checkoutOf(world.rt, checkout.id)), null)).scene).toMatchObject(
      { name: "choose", again: { reason: "insufficient-funds" } },
    );
  });

  it("waits for an answer that comes late, and hears it", async () => {
    const checkout = await openKite(world.rt, {
      lines: [{ name: "Lenkdrachen", quantity: 1, unit: 20_000, total: 20_000 }],
      shipping: 0,
      tax: 0,
      total: 20_000,
    });
    const { scene: choice } = await viewOf(world.rt, checkout, must(offers.ratenhaus));
    expect(choice.name === "choose" && choice.plans).toMatchObject([
      { payments: 3, each: eur(6667), total: eur(20_001), rate: 0 },
      { payments: 12, each: eur(1767), total: eur(21_204), rate: 11.6 },
    ]);
    const paid = await pay(world.rt, checkout, must(offers.ratenhaus), "");
    if (paid.kind !== "payment") throw new Error(paid.kind);
    const { scene } = await viewOf(world.rt, must(await checkoutOf(world.rt, checkout.id)), null);
    await fetch(scene.name === "challenge" ? scene.address : "", {
      method: "POST",
      body: new URLSearchParams({ does: "sign" }),
      redirect: "manual",
    });
    expect((await paymentOf(world.rt, paid.payment.id))?.state).toBe("pending");
    await until("captured", async () => (await paymentOf(world.rt, paid.payment.id))?.state === "captured");
  });

  it.each([
    // 0.95 percent and 12; 3.9 percent and 49.
    { provider: "ostwick", file: "a file of rows", press: "close-day", total: 4390, fee: 54, acts: "good" },
    {
      provider: "ratenhaus",
      file: "a bank's statement",
      press: "pay-out",
      total: 20_000,
      fee: 829,
      acts: "sign",
    },
  ])(
    "$provider tells of its payouts by $file, and each payment knows then what was kept of it",
    async (about) => {
      const checkout = await openKite(world.rt, {
        ...{ lines: [{ name: "Lenkdrachen", quantity: 1, unit: about.total, total: about.total }] },
        ...{ shipping: 0, tax: 0, total: about.total },
      });
      const paid = await pay(world.rt, checkout, must(offers[about.provider]), "");
      if (paid.kind !== "payment") throw new Error(paid.kind);
      const now = async () => must(await paymentOf(world.rt, paid.payment.id));
      const line = must(await lineOf(world.rt, paid.payment));
      await call(world.rt, line, "actForShopper", { ref: (await now()).providerRef, answer: about.acts });
      await until("captured", async () => (await now()).state === "captured");
      expect((await now()).fee).toBeNull();
      const desk = await atDashboard(world.standins, about.provider);
      await desk.press("sandbox", about.press);
      await until("it is paid out", async () => (await now()).paidOut === about.total);
      expect((await now()).fee).toBe(about.fee);
      const here = must(await storefrontNow(world.rt, "luvwinkel-de"));
      const filter = { mode: "test", connectionId: paid.payment.connectionId, after: null } as const;
      const newest = async () => must((await listPayouts(world.rt, here, filter)).rows[0]);
      await until("all is told", async () => (await newest()).told === "paid");
      const payout = await newest();
      expect(payout).toMatchObject({ isRead: true, odd: false, state: "paid" });
      // What a rehearsal took is in the file too, with what was given back of it.
      const { sums } = must(await payoutHere(world.rt, "luvwinkel-de", payout.id, null));
      expect(sums.map(({ kind, strange }) => [kind, strange])).toEqual([
        ["payment", 0],
        ["refund", 0],
      ]);
      expect(sums.reduce((total, { net }) => total + net, 0)).toBe(payout.amount);
    },
  );

  it("lets go of what was begun when the shopper turns back, here or there", async () => {
    const here = await openKite(world.rt);
    await pay(world.rt, here, must(offers.ostwick), "");
    expect(await turnBack(world.rt, must(await checkoutOf(world.rt, here.id)))).toBe("cancelled");
    const there = await openKite(world.rt);
    const paid = await pay(world.rt, there, must(offers.ostwick), "");
    if (paid.kind !== "payment") throw new Error(paid.kind);
    const { scene } = await viewOf(world.rt, must(await checkoutOf(world.rt, there.id)), null);
    await fetch(scene.name === "challenge" ? scene.address : "", {
      method: "POST",
      body: new URLSearchParams({ press: "leave" }),
      redirect: "manual",
    });
    await lookUp(world.rt, must(await paymentOf(world.rt, paid.payment.id)));
    expect((await paymentOf(world.rt, paid.payment.id))?.state).toBe("cancelled");
    expect((await viewOf(world.rt, must(await checkoutOf(world.rt, there.id)), null)).scene.name).toBe(
      "choose",
    );
  });
});
