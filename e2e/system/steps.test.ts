import { fork } from "node:child_process";
import { once } from "node:events";
import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import { chooseOther } from "#server/checkouts/leave";
import { checkoutOf } from "#server/checkouts/checkouts";
import { pay } from "#server/checkouts/pay";
import type { OfferDocument } from "#core/offers/offer";
import type { Payment } from "#server/database/rows";
import { call, lineOf } from "#server/gateway/gateway";
import { startWorker } from "#server/jobs/worker";
import { operationsOf } from "#server/operations/operations";
import { offerOf, saveOffer } from "#server/offers/offers";
import { takeLate } from "#server/payments/late";
import { paymentOf } from "#server/payments/record";
import { boardOf } from "#server/rehearsal/boards";
import { anyOfferIn, mustStand } from "#server/storefronts/now";
import { startRehearsal } from "#server/rehearsal/run";
import { connectAccount, offerMethod } from "../../demo/accounts";
import { must, until } from "../../demo/play";
import { program } from "../../scripts/programs.mjs";
import { chanceOf } from "./chance";
import { kill, kiteOrder, openKite, openWorld, type SystemWorld, wholeRehearsal } from "./world";

// Instalments are prepared by asking for them, made by confirming what the shopper has signed, and taken by a call.

let world: SystemWorld;
let offerId: string;
let endWorker = () => Promise.resolve();
beforeAll(async () => {
  world = await openWorld({ beside: false, worker: false, connect: false });
  endWorker = startWorker(world.rt);
  const account = await connectAccount(world.rt, world.standins, {
    provider: "ratenhaus",
    storefrontId: "luvwinkel-de",
    modes: ["test"],
  });
  offerId = await offerMethod(world.rt, "luvwinkel-de", account.connectionId, "plan", {});
});
afterAll(async () => {
  await endWorker();
  await world.end();
});
afterEach(() => {
  world.wire.http = null;
});

const rt = () => world.rt;
const now = async ({ id }: Payment) => must(await paymentOf(rt(), id), "payment");
const kinds = async ({ id }: Payment) =>
  (await operationsOf(rt(), id)).map(({ kind, state, asks }) => `${kind} ${state} ${asks}`);
const big = { lines: [{ name: "Lenkdrachen", quantity: 1, unit: 24_000, total: 24_000 }], total: 24_490 };
const settled = async (payment: Payment) =>
  until("nothing is under way", async () =>
    (await operationsOf(rt(), payment.id)).every(({ endedAt }) => endedAt !== null),
  );

async function asked(capture: "at-once" | "later" = "at-once"): Promise<Payment> {
  const checkout = await openKite(rt(), kiteOrder(big));
  const paid = await pay(rt(), checkout, offerId, "", { capture });
  if (paid.kind !== "payment") throw new Error(paid.kind);
  expect(paid.payment.state).toBe("pending");
  return paid.payment;
}

async function signs(payment: Payment, answer = "sign") {
  const line = must(await lineOf(rt(), payment), "line");
  const fresh = await now(payment);
  const played = await call(rt(), line, "actForShopper", { ref: fresh.providerRef, answer });
  if (played.kind !== "answered") throw new Error(JSON.stringify(played));
}

const atProvider = async (payment: Payment) => {
  const line = must(await lineOf(rt(), payment), "line");
  const answer = await call(rt(), line, "read", { ref: (await now(payment)).providerRef });
  if (answer.kind !== "answered") throw new Error(answer.kind);
  return answer.value;
};

/** Meddles with one call of the provider's: what is made of it is the world's to say. */
function meddle(path: string, how: (go: () => Promise<Response>) => Promise<Response>, times = 1) {
  let left = times;
  world.wire.http = async (input, init) => {
    const go = () => fetch(input, init);
    if (left <= 0 || !String(input).endsWith(path)) return go();
    left -= 1;
    return how(go);
  };
}

const signatureApplied = (payment: Payment) =>
  until("the message is applied", async () => {
    const { rows } = await rt().db.client.execute({
      sql: "select count(*) as n from webhooks where payment_id = ? and outcome = 'applied' and body like ?",
      args: [payment.id, '%"stand":"signed"%'],
    });
    return Number(rows[0]?.n) > 0;
  });

describe("a payment that is made in steps", () => {
  it("is confirmed once its shopper has signed, then captured, each once", async () => {
    const payment = await asked();
    expect(await kinds(payment)).toEqual(["create done 1"]);
    await signs(payment);
    await until("it is captured", async () => (await now(payment)).state === "captured");
    await settled(payment);
    expect(await kinds(payment)).toEqual(["create done 1", "confirm done 1", "capture done 1"]);
    expect(await now(payment)).toMatchObject({ authorised: 24_490, captured: 24_490, held: 0 });
    const checkout = must(await checkoutOf(rt(), payment.checkoutId), "checkout");
    expect(checkout.state).toBe("paid");
  });

  it("tells where its buyer lives, and who they are at the shop, where the offer says so and not otherwise", async () => {
    const edit = async (telling: OfferDocument["telling"]) => {
      const stands = await mustStand(rt(), "luvwinkel-de");
      const one = must(anyOfferIn(stands, offerId), "offer");
      const { number, document } = one.working;
      const saved = await saveOffer(
        rt(),
        "ida",
        stands.storefront,
        one,
        { ...document, telling: telling ?? {} },
        number,
      );
      expect(saved).toMatchObject({ ok: true });
    };
    const told = async () => {
      const sent: string[] = [];
      world.wire.http = (input, init) => {
        if (String(input).endsWith("/plans")) sent.push(String(init?.body));
        return fetch(input, init);
      };
      const billTo = {
        country: "DE",
        postcode: "26721",
        city: "Emden",
        lines: ["Deichweg 4"],
        name: "Ida Möwe",
      };
      await pay(rt(), await openKite(rt(), kiteOrder({ ...big, billTo, shopper: "shopper-7" })), offerId, "");
      world.wire.http = null;
      return JSON.parse(must(sent[0], "what was sent")) as Record<string, unknown>;
    };
    expect(Object.keys(await told())).not.toEqual(expect.arrayContaining(["lives_at"]));
    await edit({ address: true, shopper: true });
    expect(await told()).toMatchObject({
      known_as: "shopper-7",
      lives_at: { land: "DE", code: "26721", town: "Emden", street: "Deichweg 4", name: "Ida Möwe" },
    });
    await edit({});
  });

  it("stays held where it is to be captured later", async () => {
    const payment = await asked("later");
    await signs(payment);
    await until("it is held", async () => (await now(payment)).state === "authorised");
    await settled(payment);
    expect(await kinds(payment)).toEqual(["create done 1", "confirm done 1"]);
  });

  it("is not confirmed while its shopper has not signed, nor when they are refused", async () => {
    const payment = await asked();
    await signs(payment, "poor");
    await until("it is declined", async () => (await now(payment)).state === "declined");
    expect(await kinds(payment)).toEqual(["create done 1"]);
  });

  it("is looked up where the answer to a step is lost, and nothing is done twice", async () => {
    for (const path of ["/confirm", "/pay-out"]) {
      const payment = await asked();
      meddle(path, async (go) => {
        await go();
        throw new TypeError("lost on the way");
      });
      await signs(payment);
      await until("it is captured", async () => (await now(payment)).state === "captured");
      await settled(payment);
      expect(await kinds(payment)).toEqual(["create done 1", "confirm done 1", "capture done 1"]);
      expect(await atProvider(payment)).toMatchObject({ authorised: 24_490, captured: 24_490 });
    }
  });

  it("goes on after a fault without any effect, by asking again with the same key", async () => {
    const payment = await asked();
    const answer = () => new Response(`{"mistake":"broken","explained":"Something broke"}`, { status: 500 });
    meddle("/confirm", () => Promise.resolve(answer()));
    await signs(payment);
    await until("it is captured", async () => (await now(payment)).state === "captured");
    await settled(payment);
    expect(await kinds(payment)).toEqual(["create done 1", "confirm done 2", "capture done 1"]);
  });

  it("has failed where the provider refuses to have it confirmed, and its shopper may choose again", async () => {
    const payment = await asked();
    const answer = () =>
      new Response(`{"mistake":"RH-41","explained":"A plan that has lapsed cannot do that"}`, {
        status: 409,
      });
    meddle("/confirm", () => Promise.resolve(answer()));
    await signs(payment);
    await until("it has failed", async () => (await now(payment)).state === "failed");
    expect(await kinds(payment)).toEqual(["create done 1", "confirm refused 1"]);
    const checkout = must(await checkoutOf(rt(), payment.checkoutId), "checkout");
    expect(checkout).toMatchObject({ state: "open", activePaymentId: null });
    expect(await atProvider(payment)).toMatchObject({ authorised: 0, captured: 0 });
  });

  it("is not confirmed when its shopper has turned back meanwhile, also where letting go has failed", async () => {
    const payment = await asked();
    const broken = () => new Response(`{"mistake":"broken"}`, { status: 500 });
    meddle("/withdraw", () => Promise.resolve(broken()), 1_000);
    await chooseOther(rt(), must(await checkoutOf(rt(), payment.checkoutId), "checkout"));
    await signs(payment);
    await until("the signature is known", async () => (await atProvider(payment)).status === "signed");
    await signatureApplied(payment);
    expect((await kinds(payment)).filter((one) => one.startsWith("confirm"))).toEqual([]);
    expect((await atProvider(payment)).authorised).toBe(0);
  });

  it("is held and not captured where it came too late and a person is to be asked, until they take it", async () => {
    const payment = await asked();
    const sql = (text: string, ...args: string[]) => rt().db.client.execute({ sql: text, args });
    const before = (await sql("select money from storefronts where id = 'luvwinkel-de'")).rows[0]?.money;
    await sql("update storefronts set money = json_set(money, '$.late', 'ask') where id = 'luvwinkel-de'");
    await sql(
      "update checkouts set state = 'expired', active_payment_id = null where id = ?",
      payment.checkoutId,
    );
    await signs(payment);
    await signatureApplied(payment);
    // Somebody has confirmed it at the provider's dashboard all the same.
    const line = must(await lineOf(rt(), payment), "line");
    const { providerRef: ref } = await now(payment);
    await call(rt(), line, "confirm", { ref, idempotencyKey: "by hand" });
    await until("it is held", async () => (await now(payment)).held === 24_490);
    await until("nothing waits", async () => {
      const { rows } = await sql("select 1 from jobs where kind = 'take-steps' and key = ?", payment.id);
      return rows.length === 0;
    });
    expect((await now(payment)).captured).toBe(0);
    expect(await kinds(payment)).toEqual(["create done 1"]);
    expect((await takeLate(rt(), "ida", await now(payment))).ok).toBe(true);
    await until("it is captured", async () => (await now(payment)).captured === 24_490);
    await sql("update storefronts set money = ? where id = 'luvwinkel-de'", String(before));
  });

  it("is not confirmed where its checkout waits for it no more", async () => {
    const payment = await asked();
    await rt().db.client.execute({
      sql: "update checkouts set active_payment_id = null where id = ?",
      args: [payment.checkoutId],
    });
    await signs(payment);
    await signatureApplied(payment);
    await until("the work is done", async () => {
      const { rows } = await rt().db.client.execute({
        sql: "select count(*) as n from jobs where kind = 'take-steps' and key = ?",
        args: [payment.id],
      });
      return Number(rows[0]?.n) === 0;
    });
    expect(await kinds(payment)).toEqual(["create done 1"]);
    expect((await atProvider(payment)).status).toBe("signed");
  });
});

/** Goes on until nothing is under way any more, however long that takes by the clock. */
async function known(payment: Payment) {
  await until("its end is known", async () => {
    world.clock.offset += 120_000;
    rt().nudge();
    const { state } = await now(payment);
    const all = await operationsOf(rt(), payment.id);
    return state !== "pending" && state !== "authorised" && all.every(({ endedAt }) => endedAt !== null);
  });
  world.clock.offset = 0;
}

describe("whatever happens on the way", () => {
  it.each([1, 2, 3, 4, 5, 6])("comes to one confirmation and one capture (%i)", async (seed) => {
    const { pick } = chanceOf(4_711 + seed);
    const payment = await asked();
    let faults = 5;
    world.wire.http = async (input, init) => {
      const go = () => fetch(input, init);
      if (faults <= 0 || !/\/(confirm|pay-out)$|\/plans\/[^/]+$/.test(String(input))) return go();
      faults -= 1;
      const broken = () =>
        new Response(`{"mistake":"broken","explained":"Something broke"}`, { status: 500 });
      const fault = pick(["none", "error", "error-after", "lost", "lost-after"]);
      if (fault === "none") return go();
      if (fault.endsWith("after")) await go();
      if (fault.startsWith("error")) return broken();
      throw new TypeError("lost on the way");
    };
    await fetch(`${world.standins}/weather/ratenhaus`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ side: "sandbox", kind: pick(["lose", "double", "late", "swap"]), calls: 2 }),
    });
    await signs(payment);
    await known(payment);
    world.wire.http = null;
    expect((await kinds(payment)).map((one) => one.replace(/ \d+$/, ""))).toEqual([
      ...["create done", "confirm done", "capture done"],
    ]);
    expect(await now(payment)).toMatchObject({ state: "captured", captured: 24_490, refunded: 0 });
    expect(await atProvider(payment)).toMatchObject({ authorised: 24_490, captured: 24_490, refunded: 0 });
  });
});

describe("killed while it takes its steps", () => {
  it.each([0, 10, 25, 60])("has taken each once, and goes on with the next: after %i ms", async (delay) => {
    await endWorker();
    const payment = await asked();
    await signs(payment);
    const child = fork(program("e2e/system/steps-once.ts"), {
      env: { ...process.env, ...world.env, PAYMENT: payment.id },
    });
    await once(child, "message");
    child.send("go");
    await new Promise((resolve) => setTimeout(resolve, delay));
    await kill(child, "SIGKILL");
    endWorker = startWorker(rt());
    await known(payment);
    expect((await kinds(payment)).map((one) => one.replace(/ \d+$/, ""))).toEqual([
      ...["create done", "confirm done", "capture done"],
    ]);
    expect(await atProvider(payment)).toMatchObject({ authorised: 24_490, captured: 24_490, refunded: 0 });
  });
});

describe("a rehearsal of it", () => {
  it("passes every case that is required, with confirmations whose answers are lost among them", async () => {
    const offer = async () => must(await offerOf(rt(), "luvwinkel-de", offerId), "offer");
    const board = async () => boardOf(rt(), await offer());
    const required = (await board()).cells.filter((cell) => cell.required).map(({ caseId }) => caseId);
    expect(required).toEqual(expect.arrayContaining(["confirm-lost", "confirm-broken", "late-approval"]));
    await startRehearsal(rt(), "ida", await offer(), required);
    await until("the rehearsal ends", async () => (await board()).running === null, wholeRehearsal);
    const failed = (await board()).cells.flatMap(({ required: needed, caseId, proof }) =>
      needed && proof?.state !== "passed" ? [`${caseId}: ${JSON.stringify(proof)}`] : [],
    );
    expect(failed).toEqual([]);
    // Its shopper waits: what follows a confirmation follows it at once, and not when it is looked at again.
    const { rows } = await rt().db.client.execute(
      `select b.at - a.ended_at as gap from payment_operations a join payment_operations b on b.payment_id = a.payment_id
       where a.kind = 'confirm' and a.person = 'rehearsal' and b.kind = 'capture'`,
    );
    expect(rows).toHaveLength(2);
    for (const { gap } of rows) expect(gap).toBeLessThan(8_000);
  });
});
