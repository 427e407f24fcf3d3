import { createHash } from "node:crypto";
import { eq } from "drizzle-orm";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { NoticeView } from "#core/offers/notices";
import { fold } from "#core/payments/fold";
import { facts, quotes as quoteRows } from "#server/database/schema";
import { prune } from "#server/jobs/prune";
import { Memory } from "#server/memory";
import { offerOf } from "#server/offers/offers";
import { quotesFor } from "#server/offers/quotes";
import { paymentOf } from "#server/payments/record";
import { boardOf } from "#server/rehearsal/boards";
import { startRehearsal } from "#server/rehearsal/run";
import type { Runtime } from "#server/runtime";
import { issueApiKey } from "#server/storefronts/storefronts";
import { connectAccount, editOffer, offerMethod } from "../../demo/accounts";
import { until } from "../../demo/play";
import { must } from "./at-providers";
import { openWorld, type SystemWorld } from "./world";

// What a shop puts on its own pages: who gets it, from where, and how often a provider is asked for it.

const DE = "luvwinkel-de";
const ORIGIN = "https://shop.example";
let world: SystemWorld;
let key = "";
let offer = "";
/** How often the provider was asked for quotes. */
let quotes = 0;
const counting: typeof fetch = (input, init) => {
  if (String(input).includes("/quote?")) quotes += 1;
  return fetch(input, init);
};

beforeAll(async () => {
  world = await openWorld({ beside: false, connect: false });
  const { connectionId } = await connectAccount(world.rt, world.standins, {
    ...{ provider: "ratenhaus", storefrontId: DE, modes: ["test"] },
  });
  offer = await offerMethod(world.rt, DE, connectionId, "plan", { notices: ["product", "basket"] });
  key = await issueApiKey(world.rt, "ida", DE, "test");
});
afterAll(() => world.end());

const basket = (total: string, change: object = {}) => ({
  ...{ place: "product", origin: ORIGIN, currency: "EUR", country: "DE", language: "de", group: "retail" },
  lines: [{ name: "Sturmwind", quantity: 1, unit: total, total, kind: "kite" }],
  ...{ shipping: "0.00", tax: "0.00", total },
  ...change,
});

interface Embed {
  token: string;
  expiresAt: string;
  script: { address: string; integrity: string };
  notices: { offer: string; lines: string[]; more: string; markup: string }[];
  errors?: { pointer: string; code: string }[];
}
async function embeds(body: object): Promise<{ status: number; body: Embed }> {
  const answer = await fetch(`${world.origin}/api/v1/embeds`, {
    method: "POST",
    headers: { authorization: `Bearer ${key}`, "content-type": "application/json" },
    body: JSON.stringify(body),
  });
  return { status: answer.status, body: (await answer.json()) as Embed };
}
const asks = (token: string, origin: string | null = ORIGIN, of = offer) =>
  fetch(`${world.origin}/embed/v1/notice?${new URLSearchParams({ token, offer: of })}`, {
    headers: origin === null ? {} : { origin },
  });

describe("a page of the shop", () => {
  it("is given a notice with the provider's own figures, and the script with its integrity", async () => {
    const { status, body } = await embeds(basket("189.00"));
    expect(status).toBe(200);
    expect(body.notices).toMatchObject([{ offer, lines: [expect.any(String), "12 × 1670 = 20040"] }]);
    const markup = must(body.notices[0]).markup;
    expect(markup).toContain(`token="${body.token}"`);
    expect(markup).toContain("12 × 1670 = 20040");
    const script = await fetch(body.script.address);
    expect(script.headers.get("cache-control")).toContain("immutable");
    expect(script.headers.get("access-control-allow-origin")).toBe("*");
    const bytes = Buffer.from(await script.arrayBuffer());
    expect(body.script.integrity).toBe(`sha384-${createHash("sha384").update(bytes).digest("base64")}`);
    // Under a name that says nothing of which it is, it is kept for an hour alone.
    const other = await fetch(`${world.origin}/embed/v1.js`);
    expect(other.headers.get("cache-control")).not.toContain("immutable");
  });

  it("gets all plans and what the law wants by what it was given, at its own origin alone", async () => {
    const { body } = await embeds(basket("189.00"));
    const own = await asks(body.token);
    expect(own.status).toBe(200);
    expect(own.headers.get("access-control-allow-origin")).toBe(ORIGIN);
    expect(own.headers.get("vary")).toContain("Origin");
    const view = (await own.json()) as NoticeView;
    expect(view.plans).toHaveLength(2);
    expect(view.text).toContain("Ein Beispiel");
    for (const [token, origin] of [
      [body.token, "https://evil.example"],
      [body.token, "http://shop.example"],
      [body.token, "https://shop.example.evil.example"],
      [body.token, "null"],
      [body.token, null],
      [`${body.token.slice(0, -2)}AA`, ORIGIN],
      ["", ORIGIN],
      ["s1.a.b.c", ORIGIN],
      ["x".repeat(5_000), ORIGIN],
    ] as const) {
      const refused = await asks(token, origin);
      expect(refused.status, `${origin} ${token.slice(0, 20)}`).toBe(403);
      expect(refused.headers.get("access-control-allow-origin")).toBeNull();
      expect(await refused.text()).not.toContain("Ratenhaus");
    }
    expect(await (await asks(body.token, ORIGIN, "off_none")).json()).toBeNull();
    expect((await fetch(`${world.origin}/embed/v2.js`)).status).toBe(404);
  });

  it("may ask for half an hour", async () => {
    const { body } = await embeds(basket("189.00"));
    world.clock.offset = 31 * 60_000;
    expect((await asks(body.token)).status).toBe(403);
    world.clock.offset = 0;
    expect((await asks(body.token)).status).toBe(200);
  });

  it("is told nothing where nothing can be offered: too little, another country or currency, another page", async () => {
    for (const body of [
      basket("89.99"),
      basket("1500.01"),
      basket("189.00", { country: "NL" }),
      basket("189.00", { place: "home" }),
      basket("189.00", { place: "checkout" }),
    ])
      expect((await embeds(body)).body.notices).toEqual([]);
    await editOffer(world.rt, DE, offer, { limits: { EUR: { least: 20_000, greatest: null } } });
    expect((await embeds(basket("189.00"))).body.notices).toEqual([]);
    await editOffer(world.rt, DE, offer, { limits: {} });
  });

  it("hears at which field a basket is wrong", async () => {
    for (const [change, pointer] of [
      [{ place: "cellar" }, "/place"],
      [{ origin: "https://shop.example/path" }, "/origin"],
      [{ origin: "http://shop.example" }, "/origin"],
      [{ origin: "javascript:alert(1)" }, "/origin"],
      [{ total: "200.00" }, "/total"],
      [{ group: "pirates" }, "/group"],
      [{ language: "<b>" }, "/language"],
    ] as const) {
      const { status, body } = await embeds(basket("189.00", change));
      expect(status, pointer).toBe(422);
      expect(body.errors?.map((one) => one.pointer)).toContain(pointer);
    }
  });

  it("writes labels as text, whatever stands in them", async () => {
    const wording = { de: { label: '"><script>alert(1)</script>', hint: "" } };
    await editOffer(world.rt, DE, offer, { wording });
    const { body } = await embeds(basket("189.00"));
    expect(must(body.notices[0]).markup).not.toContain("<script");
    expect(must(body.notices[0]).markup).toContain("&lt;script&gt;");
  });
});

describe("the case of instalments as told", () => {
  const rehearse = async () => {
    const one = must(await offerOf(world.rt, DE, offer));
    await startRehearsal(world.rt, "ida", one, ["notice-agrees"]);
    const cell = async () => {
      const board = await boardOf(world.rt, must(await offerOf(world.rt, DE, offer)));
      return board.running ? null : must(board.cells.find(({ caseId }) => caseId === "notice-agrees"));
    };
    await until("the case", async () => (await cell()) !== null);
    return must(await cell());
  };
  const verdict = { what: { code: "cases.plan-as-told" } };

  it("is needed by an offer that tells of them, and passes where the shopper signs what was told", async () => {
    const { required, proof } = await rehearse();
    expect(required).toBe(true);
    expect(proof).toMatchObject({ state: "passed", verdicts: [{}, { ...verdict, ok: true }, {}, {}] });
    const payment = must(await paymentOf(world.rt, must(proof?.paymentId)));
    const known = await world.rt.db.orm.select().from(facts).where(eq(facts.paymentId, payment.id));
    expect(fold(known).instalments).toEqual({ payments: 3, amount: 3_000, total: 9_000 });
  });

  it("fails where the provider quotes otherwise than it lends", async () => {
    // Of another sum nothing was quoted before.
    await editOffer(world.rt, DE, offer, { limits: { EUR: { least: 12_000, greatest: null } } });
    world.wire.http = async (input, init) => {
      const answer = await fetch(input, init);
      if (!String(input).includes("/quote?")) return answer;
      return new Response((await answer.text()).replaceAll('"40.00"', '"39.00"'), answer);
    };
    const { proof } = await rehearse();
    expect(proof).toMatchObject({ state: "failed", verdicts: [{}, { ...verdict, ok: false }, {}, {}] });
    world.wire.http = null;
    await editOffer(world.rt, DE, offer, { limits: {} });
  });
});

describe("a provider is asked for quotes", () => {
  it("once for each price while its quote holds, however many look", async () => {
    quotes = 0;
    world.wire.http = counting;
    const prices = Array.from({ length: 10 }, (_, i) => `${300 + i}.00`);
    const views = Array.from({ length: 1_000 }, (_, i) => basket(must(prices[i % 10])));
    for (let i = 0; i < views.length; i += 50)
      await Promise.all(views.slice(i, i + 50).map((one) => embeds(one)));
    expect(quotes).toBe(10);
    // It says that they hold for ten minutes.
    world.clock.offset = 601_000;
    await Promise.all(views.slice(0, 100).map((one) => embeds(one)));
    expect(quotes).toBe(20);
    world.clock.offset = 0;
  });

  it("once a minute where it does not answer, and the page comes without the notice", async () => {
    quotes = 0;
    world.wire.http = async (input, init) => {
      if (!String(input).includes("/quote?")) return fetch(input, init);
      quotes += 1;
      throw new TypeError("fetch failed");
    };
    for (let i = 0; i < 5; i++) expect((await embeds(basket("555.00"))).body.notices).toEqual([]);
    expect(quotes).toBe(1);
    world.clock.offset = 61_000;
    await embeds(basket("555.00"));
    expect(quotes).toBe(2);
  });

  it("is not waited for longer than a page can wait", async () => {
    let release = () => {};
    const held = new Promise<void>((resolve) => (release = resolve));
    world.wire.http = async (input, init) => {
      if (String(input).includes("/quote?")) await held;
      return fetch(input, init);
    };
    expect(await embeds(basket("666.00"))).toMatchObject({ status: 200, body: { notices: [] } });
    release();
    // It comes meanwhile: a later page has it.
    await expect.poll(async () => (await embeds(basket("666.00"))).body.notices.length).toBe(1);
  });

  describe("by several processes", () => {
    const around = { currency: "EUR", country: "DE", language: "de", mode: "test" as const };
    /** Another process: it shares the database, and nothing that is remembered. */
    const another = (): Runtime => ({ ...world.rt, memory: new Memory() });
    const plansAt = async (rt: Runtime, amount: number) => {
      const one = must(await offerOf(rt, DE, offer));
      if (one.way !== "provider") throw new Error("it is made through a provider");
      return (await quotesFor(rt, { ...around, amount }, one, 8_000)).plans.length;
    };

    it("once by all of them together, also by one that starts later", async () => {
      quotes = 0;
      world.wire.http = counting;
      const processes = Array.from({ length: 4 }, another);
      const looks = processes.flatMap((rt) => Array.from({ length: 5 }, () => plansAt(rt, 44_400)));
      expect(new Set(await Promise.all(looks))).toEqual(new Set([await plansAt(another(), 44_400)]));
      expect(await plansAt(another(), 44_400)).toBeGreaterThan(0);
      expect(quotes).toBe(1);
    });

    it("by another once the one that asked is gone for good, and not before", async () => {
      let asked = 0;
      world.wire.http = () => ((asked += 1), new Promise(() => {}));
      void plansAt(another(), 45_500);
      await until("it is asked", () => asked === 1);
      quotes = 0;
      world.wire.http = counting;
      const waiting = plansAt(another(), 45_500);
      await new Promise((resolve) => setTimeout(resolve, 400));
      expect(quotes).toBe(0);
      // Nobody takes so long.
      world.clock.offset += 31_000;
      expect(await waiting).toBeGreaterThan(0);
      expect(quotes).toBe(1);
      world.clock.offset = 0;
    });

    it("not for an account that is gone; and what holds no more is forgotten", async () => {
      const rt = another();
      const one = must(await offerOf(rt, DE, offer));
      if (one.way !== "provider") throw new Error("it is made through a provider");
      const none = { ...one, connection: { ...one.connection, id: "con_gone" } };
      expect((await quotesFor(rt, { ...around, amount: 46_600 }, none, 8_000)).plans).toEqual([]);
      const held = async () => (await rt.db.orm.select().from(quoteRows)).length;
      expect(await held()).toBeGreaterThan(0);
      await prune({ ...rt, now: () => rt.now() + 3 * 86_400_000 });
      expect(await held()).toBe(0);
    });
  });
});
