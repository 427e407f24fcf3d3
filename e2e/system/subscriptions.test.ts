import { eq } from "drizzle-orm";
import { drizzle } from "drizzle-orm/libsql";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Plan } from "#core/subscriptions/plan";
import { usualTrying } from "#core/subscriptions/plan";
import { checkoutByToken } from "#server/checkouts/checkouts";
import { endCheckout } from "#server/checkouts/leave";
import { pay } from "#server/checkouts/pay";
import type { Subscription } from "#server/database/rows";
import * as schema from "#server/database/schema";
import {
  connectionTroubles,
  instruments,
  outbox,
  payments,
  subscriptionEvents,
  subscriptionPeriods,
} from "#server/database/schema";
import { call, lineOf } from "#server/gateway/gateway";
import { keptOf } from "#server/instruments/instruments";
import { act } from "#server/payments/actions";
import { paymentOf } from "#server/payments/record";
import { offerOf } from "#server/offers/offers";
import { boardOf } from "#server/rehearsal/boards";
import { startRehearsal } from "#server/rehearsal/run";
import type { Runtime } from "#server/runtime";
import { issueApiKey } from "#server/storefronts/storefronts";
import { goOn } from "#server/subscriptions/go-on";
import { forecastOf } from "#server/subscriptions/list";
import { newWayFor } from "#server/subscriptions/new-way";
import { see, subscriptionOf } from "#server/subscriptions/subscriptions";
import { editOffer } from "../../demo/accounts";
import { until } from "../../demo/play";
import { freePort } from "../../scripts/setup.mjs";
import { MailBox } from "../../standins/mail/mail";
import { must } from "./at-providers";
import { onServer, openKite, openWorld, type SystemWorld, wholeRehearsal } from "./world";

// Payments that repeat: begun at a checkout or by the shop, charged once for each period, tried again, rescued, ended.

const DE = "luvwinkel-de";
const DAY = 86_400_000;
let world: SystemWorld;
let key = "";
const mail = new MailBox();
const posted: Record<string, unknown>[] = [];
const rt = () => world.rt;

const season: Plan = {
  id: "season",
  names: { de: "Ein Drachen je Saison", en: "A kite a season" },
  rhythm: { count: 1, unit: "month" },
  times: null,
  prices: { EUR: 2_900 },
  setUp: { EUR: 500 },
  setUpNames: { de: "Einrichtung", en: "Set-up" },
  trial: null,
  fixedDay: null,
  tax: { share: 1_900, included: true },
};
const plans: Plan[] = [
  season,
  { ...season, id: "tried", setUp: {}, setUpNames: {}, trial: { days: 14, prices: { EUR: 100 } } },
  { ...season, id: "thrice", setUp: {}, setUpNames: {}, times: 3 },
  { ...season, id: "free", setUp: {}, setUpNames: {}, trial: { days: 14, prices: {} } },
];

beforeAll(async () => {
  world = await openWorld({ beside: false });
  const port = await freePort();
  await mail.open(port);
  world.settings.smtpUrl = `smtp://localhost:${port}`;
  key = await issueApiKey(rt(), "ida", DE, "test");
  await editOffer(rt(), DE, world.offerId, {
    keeps: "storefront",
    repeats: { plans, trying: usualTrying, timeZone: "Europe/Berlin" },
  });
  world.wire.http = async (input, init) => {
    const body = typeof init?.body === "string" ? init.body : "";
    if (init?.method === "POST" && body.includes("your_ref"))
      posted.push(JSON.parse(body) as Record<string, unknown>);
    return fetch(input, init);
  };
});
afterAll(async () => {
  await world.end();
  mail.close();
});
/** The letters that a shopper got; their text is the address they are sent to, the newest first. */
const lettersTo = (email: string) =>
  mail.letters.filter(({ to }) => to === email).map(({ text }) => text.trim());

/** What runs as another process would that, once it has read of a table, is held up for a while before it reads on. */
function readingUntil(other: Runtime, table: string, meanwhile: () => Promise<void>): Runtime {
  const { client } = other.db;
  let held = false;
  const slow = new Proxy(client, {
    get(target, name) {
      const value: unknown = Reflect.get(target, name);
      if (typeof value !== "function") return value;
      if (name !== "execute" && name !== "batch") return value.bind(target) as unknown;
      return async (...asked: unknown[]) => {
        const answer: unknown = await value.apply(target, asked);
        if (!held && JSON.stringify(asked).includes(table)) {
          held = true;
          await meanwhile();
        }
        return answer;
      };
    },
  });
  return { ...other, db: { ...other.db, orm: drizzle(slow, { schema, casing: "snake_case" }) } };
}

let calls = 0;
async function api(method: string, path: string, body?: object) {
  const answer = await fetch(`${world.origin}/api/v1${path}`, {
    method,
    headers: {
      authorization: `Bearer ${key}`,
      ...(method === "POST" && { "idempotency-key": `k-${++calls}` }),
      ...(body && { "content-type": "application/json" }),
    },
    ...(body && { body: JSON.stringify(body) }),
  });
  return { status: answer.status, body: (await answer.json()) as Record<string, unknown> };
}
const who = {
  ...{ shopper: "shopper-7", currency: "EUR", country: "DE", language: "de", group: "retail" },
  ...{ email: "fenna@example.org", returnAddress: "http://localhost:1/back" },
};
const mandate = { words: "29,00 € werden jeden Monat abgebucht, bis Sie kündigen.", language: "de" };

async function payAt(address: string, token: string): Promise<string> {
  const checkout = must(await checkoutByToken(rt(), must(address.split("/").at(-1))));
  const paid = await pay(rt(), checkout, world.offerId, token, { mandate, patient: true });
  if (paid.kind !== "payment") throw new Error(JSON.stringify(paid));
  const { id, providerRef, state } = paid.payment;
  if (state !== "pending") return id;
  const line = must(await lineOf(rt(), paid.payment));
  await call(rt(), line, "actForShopper", { ref: providerRef, answer: "pass" });
  await until("the payment", async () => (await paymentOf(rt(), id))?.state === "captured");
  return id;
}
async function begin(
  reference: string,
  { token = "play-approved", ...more }: Record<string, unknown> & { token?: string } = {},
): Promise<Subscription> {
  const begun = await api("POST", "/subscriptions", { reference, plan: "season", ...who, ...more });
  expect(begun.body).toMatchObject({ state: "waiting", reference });
  await payAt(String(begun.body.address), token);
  const id = String(begun.body.subscription);
  await until("it runs", async () => (await subscriptionOf(rt(), id))?.state === "running");
  return now(id);
}
const now = async (id: string): Promise<Subscription> => must(await subscriptionOf(rt(), id));
const periodsOf = (id: string) =>
  rt()
    .db.orm.select()
    .from(subscriptionPeriods)
    .where(eq(subscriptionPeriods.subscriptionId, id))
    .orderBy(subscriptionPeriods.number);
const happened = async (id: string) =>
  (await rt().db.orm.select().from(subscriptionEvents).where(eq(subscriptionEvents.subscriptionId, id))).map(
    ({ event }) => event.what,
  );
/** What the shop was told to have happened to a subscription. */
const heard = async (id: string) =>
  (await rt().db.orm.select().from(outbox).orderBy(outbox.createdAt, outbox.id))
    .map(({ body }) => JSON.parse(body) as { data: { subscription?: unknown; happened?: { what: string } } })
    .filter(({ data }) => (data.subscription as { subscription?: string } | undefined)?.subscription === id)
    .map(({ data }) => data.happened?.what);
/** What was charged for the orders of a subscription, by order number. */
const chargedFor = async (reference: string) =>
  (await rt().db.orm.select().from(payments))
    .filter((one) => one.orderReference === reference || one.orderReference.startsWith(`${reference}-`))
    .map(({ orderReference, state, amount }) => `${orderReference} ${state} ${amount}`)
    .sort();
/** Goes on at a time until nothing is under way any more: the worker may have been quicker, and still be at it. */
async function goOnAt(id: string, at: number): Promise<number | null> {
  await goOn(rt(), id, at);
  await until("nothing is under way", async () => {
    const open = (await see(rt(), id))?.course.open;
    return open?.payment !== "under-way" && !(open?.payment === "none" && open.chargeable);
  });
  return goOn(rt(), id, at);
}

describe("a subscription", () => {
  it("begins with what the shopper agrees to and pays, and is charged again without them, once", async () => {
    const begun = await begin("S-1");
    expect(posted.at(-1)).toMatchObject({ sum: 3_400, keep_card: true, charged_again: true, ask: "always" });
    expect(posted.at(-1)).not.toHaveProperty("asked_by");
    expect(begun).toMatchObject({ next: 1, charged: 1, mandate: { words: mandate.words } });
    const [kept] = await keptOf(rt(), { storefrontId: DE, mode: "test", shopper: "shopper-7" });
    expect(begun.instrumentId).toBe(must(kept).id);
    const due = must(begun.nextDue);
    expect(await goOnAt(begun.id, due - 1)).toBe(due);
    // However many come at once, in this process or another, the period is charged once.
    await Promise.all(Array.from({ length: 6 }, () => goOnAt(begun.id, due)));
    await until("the period", async () => (await periodsOf(begun.id))[1]?.state === "paid");
    expect(posted.at(-1)).toMatchObject({ asked_by: "shop", first_mark: expect.any(String), sum: 2_900 });
    expect(await chargedFor("S-1")).toEqual(["S-1 captured 3400", "S-1-1 captured 2900"]);
    const told = await api("GET", "/subscriptions/S-1");
    expect(told.body).toMatchObject({
      ...{ state: "running", amount: "29.00", quantity: 1, plan: "season" },
      periods: [
        { number: 0, amount: "34.00", state: "paid", order: "S-1" },
        { number: 1, amount: "29.00", state: "paid", order: "S-1-1", tries: 1 },
      ],
    });
    const news = (await rt().db.orm.select().from(outbox)).filter(({ body }) =>
      body.includes("subscription.changed"),
    );
    expect(
      news.map(
        ({ body }) => (JSON.parse(body) as { data: { happened: { what: string } } }).data.happened.what,
      ),
    ).toEqual(expect.arrayContaining(["begun", "opened", "paid"]));
  });

  it("is foreseen, and what came of it told, by the days of whoever looks", async () => {
    const { id } = await begin("S-day");
    const inThreeDays = Math.floor(rt().now() / DAY) * DAY + 3 * DAY;
    // A quarter of an hour before and after midnight in Greenwich, and in a zone that is three quarters past the hour.
    for (const [moment, zone, day] of [
      [-15, "UTC", 2],
      [0, "UTC", 3],
      [-15, "Europe/Berlin", 3],
      [14 * 60 - 24 * 60, "Pacific/Kiritimati", 3],
      [18 * 60 + 14 - 24 * 60, "Asia/Kathmandu", 2],
      [18 * 60 + 15 - 24 * 60, "Asia/Kathmandu", 3],
    ] as const) {
      const at = inThreeDays + moment * 60_000;
      await rt().db.client.execute({
        sql: "update subscriptions set next_due = ? where id = ?",
        args: [at, id],
      });
      const [euros] = await forecastOf(rt(), DE, "test", zone);
      const there = new Date(inThreeDays - (3 - day) * DAY).toISOString().slice(0, 10);
      expect(euros?.ahead.find((one) => one.day === there)).toEqual({ day: there, count: 1, amount: 2_900 });
      expect(euros?.ahead).toHaveLength(30);
    }
    await rt().db.client.execute({
      sql: "update subscription_periods set due_at = ? where subscription_id = ? and number = 0",
      args: [inThreeDays - 8 * DAY - 900_000, id],
    });
    for (const [zone, day] of [
      ["UTC", 6],
      ["Europe/Berlin", 5],
    ] as const) {
      const [euros] = await forecastOf(rt(), DE, "test", zone);
      const there = new Date(inThreeDays - (3 + day) * DAY).toISOString().slice(0, 10);
      expect(euros?.before.find((one) => one.day === there)).toEqual({
        day: there,
        expected: 3_400,
        came: 3_400,
      });
      expect(euros?.before).toHaveLength(31);
    }
    await api("POST", "/subscriptions/S-day/cancel");
  });

  it.skipIf(onServer)(
    "is charged through two years, each period once, at the end of each month",
    async () => {
      const begun = await begin("S-2");
      const anchored = { ...must(begun.schedule), anchor: "2027-01-31", anchorNumber: 1, minute: 150 };
      await rt().db.client.execute({
        sql: "update subscriptions set schedule = ?, next_due = ? where id = ?",
        args: [JSON.stringify(anchored), Date.UTC(2027, 0, 31, 1, 30), begun.id],
      });
      const end = Date.UTC(2029, 0, 1);
      for (let at: number | null = 0, turns = 0; at !== null && at < end; turns++) {
        expect(turns).toBeLessThan(200);
        at = await goOnAt(begun.id, Math.max(at, 1));
        await until("nothing is under way", async () =>
          (await periodsOf(begun.id)).every(({ state }) => state === "paid" || state === "open"),
        );
      }
      await goOnAt(begun.id, Date.UTC(2028, 11, 31, 12));
      const periods = (await periodsOf(begun.id)).slice(1);
      expect(periods.map(({ first }) => first)).toEqual([
        ...["2027-01-31", "2027-02-28", "2027-03-31", "2027-04-30", "2027-05-31", "2027-06-30"],
        ...["2027-07-31", "2027-08-31", "2027-09-30", "2027-10-31", "2027-11-30", "2027-12-31"],
        ...["2028-01-31", "2028-02-29", "2028-03-31", "2028-04-30", "2028-05-31", "2028-06-30"],
        ...["2028-07-31", "2028-08-31", "2028-09-30", "2028-10-31", "2028-11-30", "2028-12-31"],
      ]);
      expect(periods.every(({ state, tries }) => state === "paid" && tries === 1)).toBe(true);
      const charged = (await chargedFor("S-2")).slice(1);
      expect(charged).toHaveLength(24);
      expect(new Set(charged).size).toBe(24);
      // Nobody walked what was charged without the shopper, so none of it counts as a rehearsed case.
      const walked = `select count(*) as n from proofs f join payments p on p.id = f.payment_id
        where f.how = 'walked' and p.order_reference like 'S-2-%'`;
      expect((await rt().db.client.execute(walked)).rows[0]?.n).toBe(0);
      // Half past two by the clock on the wall: an hour that both changes of the clock take or give.
      expect(
        new Date(must(periods.find(({ first }) => first === "2027-06-30")).dueAt).toISOString(),
      ).toContain("T00:30");
      expect(
        new Date(must(periods.find(({ first }) => first === "2027-12-31")).dueAt).toISOString(),
      ).toContain("T01:30");
    },
  );

  it("begins for nothing where the trial is free, once the card is shown to be good", async () => {
    const opened = await api("POST", "/subscriptions", { reference: "S-30", plan: "free", ...who });
    expect(opened.body).toMatchObject({ state: "waiting", due: "0.00" });
    const address = String(opened.body.address);
    // A card that is refused begins nothing; the same checkout takes another.
    await payAt(address, "play-short");
    expect(await chargedFor("S-30")).toEqual(["S-30 declined 0"]);
    const paid = await payAt(address, "play-approved");
    const id = String(opened.body.subscription);
    await until("it runs", async () => (await subscriptionOf(rt(), id))?.state === "running");
    expect(posted.at(-1)).toMatchObject({ sum: 0, keep_card: true, charged_again: true, ask: "always" });
    expect(await paymentOf(rt(), paid)).toMatchObject({
      ...{ state: "captured", amount: 0, authorised: 0, captured: 0, held: 0 },
    });
    const order = await api("GET", "/orders/S-30");
    expect(order.body).toMatchObject({ state: "paid", due: "0.00" });
    // Nothing was charged, so there is nothing to give back and nothing to confirm.
    const free = must(await paymentOf(rt(), paid));
    const back = await act(rt(), "ida", free, { kind: "refund", amount: 1, once: "nothing-back" });
    expect(back).toMatchObject({ ok: false });
    const due = must((await now(id)).nextDue);
    expect(due - (await now(id)).createdAt).toBeGreaterThan(13 * DAY);
    await goOnAt(id, due);
    await until("the first period", async () => (await periodsOf(id))[1]?.state === "paid");
    expect(posted.at(-1)).toMatchObject({ sum: 2_900, asked_by: "shop", first_mark: expect.any(String) });
    // The shop begins another with what was kept: it is shown to be good once more.
    const { instrumentId } = await now(id);
    const again = await api("POST", "/subscriptions", {
      ...{ reference: "S-31", plan: "free", ...who, instrument: instrumentId, mandate: mandate.words },
    });
    const second = String(again.body.subscription);
    await until("the second runs", async () => (await subscriptionOf(rt(), second))?.state === "running");
    expect(posted.at(-1)).toMatchObject({ sum: 0, asked_by: "shop" });
  });

  it("ends by itself after so many times, after a trial of its own price, and when it was cancelled for its end", async () => {
    const thrice = await begin("S-3", { plan: "thrice" });
    for (let turn = 0; turn < 3; turn++) await goOnAt(thrice.id, must((await now(thrice.id)).nextDue ?? 0));
    expect(await now(thrice.id)).toMatchObject({ state: "ended", ending: "complete", nextDue: null });
    expect(await chargedFor("S-3")).toHaveLength(3);

    const tried = await begin("S-4", { plan: "tried", quantity: 2 });
    const [trial] = await periodsOf(tried.id);
    expect(trial).toMatchObject({ amount: 200, state: "paid" });
    expect(must(tried.nextDue) - tried.createdAt).toBeGreaterThan(13 * DAY);
    const cancelled = await api("POST", "/subscriptions/S-4/cancel-at-end");
    expect(cancelled.body).toMatchObject({ state: "running", ends: true });
    await goOnAt(tried.id, must(tried.nextDue));
    expect(await now(tried.id)).toMatchObject({ state: "ended", ending: "cancelled" });
    expect(await chargedFor("S-4")).toEqual(["S-4 captured 200"]);
  });
});

describe("a charge that is refused", () => {
  it("is tried again by the plan, the shopper is asked, and what they pay with instead is charged from then on", async () => {
    const begun = await begin("S-5", { token: "play-short-later" });
    const due = must(begun.nextDue);
    const again = await goOnAt(begun.id, due);
    expect(await now(begun.id)).toMatchObject({ state: "behind" });
    expect(again).toBe(due + DAY);
    await goOnAt(begun.id, due + DAY);
    expect(await chargedFor("S-5")).toEqual([
      "S-5 captured 3400",
      "S-5-1 declined 2900",
      "S-5-1 declined 2900",
    ]);
    expect(await happened(begun.id)).toEqual(["begun", "opened", "refused", "asked", "refused"]);
    // The shop hears where its shopper can pay it.
    const news = (await rt().db.orm.select().from(outbox))
      .map(({ body }) => JSON.parse(body) as { data: Record<string, unknown> })
      .filter(({ data }) => (data.happened as { what?: string } | undefined)?.what === "asked");
    const address = String(must(news.at(-1)).data.address);
    await payAt(address, "play-approved");
    await until("it runs again", async () => (await now(begun.id)).state === "running");
    const rescued = await now(begun.id);
    expect(rescued.instrumentId).not.toBe(begun.instrumentId);
    // What is told of the first payment after that changes nothing.
    const first = (await rt().db.orm.select().from(payments)).find((one) => one.orderReference === "S-5");
    await act(rt(), "ida", must(first), { kind: "refund", amount: 100, once: "after-rescue" });
    await until("the refund", async () => (await paymentOf(rt(), must(first).id))?.refunded === 100);
    expect((await now(begun.id)).instrumentId).toBe(rescued.instrumentId);
    // The shop hears once that it goes to something else from now on.
    expect((await happened(begun.id)).filter((what) => what === "instrument-changed")).toHaveLength(1);
    expect(await heard(begun.id)).toContain("instrument-changed");
    await goOnAt(begun.id, must(rescued.nextDue));
    expect((await chargedFor("S-5")).at(-1)).toBe("S-5-2 captured 2900");
  });

  it("is not tried again where the issuer wants to ask the shopper, and ends the subscription when nobody pays", async () => {
    const begun = await begin("S-6", { token: "play-asks-later" });
    const due = must(begun.nextDue);
    expect(await goOnAt(begun.id, due)).toBe(due + 5 * DAY);
    expect((await periodsOf(begun.id))[1]).toMatchObject({
      reason: "authentication-failed",
      tries: 1,
      asks: 1,
    });
    expect(await goOnAt(begun.id, due + 5 * DAY)).toBe(due + 14 * DAY);
    await goOnAt(begun.id, due + 14 * DAY);
    expect(await now(begun.id)).toMatchObject({ state: "ended", ending: "unpaid" });
    expect((await periodsOf(begun.id))[1]).toMatchObject({ state: "unpaid" });
    expect(await chargedFor("S-6")).toEqual(["S-6 captured 3400", "S-6-1 declined 2900"]);
    expect((await api("GET", "/orders/S-6-1")).body).toMatchObject({ state: "open", paid: "0.00" });
  });

  it("is asked for at once where the shopper has had forgotten what it is charged to", async () => {
    const begun = await begin("S-7", { shopper: "shopper-8" });
    await api("DELETE", `/shoppers/shopper-8/instruments/${must(begun.instrumentId)}`);
    const due = must(begun.nextDue);
    expect(await goOnAt(begun.id, due)).toBe(due + 5 * DAY);
    expect(await chargedFor("S-7")).toEqual(["S-7 captured 3400"]);
    expect(await now(begun.id)).toMatchObject({ state: "behind" });
  });

  it("forgets what the provider has no more", async () => {
    const begun = await begin("S-8", { shopper: "shopper-9" });
    const row = must(
      (
        await rt()
          .db.orm.select()
          .from(instruments)
          .where(eq(instruments.id, must(begun.instrumentId)))
      )[0],
    );
    const line = must(
      await lineOf(
        rt(),
        must((await rt().db.orm.select().from(payments).where(eq(payments.id, row.paymentId)))[0]),
      ),
    );
    await call(rt(), line, "forget", { kept: rt().seal.open(must(row.sealed), `instrument ${row.digest}`) });
    await goOnAt(begun.id, must(begun.nextDue));
    expect((await chargedFor("S-8")).at(-1)).toBe("S-8-1 failed 2900");
    expect(await keptOf(rt(), { storefrontId: DE, mode: "test", shopper: "shopper-9" })).toEqual([]);
    expect(await now(begun.id)).toMatchObject({ state: "behind" });
    expect(await happened(begun.id)).toEqual(["begun", "opened", "refused", "asked"]);
  });

  it("is not counted by what the shopper tries at the page that they were asked to", async () => {
    const begun = await begin("S-24", { shopper: "shopper-24", token: "play-asks-later" });
    const due = must(begun.nextDue);
    await goOnAt(begun.id, due);
    const asked = (await rt().db.orm.select().from(outbox))
      .map(({ body }) => JSON.parse(body) as { data: { order?: string; address?: string } })
      .find(({ data }) => data.order === "S-24-1" && data.address);
    await payAt(String(must(asked).data.address), "play-short");
    expect(await goOnAt(begun.id, due + DAY)).toBe(due + 5 * DAY);
    expect((await periodsOf(begun.id))[1]).toMatchObject({ reason: "authentication-failed", tries: 1 });
  });

  it("is not made while the provider does not answer, and comes when it does", async () => {
    const begun = await begin("S-23", { shopper: "shopper-23" });
    const { connectionId } = world;
    // Nothing that is still under way is answered either, so that nobody takes the trouble for over.
    world.wire.http = () => Promise.reject(new Error("away"));
    await rt().db.orm.insert(connectionTroubles).values({ connectionId, mode: "test", since: rt().now() });
    await expect(goOnAt(begun.id, must(begun.nextDue))).rejects.toThrow("subscriptions.offer-away");
    expect(await chargedFor("S-23")).toEqual(["S-23 captured 3400"]);
    expect(await now(begun.id)).toMatchObject({ state: "running" });
    world.wire.http = null;
    await rt().db.orm.delete(connectionTroubles);
    await goOnAt(begun.id, must(begun.nextDue));
    expect(await chargedFor("S-23")).toEqual(["S-23 captured 3400", "S-23-1 captured 2900"]);
  });

  it("is not taken for refused by one who was reading while another charged it", async () => {
    const begun = await begin("S-40", { shopper: "shopper-40" });
    const due = must(begun.nextDue);
    const trouble = { connectionId: world.connectionId, mode: "test" as const, since: rt().now() };
    world.wire.http = () => Promise.reject(new Error("away"));
    await rt().db.orm.insert(connectionTroubles).values(trouble);
    await expect(goOnAt(begun.id, due)).rejects.toThrow("subscriptions.offer-away");
    world.wire.http = null;
    await rt().db.orm.delete(connectionTroubles);
    let answer = () => {};
    const answered = new Promise<void>((resolve) => (answer = resolve));
    let charging: Promise<number | null> | null = null;
    const reader = readingUntil(rt(), "subscription_periods", async () => {
      world.wire.http = async (input, init) => {
        await answered;
        return fetch(input, init);
      };
      charging = goOn(rt(), begun.id, due);
      await until("it is asked for", async () => (await chargedFor("S-40")).length === 2);
    });
    await goOn(reader, begun.id, due);
    expect(await happened(begun.id)).toEqual(["begun", "opened"]);
    answer();
    world.wire.http = null;
    await must<Promise<number | null>>(charging);
    await goOnAt(begun.id, due);
    await until("it is paid", async () => (await periodsOf(begun.id))[1]?.state === "paid");
    expect(await chargedFor("S-40")).toEqual(["S-40 captured 3400", "S-40-1 captured 2900"]);
    expect(await happened(begun.id)).toEqual(["begun", "opened", "paid"]);
  });

  it("goes on without the period whose order is called off", async () => {
    const begun = await begin("S-9", { token: "play-short-later" });
    await goOnAt(begun.id, must(begun.nextDue));
    const called = await api("POST", "/orders/S-9-1/cancel");
    expect(called.body).toMatchObject({ state: "cancelled" });
    await until("it goes on", async () => (await now(begun.id)).state === "running");
    expect((await periodsOf(begun.id))[1]).toMatchObject({ state: "unpaid" });
  });
});

describe("what a subscription is charged to", () => {
  const lastOf = async (shopper: string) =>
    must((await keptOf(rt(), { storefrontId: DE, mode: "test", shopper })).at(-1));

  it("is told of once when it ends before the next charge", async () => {
    const begun = await begin("S-20", { shopper: "shopper-20", email: "ends@example.org" });
    const due = must(begun.nextDue);
    await rt()
      .db.orm.update(instruments)
      .set({ until: due - 3 * DAY })
      .where(eq(instruments.id, must(begun.instrumentId)));
    expect(await goOnAt(begun.id, due - 20 * DAY)).toBe(due - 14 * DAY);
    for (let turn = 0; turn < 2; turn++) expect(await goOnAt(begun.id, due - 10 * DAY)).toBe(due);
    expect(await happened(begun.id)).toEqual(["begun", "instrument-ends"]);
    // The shopper is told as well, and leads from the letter to where they give something new, for nothing.
    await until("the letter", () => lettersTo("ends@example.org").length > 0);
    const [address = ""] = lettersTo("ends@example.org");
    expect(await newWayFor(rt(), begun)).toBe(address);
    const given = await payAt(address, "play-celesta");
    expect(await paymentOf(rt(), given)).toMatchObject({ orderReference: "S-20-new-1", amount: 0 });
    await until(
      "it is charged to that",
      async () => (await now(begun.id)).instrumentId !== begun.instrumentId,
    );
    await goOnAt(begun.id, due);
    const kept = await keptOf(rt(), { storefrontId: DE, mode: "test", shopper: "shopper-20" });
    const { state, instrumentId } = await now(begun.id);
    expect([state, kept.find(({ id }) => id === instrumentId)?.name]).toEqual(["running", "Celesta …0091"]);
    expect(await chargedFor("S-20")).toEqual([
      ...["S-20 captured 3400", "S-20-1 captured 2900", "S-20-new-1 captured 0"],
    ]);
    expect(await heard(begun.id)).toEqual([
      "begun",
      "instrument-ends",
      "instrument-changed",
      "opened",
      "paid",
    ]);
    expect(lettersTo("ends@example.org")).toHaveLength(1);
    // Another time it is another checkout, also where the shop has called an order so, and none for one that is over.
    await openKite(rt(), { reference: "S-20-new-2" });
    const another = must(await newWayFor(rt(), await now(begun.id)));
    expect(another).not.toBe(address);
    expect(await newWayFor(rt(), await now(begun.id))).toBe(another);
    await api("POST", "/subscriptions/S-20/cancel");
    expect(await newWayFor(rt(), await now(begun.id))).toBeNull();
  });

  it("is something else of the shopper’s once they or the shop say so, and that is tried at once", async () => {
    const begun = await begin("S-21", { shopper: "shopper-21", token: "play-short-later" });
    await begin("S-22", { shopper: "shopper-21" });
    await goOnAt(begun.id, must(begun.nextDue));
    expect(await now(begun.id)).toMatchObject({ state: "behind" });
    const other = (await keptOf(rt(), { storefrontId: DE, mode: "test", shopper: "shopper-21" })).find(
      ({ id }) => id !== begun.instrumentId,
    );
    const foreign = await lastOf("shopper-20");
    const refused = await api("POST", "/subscriptions/S-21/instrument", { instrument: foreign.id });
    expect(refused.body).toMatchObject({ status: 409, detail: "subscriptions.no-instrument" });
    await api("POST", "/subscriptions/S-21/instrument", { instrument: must(other).id });
    await until("it is paid", async () => (await now(begun.id)).state === "running");
    expect(await chargedFor("S-21")).toEqual([
      "S-21 captured 3400",
      "S-21-1 captured 2900",
      "S-21-1 declined 2900",
    ]);
  });
});

describe("the shop", () => {
  it("pauses, goes on, leaves a period out, changes and ends", async () => {
    const begun = await begin("S-10");
    const due = must(begun.nextDue);
    expect((await api("POST", "/subscriptions/S-10/pause")).body).toMatchObject({ state: "paused" });
    expect(await goOnAt(begun.id, due + DAY)).toBeNull();
    expect((await api("POST", "/subscriptions/S-10/resume")).body).toMatchObject({ state: "running" });
    const skipped = await api("POST", "/subscriptions/S-10/skip");
    expect(skipped.body.periods).toMatchObject([{ number: 0 }, { number: 1, state: "skipped", order: null }]);
    expect(await goOnAt(begun.id, due)).toBeGreaterThan(due + 13 * DAY);
    const changed = await api("POST", "/subscriptions/S-10/change", { quantity: 3 });
    expect(changed.body).toMatchObject({ quantity: 3, amount: "87.00" });
    await goOnAt(begun.id, must((await now(begun.id)).nextDue));
    expect(await chargedFor("S-10")).toEqual(["S-10 captured 3400", "S-10-2 captured 8700"]);
    expect((await api("POST", "/subscriptions/S-10/change", { plan: "thrice" })).body).toMatchObject({
      plan: "thrice",
    });
    expect((await api("POST", "/subscriptions/S-10/change", { plan: "nothing" })).status).toBe(422);
    expect((await api("POST", "/subscriptions/S-10/cancel")).body).toMatchObject({
      state: "ended",
      ending: "cancelled",
    });
    expect((await api("POST", "/subscriptions/S-10/cancel")).status).toBe(200);
    expect((await api("POST", "/subscriptions/S-10/pause")).body).toMatchObject({
      detail: "subscriptions.cannot",
    });
    const list = await api("GET", "/subscriptions?state=ended");
    expect((list.body.subscriptions as { reference: string }[]).map((one) => one.reference)).toContain(
      "S-10",
    );
  });

  it("begins one with what the shopper has kept, and only with their words", async () => {
    const [kept] = await keptOf(rt(), { storefrontId: DE, mode: "test", shopper: "shopper-7" });
    const instrument = must(kept).id;
    const body = { reference: "S-11", plan: "season", ...who, instrument };
    expect((await api("POST", "/subscriptions", body)).body).toMatchObject({
      errors: [{ pointer: "/mandate", code: "missing" }],
    });
    const foreign = { ...body, shopper: "somebody-else", mandate: mandate.words };
    expect((await api("POST", "/subscriptions", foreign)).body).toMatchObject({
      errors: [{ pointer: "/instrument", code: "unknown" }],
    });
    const begun = await api("POST", "/subscriptions", { ...body, mandate: mandate.words });
    expect(begun.status).toBe(201);
    await until("it runs", async () => (await now(String(begun.body.subscription))).state === "running");
    expect(await chargedFor("S-11")).toEqual(["S-11 captured 3400"]);
    expect((await api("POST", "/subscriptions", { ...body, mandate: mandate.words })).status).toBe(409);
  });

  it("is told where there is no such plan, and which there are", async () => {
    const plans = await api("GET", "/plans");
    expect(plans.body.plans).toMatchObject([
      {
        plan: "season",
        every: { count: 1, unit: "month" },
        prices: [{ amount: "29.00", setUp: "5.00", trial: null }],
      },
      { plan: "tried", trialDays: 14, prices: [{ trial: "1.00" }] },
      { plan: "thrice", times: 3 },
      { plan: "free", prices: [{ trial: "0.00" }], trialDays: 14 },
    ]);
    const none = await api("POST", "/subscriptions", { reference: "S-12", ...who, plan: "weekly" });
    expect(none.body).toMatchObject({ errors: [{ pointer: "/plan", code: "unknown" }] });
    const odd = await api("POST", "/subscriptions", { reference: "S 12", ...who, plan: "season" });
    expect(odd.body).toMatchObject({ errors: [{ pointer: "/reference" }] });
  });

  it("has one that was never paid end by itself, and all of an erased shopper’s", async () => {
    const begun = await api("POST", "/subscriptions", { reference: "S-13", plan: "season", ...who });
    const checkout = must(await checkoutByToken(rt(), must(String(begun.body.address).split("/").at(-1))));
    await endCheckout(rt(), checkout);
    const id = String(begun.body.subscription);
    await until("it is over", async () => (await now(id)).state === "ended");
    expect(await now(id)).toMatchObject({ ending: "never-begun" });
    // One that is called off before it was paid cannot be paid any more.
    const early = await api("POST", "/subscriptions", { reference: "S-15", plan: "season", ...who });
    await api("POST", "/subscriptions/S-15/cancel");
    const token = must(String(early.body.address).split("/").at(-1));
    await until(
      "its checkout is closed",
      async () => (await checkoutByToken(rt(), token))?.state === "cancelled",
    );
    const home = { country: "DE", postcode: "26721" };
    const running = await begin("S-14", {
      shopper: "shopper-10",
      billTo: { ...home, name: "Ida Möwe", lines: ["Deichweg 4"], city: "Emden" },
    });
    expect((await now(running.id)).customer.billTo).toMatchObject({ city: "Emden" });
    await api("DELETE", "/shoppers/shopper-10");
    const { state, shopper, customer } = await now(running.id);
    expect([state, shopper, customer.email, customer.billTo]).toEqual(["ended", "", "", home]);
    expect(await keptOf(rt(), { storefrontId: DE, mode: "test", shopper: "shopper-10" })).toEqual([]);
    // Once the provider has forgotten it as well, nothing is left of it.
    await until("it is gone", async () => (await now(running.id)).instrumentId === null);
  });
});

describe("the rehearsal of an offer that repeats payments", () => {
  it.skipIf(onServer)("plays every course, two years among them, and leaves nothing behind", async () => {
    const offer = async () => must(await offerOf(rt(), DE, world.offerId));
    const mine = (await boardOf(rt(), await offer())).cells.filter(({ caseId }) =>
      caseId.startsWith("repeat-"),
    );
    expect(mine.map(({ required }) => required)).toEqual(mine.map(() => true));
    expect(mine).toHaveLength(7);
    await startRehearsal(
      rt(),
      "ida",
      await offer(),
      mine.map(({ caseId }) => caseId),
    );
    const isOver = async () => (await boardOf(rt(), await offer())).running === null;
    await until("the rehearsal", isOver, wholeRehearsal);
    const { cells } = await boardOf(rt(), await offer());
    const ended = cells.filter(({ caseId }) => caseId.startsWith("repeat-"));
    expect(
      ended.map(({ caseId, proof }) => [
        caseId,
        proof?.state,
        proof?.error ?? proof?.verdicts.filter((one) => !one.ok),
      ]),
    ).toEqual(ended.map(({ caseId }) => [caseId, "passed", []]));
    const left = await rt().db.client.execute(
      "select count(*) as n from subscriptions where origin = 'rehearsal' and (state <> 'ended' or shopper <> '')",
    );
    expect(left.rows[0]?.n).toBe(0);
  });
});
