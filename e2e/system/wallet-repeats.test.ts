import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Plan } from "#core/subscriptions/plan";
import { usualTrying } from "#core/subscriptions/plan";
import { checkoutByToken } from "#server/checkouts/checkouts";
import { pay, type PayOptions } from "#server/checkouts/pay";
import type { Checkout, Payment, Subscription } from "#server/database/rows";
import { payments } from "#server/database/schema";
import { call, lineOf } from "#server/gateway/gateway";
import { instrumentRow, keptOf } from "#server/instruments/instruments";
import { offerOf } from "#server/offers/offers";
import { paymentOf } from "#server/payments/record";
import { boardOf } from "#server/rehearsal/boards";
import { startRehearsal } from "#server/rehearsal/run";
import { issueApiKey } from "#server/storefronts/storefronts";
import { goOn } from "#server/subscriptions/go-on";
import { subscriptionOf } from "#server/subscriptions/subscriptions";
import { type Account, connectAccount, offerMethod } from "../../demo/accounts";
import { until } from "../../demo/play";
import { must } from "./at-providers";
import { onServer, openKite, openWorld, type SystemWorld, wholeRehearsal } from "./world";

// A wallet that keeps a standing word of its payers: agreed to on its page once, used with a press, charged without them.

const DE = "luvwinkel-de";
let world: SystemWorld;
let wallet: Account;
let offerId = "";
let key = "";
const rt = () => world.rt;

const plan: Plan = {
  ...{ id: "season", names: { de: "Ein Drachen je Saison", en: "A kite a season" } },
  ...{ rhythm: { count: 3, unit: "month" }, times: null, prices: { EUR: 4_900 } },
  ...{ setUp: {}, setUpNames: {}, trial: null, fixedDay: null, tax: null },
};

beforeAll(async () => {
  world = await openWorld({ beside: false });
  wallet = await connectAccount(rt(), world.standins, {
    ...{ provider: "pennywhistle", storefrontId: DE, modes: ["test"] },
  });
  offerId = await offerMethod(rt(), DE, wallet.connectionId, "wallet", {
    keeps: "storefront",
    repeats: { plans: [plan], trying: usualTrying, timeZone: "Europe/Berlin" },
  });
  key = await issueApiKey(rt(), "ida", DE, "test");
});
afterAll(() => world.end());

/** Pays a checkout, and does at the wallet what its shopper does there. */
async function payAt(checkout: Checkout, does: string, options: PayOptions = {}): Promise<Payment> {
  const paid = await pay(rt(), checkout, offerId, "", { patient: true, ...options });
  if (paid.kind !== "payment") throw new Error(JSON.stringify(paid));
  const { id, providerRef, state } = paid.payment;
  if (state !== "pending") return paid.payment;
  const line = must(await lineOf(rt(), paid.payment));
  await call(rt(), line, "actForShopper", { ref: providerRef, answer: does });
  await until("the payment", async () => (await paymentOf(rt(), id))?.state !== "pending");
  return must(await paymentOf(rt(), id));
}
const keptBy = (shopper: string) => keptOf(rt(), { storefrontId: DE, mode: "test", shopper });
const mandate = { words: "49,00 € werden alle drei Monate abgebucht, bis Sie kündigen.", language: "de" };

async function begin(reference: string, shopper: string, does = "agree"): Promise<Subscription> {
  const answer = await fetch(`${world.origin}/api/v1/subscriptions`, {
    method: "POST",
    headers: {
      ...{ authorization: `Bearer ${key}`, "content-type": "application/json", "idempotency-key": reference },
    },
    body: JSON.stringify({
      ...{ reference, plan: "season", quantity: 1, shopper, currency: "EUR", country: "DE", language: "de" },
      ...{ group: "retail", email: "", returnAddress: "http://localhost:1/back" },
    }),
  });
  const { address, subscription } = (await answer.json()) as { address: string; subscription: string };
  const checkout = must(await checkoutByToken(rt(), must(address.split("/").at(-1))));
  await payAt(checkout, does, { mandate });
  await until("it runs", async () => (await now(subscription)).state === "running");
  return now(subscription);
}
const now = async (id: string): Promise<Subscription> => must(await subscriptionOf(rt(), id));
const chargedFor = async (reference: string) =>
  (await rt().db.orm.select().from(payments))
    .filter((one) => one.orderReference.startsWith(reference))
    .map(({ orderReference, state, decline }) => [orderReference, state, decline].filter(Boolean).join(" "))
    .sort();

describe("a wallet’s standing word", () => {
  it("is kept where its payer agrees, and pays the next order with one press", async () => {
    const keep = { words: "Dies für meine nächsten Bestellungen merken.", language: "de" };
    const first = await payAt(await openKite(rt(), { reference: "W-1", shopper: "payer-1" }), "agree", {
      keep,
    });
    expect(first.state).toBe("captured");
    const [kept] = await keptBy("payer-1");
    expect(kept?.name).toMatch(/^Purse …/);
    const again = await openKite(rt(), { reference: "W-2", shopper: "payer-1" });
    const second = await payAt(again, "nothing", { kept: must(kept).id });
    expect(second).toMatchObject({ state: "captured", orderReference: "W-2" });
    // Whoever does not want that is not kept.
    await payAt(await openKite(rt(), { reference: "W-3", shopper: "payer-2" }), "agree");
    expect(await keptBy("payer-2")).toEqual([]);
  });

  it("is charged without its payer, and refused as the wallet says", async () => {
    const good = await begin("W-10", "payer-3");
    await goOn(rt(), good.id, must(good.nextDue));
    await until("the period", async () => (await chargedFor("W-10")).includes("W-10-1 captured"));
    const empty = await begin("W-11", "payer-4", "agree-then-empty");
    await goOn(rt(), empty.id, must(empty.nextDue));
    await until("it is refused", async () => (await now(empty.id)).state === "behind");
    expect(await chargedFor("W-11")).toEqual(["W-11 captured", "W-11-1 declined insufficient-funds"]);
    const asks = await begin("W-12", "payer-5", "agree-then-asks");
    await goOn(rt(), asks.id, must(asks.nextDue));
    await until("the payer wants to be asked", async () => (await now(asks.id)).state === "behind");
    expect(await chargedFor("W-12")).toEqual(["W-12 captured", "W-12-1 declined authentication-failed"]);
  });

  it("is over once its payer ends it in their purse", async () => {
    const begun = await begin("W-20", "payer-6");
    const there = await wallet.desk.account("sandbox", "Luvwinkel");
    const row = must(await instrumentRow(rt(), begun.instrumentId));
    const kept = rt().seal.open(must(row.sealed), `instrument ${row.digest.slice(0, 64)}`);
    await wallet.desk.press("sandbox", "unword", { account: there, word: kept });
    await until("it is told", async () => (await instrumentRow(rt(), row.id))?.state === "forgotten");
    await goOn(rt(), begun.id, must(begun.nextDue));
    // Nothing is left that could be charged, so nobody is asked for it; the shopper is.
    expect(await chargedFor("W-20")).toEqual(["W-20 captured"]);
    expect(await now(begun.id)).toMatchObject({ state: "behind" });
  });
});

it.skipIf(onServer)("is rehearsed whole, and nothing of it is left over there", async () => {
  const offer = async () => must(await offerOf(rt(), DE, offerId));
  const isMine = ({ caseId }: { caseId: string }) => /^(repeat-|kept-)/.test(caseId);
  const mine = (await boardOf(rt(), await offer())).cells.filter(isMine);
  expect(mine.map(({ required }) => required)).toEqual(mine.map(() => true));
  expect(mine).toHaveLength(8);
  await startRehearsal(
    rt(),
    "ida",
    await offer(),
    mine.map(({ caseId }) => caseId),
  );
  await until(
    "the rehearsal",
    async () => (await boardOf(rt(), await offer())).running === null,
    wholeRehearsal,
  );
  const { cells } = await boardOf(rt(), await offer());
  const played = cells.filter(isMine);
  expect(
    played.map(({ caseId, proof }) => [
      caseId,
      proof?.state,
      proof?.error ?? proof?.verdicts.filter((one) => !one.ok),
    ]),
  ).toEqual(played.map(({ caseId }) => [caseId, "passed", []]));
  // What was an erased shopper's goes once the wallet has forgotten it.
  const left = async () =>
    (await rt().db.client.execute("select count(*) as n from instruments where shopper = ''")).rows[0]?.n;
  await until("nothing to be left", async () => (await left()) === 0);
});
