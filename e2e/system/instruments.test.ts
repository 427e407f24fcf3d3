import { eq } from "drizzle-orm";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Payment } from "#server/database/rows";
import { instruments } from "#server/database/schema";
import { viewOf } from "#server/checkouts/view";
import { pay, type PayOptions } from "#server/checkouts/pay";
import { call, lineOf } from "#server/gateway/gateway";
import { paymentOf } from "#server/payments/record";
import { offerOf } from "#server/offers/offers";
import { boardOf } from "#server/rehearsal/boards";
import { startRehearsal } from "#server/rehearsal/run";
import { keepingOf, keptOf, paysBy } from "#server/instruments/instruments";
import { act } from "#server/payments/actions";
import { issueApiKey } from "#server/storefronts/storefronts";
import { editOffer } from "../../demo/accounts";
import { until } from "../../demo/play";
import { must } from "./at-providers";
import { openKite, openWorld, type SystemWorld } from "./world";

// What shoppers keep for the next time: with their consent, named and no more, used, chosen, forgotten here and there.

const DE = "luvwinkel-de";
let world: SystemWorld;
let key = "";
/** Bodies that the provider was sent, and whether it is away. */
const posted: Record<string, unknown>[] = [];
let away = false;
const rt = () => world.rt;

beforeAll(async () => {
  world = await openWorld({ beside: false });
  key = await issueApiKey(rt(), "ida", DE, "test");
  await editOffer(rt(), DE, world.offerId, { keeps: "storefront" });
  world.wire.http = async (input, init) => {
    const body = typeof init?.body === "string" ? init.body : "";
    if (init?.method === "POST" && body.includes("your_ref"))
      posted.push(JSON.parse(body) as Record<string, unknown>);
    if (away && String(input).includes("/kept-cards/")) throw new TypeError("fetch failed");
    return fetch(input, init);
  };
});
afterAll(() => world.end());

const consent = { words: "Diese Karte für meine nächsten Bestellungen merken.", language: "de" };
let orders = 0;
async function buy(shopper: string | undefined, options: PayOptions & { token?: string } = {}) {
  const { token = "play-approved", ...rest } = options;
  const checkout = await openKite(rt(), {
    reference: `KEPT-${++orders}`,
    ...(shopper && { shopper }),
  });
  return pay(rt(), checkout, world.offerId, rest.kept ? "" : token, { patient: true, ...rest });
}
/** The shopper shows the issuer who they are. */
async function answers(payment: Payment): Promise<Payment> {
  const line = must(await lineOf(rt(), payment));
  await call(rt(), line, "actForShopper", { ref: payment.providerRef, answer: "pass" });
  await until("the payment", async () => (await paymentOf(rt(), payment.id))?.state === "captured");
  return must(await paymentOf(rt(), payment.id));
}
async function keepsCard(shopper: string): Promise<Payment> {
  const paid = await buy(shopper, { keep: consent });
  if (paid.kind !== "payment") throw new Error(paid.kind);
  expect(paid.payment.state, "who keeps something is asked who they are").toBe("pending");
  return answers(paid.payment);
}

interface Told {
  instrument: string;
  name: string;
  usual: boolean;
  until: string | null;
}
async function api(method: string, path: string, body?: object) {
  const answer = await fetch(`${world.origin}/api/v1${path}`, {
    method,
    headers: { authorization: `Bearer ${key}`, ...(body && { "content-type": "application/json" }) },
    ...(body && { body: JSON.stringify(body) }),
  });
  return { status: answer.status, body: (await answer.json()) as Record<string, unknown> };
}
const listOf = async (shopper: string): Promise<Told[]> =>
  (await api("GET", `/shoppers/${shopper}/instruments`)).body.instruments as Told[];
const rowOf = async (id: string) =>
  (await rt().db.orm.select().from(instruments).where(eq(instruments.id, id)))[0];

/** What a card is called at the provider. */
async function cardOf(id: string): Promise<string> {
  const row = must(await rowOf(id));
  return rt().seal.open(must(row.sealed), `instrument ${row.digest}`);
}

describe("what a shopper keeps", () => {
  it("is kept where they agreed to it, with the words they read, and is but a name here", async () => {
    const payment = await keepsCard("shopper-1");
    const [kept] = await listOf("shopper-1");
    expect(kept).toMatchObject({ name: "Norda …0019", usual: true, until: "2039-09-30" });
    const row = must(await rowOf(must(kept).instrument));
    expect(row).toMatchObject({ paymentId: payment.id, shopper: "shopper-1", consent });
    expect(row.consent.at).toBeGreaterThan(0);
    expect(JSON.stringify(row)).not.toMatch(/kc_|9901/);
    expect(posted.at(-1)).toMatchObject({ keep_card: true, ask: "always" });
  });

  it("is not kept without a word of theirs, without a signed-in shopper, or of a payment that came to nothing", async () => {
    await buy("shopper-2");
    await buy(undefined, { keep: consent });
    await buy("shopper-2", { keep: consent, token: "play-short" });
    expect(await listOf("shopper-2")).toEqual([]);
    expect(posted.at(-1)).toMatchObject({ keep_card: true });
    expect(posted.at(-2)).not.toHaveProperty("keep_card");
  });

  it("stands once at the checkout where a card was kept twice, each of them for them to forget", async () => {
    await keepsCard("shopper-twice");
    await keepsCard("shopper-twice");
    const told = await listOf("shopper-twice");
    expect(told.map(({ name }) => name)).toEqual(["Norda …0019", "Norda …0019"]);
    const checkout = await openKite(rt(), { reference: `KEPT-${++orders}`, shopper: "shopper-twice" });
    const { scene } = await viewOf(rt(), checkout, world.offerId);
    expect(scene).toMatchObject({ name: "choose", kept: [{ id: must(told[0]).instrument }] });
    const other = await buy("shopper-twice", { kept: must(told[1]).instrument });
    expect(other.kind === "payment" && other.payment.state).toBe("captured");
  });

  it("pays without a token, and is nobody else’s", async () => {
    const [kept] = await listOf("shopper-1");
    const id = must(kept).instrument;
    const paid = await buy("shopper-1", { kept: id });
    expect(paid.kind === "payment" && paid.payment.state).toBe("captured");
    expect(posted.at(-1)).toMatchObject({ kept_card: expect.stringMatching(/^kc_/), token: null });
    expect(posted.at(-1)).not.toHaveProperty("keep_card");
    for (const other of ["shopper-2", undefined])
      expect(await buy(other, { kept: id })).toEqual({ kind: "refused", because: "not-offered" });
    expect(await buy("shopper-1", { kept: "ins_none" })).toEqual({ kind: "refused", because: "not-offered" });
    // What was sent is written down without it.
    const { rows } = await rt().db.client.execute(
      "select count(*) as n from exchanges where json_extract(request, '$.body') like '%kept_card\":\"kc_%'",
    );
    expect(Number(rows[0]?.n)).toBe(0);
  });

  it("is shown first where they chose it, or used it last", async () => {
    await keepsCard("shopper-1");
    const [first, second] = await listOf("shopper-1");
    expect(await listOf("shopper-1")).toHaveLength(2);
    const chosen = await api("PUT", `/shoppers/shopper-1/instruments/${must(second).instrument}/usual`);
    expect((chosen.body.instruments as Told[]).map((one) => one.instrument)).toEqual([
      must(second).instrument,
      must(first).instrument,
    ]);
    expect((await api("PUT", "/shoppers/shopper-2/instruments/ins_none/usual")).status).toBe(404);
  });

  it("is forgotten here at once, and over there as soon as it answers", async () => {
    const [kept, other] = await listOf("shopper-1");
    const id = must(kept).instrument;
    away = true;
    expect((await api("DELETE", `/shoppers/shopper-2/instruments/${id}`)).status).toBe(404);
    const left = await api("DELETE", `/shoppers/shopper-1/instruments/${id}`);
    expect(left.body.instruments).toMatchObject([{ instrument: must(other).instrument, usual: true }]);
    expect(await buy("shopper-1", { kept: id })).toEqual({ kind: "refused", because: "not-offered" });
    expect((await rowOf(id))?.sealed).not.toBeNull();
    away = false;
    world.clock.offset += 60_000;
    rt().nudge();
    await until("the provider to forget it", async () => (await rowOf(id))?.sealed === null);
    expect((await api("DELETE", `/shoppers/shopper-1/instruments/${id}`)).status).toBe(404);
  });

  it("that was forgotten over there alone pays nothing, and the shopper is told", async () => {
    const [kept] = await listOf("shopper-1");
    const row = must(await rowOf(must(kept).instrument));
    const line = must(await lineOf(rt(), must(await paymentOf(rt(), row.paymentId))));
    const there = await cardOf(row.id);
    expect((await call(rt(), line, "forget", { kept: there })).kind).toBe("answered");
    const paid = await buy("shopper-1", { kept: row.id });
    expect(paid.kind === "payment" && paid.payment.state).toBe("failed");
    expect(await listOf("shopper-1"), "and is shown no more").toEqual([]);
  });

  it("is called otherwise once a new card came in its place, and goes once it is taken away", async () => {
    await keepsCard("shopper-8");
    const id = must((await listOf("shopper-8"))[0]).instrument;
    const card = await cardOf(id);
    await world.karvello.press("sandbox", "renew", { card });
    await until("the new card", async () => (await listOf("shopper-8"))[0]?.until === "2044-09-30");
    expect((await listOf("shopper-8"))[0]?.name).not.toBe("Norda …0019");
    const paid = await buy("shopper-8", { kept: id });
    expect(paid.kind === "payment" && paid.payment.state).toBe("captured");
    await world.karvello.press("sandbox", "lose", { card });
    await until("the card to go", async () => (await listOf("shopper-8")).length === 0);
    expect(await rowOf(id)).toMatchObject({ state: "forgotten", sealed: null });
    // A card that nobody here has kept changes nothing, and its message is not lost.
    await world.karvello.press("sandbox", "lose", { card });
    const { rows } = await rt().db.client.execute(
      "select outcome from webhooks where event = 'card.changed' order by number",
    );
    expect(rows.map(({ outcome }) => outcome)).toEqual(["account", "account"]);
  });

  it("is kept again by a later payment that says so, and not by what is still told of the first", async () => {
    const payment = await keepsCard("shopper-9");
    const id = must((await listOf("shopper-9"))[0]).instrument;
    await api("DELETE", `/shoppers/shopper-9/instruments/${id}`);
    await act(rt(), "ida", payment, { kind: "refund", amount: 100, once: "after-forgetting" });
    expect(await listOf("shopper-9")).toEqual([]);
    // A provider may call the same card the same again.
    const later = { ...payment, id: payment.id, createdAt: rt().now() + 60_000 };
    const told = { id: "same-card", name: "Norda …0019" };
    await rt().db.write(keepingOf(rt(), payment, { shopper: "shopper-9", subscriptionId: null }, told));
    const [same] = await listOf("shopper-9");
    await api("DELETE", `/shoppers/shopper-9/instruments/${must(same).instrument}`);
    await rt().db.write(keepingOf(rt(), payment, { shopper: "shopper-9", subscriptionId: null }, told));
    expect(await listOf("shopper-9")).toEqual([]);
    await rt().db.write(keepingOf(rt(), later, { shopper: "shopper-9", subscriptionId: null }, told));
    expect(await listOf("shopper-9")).toMatchObject([{ instrument: must(same).instrument }]);
    expect(await cardOf(must(same).instrument)).toBe("same-card");
  });

  it("is called as its shopper wants, and never by a number", async () => {
    await keepsCard("shopper-16");
    const { instrument, name } = must((await listOf("shopper-16"))[0]);
    const at = `/shoppers/shopper-16/instruments/${instrument}/name`;
    const calls = async (words: string) => {
      const { body } = await api("PUT", at, { name: words });
      return (body.instruments as { name: string }[])[0]?.name;
    };
    expect(await calls("  Omas \n Karte ")).toBe(`Omas Karte · ${name}`);
    expect(await calls("9901 0000-0000 0019!")).toBe(`…! · ${name}`);
    expect(await calls("")).toBe(name);
    expect((await api("PUT", at, { name: "x".repeat(41) })).status).toBe(422);
    expect((await api("PUT", at.replace("shopper-16", "shopper-17"), { name: "mine" })).status).toBe(404);
  });

  it("ends with its date", async () => {
    await keepsCard("shopper-3");
    const [kept] = await listOf("shopper-3");
    await rt().db.client.execute(`update instruments set until = 0 where id = '${must(kept).instrument}'`);
    expect(await listOf("shopper-3")).toEqual([]);
    expect(await buy("shopper-3", { kept: must(kept).instrument })).toMatchObject({ kind: "refused" });
  });

  it("goes with its shopper, and nothing says whose it was", async () => {
    const payment = await keepsCard("shopper-4");
    const [kept] = await listOf("shopper-4");
    const id = must(kept).instrument;
    expect((await api("DELETE", "/shoppers/shopper-4")).body).toEqual({ erased: 1 });
    await until("the row to go", async () => (await rowOf(id)) === undefined);
    expect((await api("DELETE", "/shoppers/shopper-4")).body).toEqual({ erased: 0 });
    // Later reports of the payment still name the card; nothing comes back by them.
    const acted = await act(rt(), "ida", payment, { kind: "refund", amount: 100, once: "after-erasure" });
    expect(acted.ok).toBe(true);
    expect(await listOf("shopper-4")).toEqual([]);
    const { rows } = await rt().db.client.execute(
      "select count(*) as n from payments where keeping like '%shopper-4%'",
    );
    expect(Number(rows[0]?.n)).toBe(0);
  });
});

describe("the case of a card that is kept and used", () => {
  const rehearse = async () => {
    const one = must(await offerOf(rt(), DE, world.offerId));
    await startRehearsal(rt(), "ida", one, ["kept-and-used"]);
    const board = async () => boardOf(rt(), must(await offerOf(rt(), DE, world.offerId)));
    await until("the case", async () => (await board()).running === null);
    return must((await board()).cells.find(({ caseId }) => caseId === "kept-and-used"));
  };

  it("is needed where shoppers may keep something, passes, and leaves nothing kept", async () => {
    const { required, proof } = await rehearse();
    expect(required).toBe(true);
    expect(proof).toMatchObject({ state: "passed", error: null });
    expect(posted.at(-1)).toMatchObject({ kept_card: expect.stringMatching(/^kc_/) });
    const left = async () =>
      Number(
        (
          await rt().db.client.execute(
            "select count(*) as n from instruments where shopper like 'rehearsal-%' or shopper = ''",
          )
        ).rows[0]?.n,
      );
    await until("what was kept to go", async () => (await left()) === 0);
  });

  it("fails where the provider keeps nothing", async () => {
    const { http } = world.wire;
    // The wish gets lost on the way.
    world.wire.http = (input, init) =>
      must(http)(input, {
        ...init,
        ...(typeof init?.body === "string" && {
          body: init.body.replace('"keep_card":true', '"keep_card":false'),
        }),
      });
    world.settings.rehearsalPatience = 500;
    const { proof } = await rehearse();
    expect(proof).toMatchObject({ state: "failed", error: { code: "play.nothing-kept" } });
    world.settings.rehearsalPatience = 60_000;
    world.wire.http = http;
  });
});

describe("where it is kept for", () => {
  const UK = "luvwinkel-uk";
  const inOther = (shopper: string) => keptOf(rt(), { storefrontId: UK, mode: "test", shopper });

  it("is one storefront, or all that the connection serves", async () => {
    await keepsCard("shopper-5");
    await editOffer(rt(), DE, world.offerId, { keeps: "shop" });
    await keepsCard("shopper-6");
    expect(await inOther("shopper-6"), "which is not served").toEqual([]);
    await rt().db.client.execute({
      sql: "insert into connection_storefronts (connection_id, storefront_id, since, live) values (?, ?, 0, 'never')",
      args: [world.connectionId, UK],
    });
    expect(await inOther("shopper-5")).toEqual([]);
    const [kept] = await inOther("shopper-6");
    const road = { connectionId: world.connectionId, methodId: "card" };
    const there = { storefrontId: UK };
    expect(paysBy(must(kept), { ...road, keeps: "shop" }, there)).toBe(true);
    expect(paysBy(must(kept), { ...road, keeps: "storefront" }, there)).toBe(false);
    // Live has nothing of what test kept.
    expect(await keptOf(rt(), { storefrontId: DE, mode: "live", shopper: "shopper-6" })).toEqual([]);
  });

  it("is nowhere once the offer keeps nothing any more, and what is kept pays no more", async () => {
    const [kept] = await listOf("shopper-6");
    await editOffer(rt(), DE, world.offerId, { keeps: undefined });
    expect(await buy("shopper-6", { kept: must(kept).instrument })).toMatchObject({ kind: "refused" });
    const paid = await buy("shopper-7", { keep: consent });
    expect(paid.kind === "payment" && paid.payment.state).toBe("captured");
    expect(await listOf("shopper-7")).toEqual([]);
  });
});

describe("the page that a shop opens for its shopper", () => {
  it("is refused at the field that is wrong", async () => {
    for (const [body, pointer] of [
      [{ language: "de" }, "/returnAddress"],
      [{ language: "deutsch!", returnAddress: "https://shop.example/" }, "/language"],
      [{ language: "de", returnAddress: "javascript:alert(1)" }, "/returnAddress"],
    ] as const) {
      const { status, body: told } = await api("POST", "/shoppers/shopper-6/page", body);
      expect(status).toBe(422);
      expect((told.errors as { pointer: string }[]).map((one) => one.pointer)).toContain(pointer);
    }
    const opened = await api("POST", "/shoppers/shopper-6/page", {
      ...{ language: "de", returnAddress: "https://shop.example/account" },
    });
    expect(opened.body.address).toContain(`${world.origin}/mine/`);
    expect((await api("GET", "/shoppers/a%20b/instruments")).status).toBe(404);
  });
});
