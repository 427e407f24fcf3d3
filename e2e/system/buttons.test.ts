import { fork } from "node:child_process";
import { once } from "node:events";
import { createServer, type Server } from "node:http";
import { eq } from "drizzle-orm";
import { Webhook } from "standardwebhooks";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import type { ButtonSettings } from "#core/buttons/button";
import type { CaseId } from "#core/rehearsal/cases";
import { closeSession } from "#server/buttons/close";
import { goOn, type Standing } from "#server/buttons/go-on";
import { sessionByToken } from "#server/buttons/sessions";
import type { ButtonSession } from "#server/database/rows";
import { buttonSessions, checkouts, jobs, orders, payments, testPages } from "#server/database/schema";
import { call, openLine } from "#server/gateway/gateway";
import { prune } from "#server/jobs/prune";
import { offerOf } from "#server/offers/offers";
import { boardOf } from "#server/rehearsal/boards";
import { startRehearsal } from "#server/rehearsal/run";
import { saveLook } from "#server/looks/looks";
import { mustStand } from "#server/storefronts/now";
import { issueApiKey } from "#server/storefronts/storefronts";
import { connectAccount, editOffer, offerMethod } from "../../demo/accounts";
import { program } from "../../scripts/programs.mjs";
import { freePort } from "../../scripts/setup.mjs";
import { until } from "../../demo/play";
import { must } from "./at-providers";
import { kill, openWorld, type SystemWorld } from "./world";

// Buttons that pay: pressed on a shop's page, agreed to at the wallet, priced and ordered by the shop, and paid once.

const DE = "luvwinkel-de";
const SECRET = `whsec_${Buffer.alloc(32, 7).toString("base64")}`;
const ORIGIN = "http://localhost:4999";
let world: SystemWorld;
let key = "";
let offerId = "";
let shop: Server;
let answersAt = "";
const rt = () => world.rt;

interface Question {
  type: string;
  data: Record<string, unknown> & { basket: string; address?: { country: string }; total?: string };
}
let asked: Question[] = [];
/** Whether the shop answers without looking at a signature. */
let trusting = false;
/** How the shop answers; what it says is JSON, or a status where it is a number. */
let answers: (question: Question) => object | number | Promise<object | number>;

const line = { name: "Einleiner „Möwe“", quantity: 1, unit: "39.00", total: "39.00" };
const deliveries = [
  { id: "parcel", name: "Paket", shipping: "4.90", tax: "7.01", total: "43.90" },
  { id: "pick-up", name: "Abholen", shipping: "0.00", tax: "6.23", total: "39.00" },
];
const basketOf = (more: object = {}) => ({
  ...{ currency: "EUR", lines: [line], shipping: "0.00", tax: "6.23", total: "39.00" },
  ...{ country: "DE", language: "de", group: "retail", place: "product", origin: ORIGIN, ...more },
});
/** The usual shop: it delivers to Germany and Austria, and makes one order for a basket. */
const usual = ({ type, data }: Question): object => {
  if (type === "button.closed") return {};
  const served = ["DE", "AT", "GB"].includes(data.address?.country ?? "");
  if (!served) return { refused: "not-served", says: "Dorthin liefern wir nicht." };
  if (type === "button.delivery") return { lines: [line], deliveries };
  const { place: _place, origin: _origin, ...basket } = basketOf();
  const chosen = must(deliveries.find(({ id }) => id === data.delivery));
  const { shipping, tax, total } = chosen;
  return {
    ...{ ...basket, shipping, tax, total, reference: `O-${data.basket}` },
    ...{ email: "ida@example.org", returnAddress: `${ORIGIN}/orders` },
  };
};

beforeAll(async () => {
  world = await openWorld({ beside: false });
  key = await issueApiKey(rt(), "ida", DE, "test");
  const about = { provider: "pennywhistle", storefrontId: DE, modes: ["test"] as const };
  const { connectionId } = await connectAccount(rt(), world.standins, about);
  offerId = await offerMethod(rt(), DE, connectionId, "wallet", {});
  await set({});
  const port = await freePort();
  shop = createServer((request, response) => {
    const parts: Buffer[] = [];
    request.on("data", (part: Buffer) => parts.push(part));
    request.on("end", () => {
      const body = Buffer.concat(parts).toString();
      const headers = request.headers as Record<string, string>;
      let question: Question;
      try {
        question = (trusting ? JSON.parse(body) : new Webhook(SECRET).verify(body, headers)) as Question;
      } catch {
        // Whoever is not the payment service is told nothing.
        response.writeHead(401).end();
        return;
      }
      asked.push(question);
      void Promise.resolve(answers(question)).then((said) => {
        response.statusCode = typeof said === "number" ? said : 200;
        response.end(typeof said === "number" ? "" : JSON.stringify(said));
      });
    });
  });
  await new Promise<void>((resolve) => shop.listen(port, resolve));
  answersAt = `http://localhost:${port}/ask`;
  expect((await embed({})).status).toBe(422);
  await api("PUT", "/news-address", { address: `http://localhost:${port}/news`, secret: SECRET });
});
afterAll(async () => {
  shop.closeAllConnections();
  shop.close();
  await world.end();
});
beforeEach(() => {
  asked = [];
  answers = usual;
});

const settings: ButtonSettings = {
  ...{ places: ["product", "basket"], label: "buy", shape: "soft", size: "usual", colour: "deep" },
  lastLook: "none",
};
const set = (change: Partial<ButtonSettings>) =>
  editOffer(rt(), DE, offerId, { button: { ...settings, ...change } });

async function api(method: string, path: string, body?: object) {
  const answer = await fetch(`${world.origin}/api/v1${path}`, {
    method,
    headers: { authorization: `Bearer ${key}`, ...(body && { "content-type": "application/json" }) },
    ...(body && { body: JSON.stringify(body) }),
  });
  return { status: answer.status, body: (await answer.json()) as Record<string, unknown> };
}
let baskets = 0;
const embed = (more: object, basket = `b-${++baskets}`) =>
  api("POST", "/embeds", {
    ...basketOf(more),
    buttons: { basket, answersAt, returnAddress: `${ORIGIN}/basket`, lookAddress: `${ORIGIN}/look` },
  });
const press = (token: string, origin = ORIGIN, offer = offerId) =>
  fetch(`${world.origin}/embed/v1/press`, {
    method: "POST",
    headers: { origin, accept: "application/json" },
    body: new URLSearchParams({ token, offer }),
  });

/** A purchase as its shopper is led to the wallet. */
interface Errand {
  basket: string;
  /** The wallet's page. */
  page: string;
  session: ButtonSession;
}
async function begin(basket = `b-${++baskets}`): Promise<Errand> {
  const shown = await embed({}, basket);
  const pressed = await press(String(shown.body.token));
  const { address } = (await pressed.json()) as { address: string };
  const rows = await rt().db.orm.select().from(buttonSessions).where(eq(buttonSessions.basket, basket));
  return { basket, page: address, session: must(rows.find((one) => one.address === address)) };
}
const at = async ({ page }: Errand, form: Record<string, string>) => {
  const answer = await fetch(page, { method: "POST", body: new URLSearchParams(form), redirect: "manual" });
  return answer.headers.get("location") ?? "";
};
const see = async ({ page }: Errand) => (await fetch(page)).text();
const now = async ({ session }: Errand): Promise<ButtonSession> =>
  must(await sessionByToken(rt(), session.token));
const comeBack = async (errand: Errand, confirmed = false): Promise<Standing> =>
  goOn(rt(), await now(errand), confirmed);
/** Goes to the wallet, sends it home, and agrees. */
async function agree(errand: Errand, { home = "deich", choice = "", does = "agree" } = {}) {
  await at(errand, { home });
  if (choice) await at(errand, { choice });
  expect(await at(errand, { does })).toContain(`/buy/${errand.session.token}`);
}
const paymentsFor = async (basket: string) =>
  (await rt().db.orm.select().from(payments)).filter(
    ({ orderReference }) => orderReference === `O-${basket}`,
  );
const states = async (basket: string) =>
  (await paymentsFor(basket)).map(({ state, amount }) => `${state} ${amount}`);
const checkoutsOf = async (basket: string) =>
  (await rt().db.orm.select().from(checkouts)).filter(({ reference }) => reference === `O-${basket}`);

describe("a button", () => {
  it("stands where the offer says, for shoppers who are shown the offer, and looks as it is set", async () => {
    const product = (await embed({})).body.buttons as { offer: string; text: string; markup: string }[];
    expect(product).toMatchObject([{ offer: offerId, size: "usual", language: "de" }]);
    expect(product[0]?.markup).toMatch(/^<zahlung-button .*shape="soft".*<form method="post"/);
    expect(product[0]?.markup).toContain('ground="#10283a"');
    expect((await embed({ place: "checkout" })).body.buttons).toEqual([]);
    expect((await embed({ place: "home" })).body.buttons).toEqual([]);
    expect((await embed({ currency: "GBP" })).status).toBe(422);
    const { buttons: _none, ...plain } = (await api("POST", "/embeds", basketOf())).body;
    expect(_none).toEqual([]);
    expect(plain.token).toBeTypeOf("string");
    await editOffer(rt(), DE, offerId, { countries: ["AT"] });
    expect((await embed({})).body.buttons).toEqual([]);
    await editOffer(rt(), DE, offerId, { countries: [] });
  });

  it("is no more of them than the look says", async () => {
    const { storefront } = await mustStand(rt(), DE);
    const look = { light: "device", face: "plain", corner: "square", terms: "none" };
    const about = { provider: "pennywhistle", storefrontId: DE, name: "Second", modes: ["test"] as const };
    const other = await connectAccount(rt(), world.standins, about);
    const second = await offerMethod(rt(), DE, other.connectionId, "wallet", { button: settings });
    expect((await embed({})).body.buttons).toHaveLength(2);
    expect(await saveLook(rt(), "ida", storefront, { ...look, mostButtons: "x" })).toMatchObject({
      ok: false,
    });
    expect(await saveLook(rt(), "ida", storefront, { ...look, mostButtons: "1" })).toMatchObject({
      ok: true,
    });
    expect((await embed({})).body.buttons).toMatchObject([{ offer: offerId }]);
    await editOffer(rt(), DE, second, { button: { ...settings, places: ["checkout"] } });
  });

  it("tells hostile pages nothing", async () => {
    const { token } = (await embed({})).body;
    expect((await press(String(token), "http://evil.example")).status).toBe(403);
    expect((await press("nonsense")).status).toBe(403);
    expect((await press(String(token), ORIGIN, world.offerId)).status).toBe(409);
    expect(asked).toEqual([]);
  });

  it("leads to the wallet without any script, by a page that a shop's policy lets through", async () => {
    const { token } = (await embed({})).body;
    const answer = await fetch(`${world.origin}/embed/v1/press`, {
      method: "POST",
      headers: { origin: ORIGIN, accept: "text/html" },
      body: new URLSearchParams({ token: String(token), offer: offerId }),
      redirect: "manual",
    });
    expect(answer.status).toBe(200);
    expect(await answer.text()).toContain("/pennywhistle/sandbox/errand/");
  });
});

describe("a purchase", () => {
  it("is priced by the shop while the wallet is open, ordered once, and paid once", async () => {
    const errand = await begin();
    await at(errand, { home: "fjord" });
    expect(await see(errand)).toContain("Dorthin liefern wir nicht.");
    expect(await at(errand, { does: "agree" })).toContain("/errand/");
    await at(errand, { home: "alm" });
    expect(await see(errand)).toContain("43.90 EUR");
    await at(errand, { choice: "pick-up" });
    expect(await see(errand)).toContain("39.00 EUR");
    await at(errand, { choice: "parcel" });
    await at(errand, { does: "agree" });
    const stands = await Promise.all(Array.from({ length: 8 }, () => comeBack(errand)));
    expect(new Set(stands.map(({ kind }) => kind))).toEqual(
      new Set(stands.map(({ kind }) => (kind === "ordering" ? "ordering" : "checkout"))),
    );
    await until("it is paid", async () => (await states(errand.basket))[0] === "captured 4390");
    expect(await states(errand.basket)).toEqual(["captured 4390"]);
    expect(await checkoutsOf(errand.basket)).toHaveLength(1);
    const ordered = asked.filter(({ type }) => type === "button.order");
    expect(ordered).toHaveLength(1);
    expect(ordered[0]?.data).toMatchObject({
      ...{ basket: errand.basket, delivery: "parcel", total: "43.90", language: "de" },
      address: { country: "AT", postcode: "6020", lines: ["Drachenalm 3"] },
      contact: { email: "ida@example.org" },
    });
    // What the shop is asked before holds no street and no name.
    const before = asked.find(({ type }) => type === "button.delivery");
    expect(JSON.stringify(before)).not.toMatch(/Drachenbauer|Drachenalm|ida@/);
    const read = await api("GET", `/purchases/${errand.session.id}`);
    expect(read.body).toMatchObject({ state: "ordered", order: `O-${errand.basket}`, total: "43.90" });
    expect((await comeBack(errand)).kind).toBe("checkout");
    expect(await states(errand.basket)).toEqual(["captured 4390"]);
  });

  it("of one basket is ordered in one window only", async () => {
    const one = await begin();
    const other = await begin(one.basket);
    await agree(one);
    await agree(other);
    expect((await comeBack(one)).kind).toBe("checkout");
    expect((await comeBack(other)).kind).toBe("over");
    expect((await now(other)).because).toBe("elsewhere");
    await until("it is paid", async () => (await states(one.basket))[0] === "captured 4390");
    expect(await states(one.basket)).toHaveLength(1);
    // Whoever is still at the wallet with it is told so there, and the shop is not asked again.
    const late = await begin(one.basket);
    asked = [];
    await at(late, { home: "deich" });
    expect(await see(late)).toContain("elsewhere");
    expect(await at(late, { does: "agree" })).toContain("/errand/");
    expect(asked).toEqual([]);
  });

  it("is ordered once and paid once at most, whenever the process that has it ordered is killed", async () => {
    await set({ lastLook: "none" });
    const hasAsked = ({ basket }: Errand) =>
      asked.some(({ type, data }) => type === "button.order" && data.basket === basket);
    let answered = Promise.resolve();
    const moments: [string, ButtonSession["state"][], (errand: Errand) => Promise<void>][] = [
      ["as it begins", ["open", "agreed", "ordering"], () => Promise.resolve()],
      ["while the shop is asked", ["ordering"], (errand) => until("it asks", () => hasAsked(errand))],
      [
        "as the shop has answered",
        ["ordering", "ordered"],
        async (errand) => {
          await until("it asks", () => hasAsked(errand));
          await answered;
        },
      ],
      [
        "once it is ordered",
        ["ordered"],
        ({ basket }) => until("it is ordered", async () => (await checkoutsOf(basket)).length === 1),
      ],
      [
        "once the wallet is asked for the money",
        ["ordered"],
        ({ basket }) => until("it is paid for", async () => (await paymentsFor(basket)).length === 1),
      ],
    ];
    for (const [index, [when, stands, comes]] of moments.entries()) {
      const diesWhilePaying = index > 1;
      const errand = await begin();
      await agree(errand);
      let dead = () => {};
      const killed = new Promise<void>((resolve) => (dead = resolve));
      let said = () => {};
      answered = new Promise((resolve) => (said = resolve));
      answers = async (question) => {
        if (question.type === "button.order" && when === "while the shop is asked") await killed;
        said();
        return usual(question);
      };
      const child = fork(program("e2e/system/order-once.ts"), {
        env: { ...process.env, ...world.env, TOKEN: errand.session.token },
      });
      await once(child, "message");
      child.send("go");
      await comes(errand);
      await kill(child, "SIGKILL");
      dead();
      expect(stands, when).toContain((await now(errand)).state);
      answers = usual;
      try {
        // The shopper looks at the page again, once nobody is waited for any more, and presses what it offers.
        world.clock.offset = 11_000;
        expect((await comeBack(errand, true)).kind, when).toBe("checkout");
        // What the provider may have been asked and nobody heard is looked up, until it can no longer be on its way.
        await until("what became of it is known", async () => {
          world.clock.offset += 5_000;
          rt().nudge();
          return !["created 4390", "pending 4390"].includes(
            (await states(errand.basket))[0] ?? "created 4390",
          );
        });
      } finally {
        world.clock.offset = 0;
      }
      const [checkout, ...others] = await checkoutsOf(errand.basket);
      expect(others, when).toEqual([]);
      const { orderId, state } = must(checkout);
      const [payment, ...more] = await paymentsFor(errand.basket);
      expect(more, when).toEqual([]);
      const { reference, captured } = must(payment);
      const connectionId = must(payment?.connectionId);
      // Whoever died before the wallet heard of it has left nothing there, and the shopper an order to pay otherwise.
      expect([captured, state], when).toEqual(captured > 0 ? [4390, "paid"] : [0, "open"]);
      if (!diesWhilePaying) expect(captured, when).toBe(4390);
      const line = must(await openLine(rt(), { connectionId, mode: "test" }));
      const there = await call(rt(), line, "find", { reference });
      if (there.kind !== "answered") throw new Error(there.kind);
      expect(
        there.value.payments.reduce((sum, one) => sum + one.captured, 0),
        when,
      ).toBe(captured);
      expect((await rt().db.orm.select().from(orders).where(eq(orders.id, orderId)))[0]?.paid).toBe(captured);
    }
  });

  it("is looked at once more where the offer says so, here or at the shop", async () => {
    await set({ lastLook: "here" });
    const here = await begin();
    await agree(here);
    expect(await comeBack(here)).toEqual({ kind: "look", where: "here" });
    expect(await states(here.basket)).toEqual([]);
    expect((await comeBack(here, true)).kind).toBe("checkout");
    await set({ lastLook: "shop" });
    const there = await begin();
    await agree(there, { choice: "pick-up" });
    expect(await comeBack(there)).toEqual({ kind: "look", where: "shop" });
    const confirmed = await Promise.all(
      [1, 2, 3].map(() => api("POST", `/purchases/${there.session.id}/confirm`, {})),
    );
    expect(confirmed.map(({ status }) => status)).toEqual([200, 200, 200]);
    await until("it is paid", async () => (await states(there.basket))[0] === "captured 3900");
    expect(await states(there.basket)).toHaveLength(1);
    expect((await api("GET", "/purchases/btn_nobody")).status).toBe(404);
    await set({ lastLook: "none" });
  });

  it("is not charged while the shop is silent, and goes on when it answers", async () => {
    const errand = await begin();
    await agree(errand);
    answers = () => 500;
    expect((await comeBack(errand)).kind).toBe("silent");
    // What cannot be read, is of a group that nobody has, or leads to an app that is not the shop's, is no order.
    const strange = [{ total: "odd" }, { group: "nobody" }, { returnAddress: "com.stranger.app:/back" }];
    for (const change of strange) {
      answers = (question) => ({ ...usual(question), ...change });
      expect((await comeBack(errand, true)).kind, JSON.stringify(change)).toBe("silent");
    }
    answers = () => new Promise((resolve) => setTimeout(() => resolve({}), 3_600));
    expect((await comeBack(errand, true)).kind).toBe("silent");
    expect(await states(errand.basket)).toEqual([]);
    // Whoever only looks does not ask again.
    answers = usual;
    expect((await comeBack(errand)).kind).toBe("silent");
    expect((await comeBack(errand, true)).kind).toBe("checkout");
    await until("it is paid", async () => (await states(errand.basket))[0] === "captured 4390");
    expect(await checkoutsOf(errand.basket)).toHaveLength(1);
  });

  it("is taken over from whoever died while the shop was asked, and is the same order", async () => {
    const one = await begin();
    const other = await begin(one.basket);
    await agree(one);
    await agree(other);
    // It asked, the shop made the order, and nobody heard that any more.
    answers = (question) => (usual(question), 500);
    expect((await comeBack(one)).kind).toBe("silent");
    const died = { state: "ordering" as const, claimedUntil: rt().now() + 60_000 };
    await rt().db.orm.update(buttonSessions).set(died).where(eq(buttonSessions.id, one.session.id));
    answers = usual;
    expect((await comeBack(one, true)).kind).toBe("ordering");
    expect((await comeBack(other)).kind).toBe("over");
    const third = await begin(one.basket);
    await agree(third);
    world.clock.offset = 61_000;
    expect((await comeBack(third)).kind).toBe("checkout");
    world.clock.offset = 0;
    expect((await comeBack(one, true)).kind).toBe("over");
    await until("it is paid", async () => (await states(one.basket))[0] === "captured 4390");
    expect(await checkoutsOf(one.basket)).toHaveLength(1);
    expect(await states(one.basket)).toHaveLength(1);
  });

  it("cannot be agreed to while the shop does not say what it comes to", async () => {
    const errand = await begin();
    for (const silent of [
      () => 503,
      () => ({ lines: [line], deliveries: [] }),
      () => ({ deliveries, lines: [] }),
    ]) {
      answers = silent;
      await at(errand, { home: "deich" });
      expect(await see(errand)).toContain("silent");
      expect(await at(errand, { does: "agree" })).toContain("/errand/");
    }
    expect((await comeBack(errand)).kind).toBe("open");
  });

  it("ends in the shop's words where it is sold out or the basket is another by now", async () => {
    for (const refused of ["sold-out", "changed"] as const) {
      const errand = await begin();
      await agree(errand);
      answers = (question) =>
        question.type === "button.order" ? { refused, says: "Leider." } : usual(question);
      expect((await comeBack(errand)).kind).toBe("over");
      expect(await now(errand)).toMatchObject({ because: refused, says: "Leider." });
      expect(await states(errand.basket)).toEqual([]);
      answers = usual;
    }
  });

  it("is not charged another sum than was agreed to: the shopper is asked at the checkout", async () => {
    const errand = await begin();
    await agree(errand);
    answers = (question) =>
      question.type === "button.order"
        ? { ...usual(question), shipping: "9.90", total: "48.90" }
        : usual(question);
    expect(await comeBack(errand)).toMatchObject({ kind: "checkout", says: "changed" });
    expect(await states(errand.basket)).toEqual([]);
    const [checkout] = await checkoutsOf(errand.basket);
    expect(checkout).toMatchObject({ state: "open", activePaymentId: null });
  });

  it("is not ordered where another sum or place was agreed to than was told", async () => {
    const errand = await begin();
    await agree(errand);
    await rt()
      .db.orm.update(buttonSessions)
      .set({ total: 100 })
      .where(eq(buttonSessions.id, errand.session.id));
    expect((await comeBack(errand)).kind).toBe("over");
    expect((await now(errand)).because).toBe("not-as-told");
    expect(asked.filter(({ type }) => type === "button.order")).toEqual([]);
  });

  it("that is refused by the wallet is paid another way at the checkout", async () => {
    const errand = await begin();
    await agree(errand, { does: "empty" });
    expect((await comeBack(errand)).kind).toBe("checkout");
    await until("it is refused", async () => (await states(errand.basket))[0] === "declined 4390");
    const [checkout] = await checkoutsOf(errand.basket);
    expect(checkout).toMatchObject({ state: "open" });
    expect((await comeBack(errand)).kind).toBe("checkout");
    expect(await states(errand.basket)).toEqual(["declined 4390"]);
  });

  it("whose shopper leaves, or takes too long, comes to nothing, and the shop hears of an order it was asked for", async () => {
    const left = await begin();
    expect(await at(left, { does: "leave" })).toContain("/buy/");
    expect((await comeBack(left)).kind).toBe("over");
    expect(await closeSession(rt(), left.session.id)).toBe(true);
    const slept = await begin();
    await agree(slept);
    await set({ lastLook: "here" });
    expect((await comeBack(slept)).kind).toBe("look");
    world.clock.offset = 31 * 60_000;
    expect((await comeBack(slept, true)).kind).toBe("over");
    world.clock.offset = 0;
    await set({ lastLook: "none" });
    expect(asked.filter(({ type }) => type === "button.order")).toEqual([]);
    const late = await begin();
    await agree(late);
    answers = () => 500;
    expect((await comeBack(late)).kind).toBe("silent");
    asked = [];
    expect(await closeSession(rt(), late.session.id)).toBe(false);
    answers = usual;
    expect(await closeSession(rt(), late.session.id)).toBe(true);
    expect(asked.map(({ type }) => type)).toEqual(["button.closed", "button.closed"]);
    expect(await states(late.basket)).toEqual([]);
    const [job] = (await rt().db.orm.select().from(jobs)).filter(({ key: one }) => one === late.session.id);
    expect(job).toMatchObject({ kind: "close-button", runAt: late.session.expiresAt });
  });

  it("says no more whom it was for once its shopper is erased, and keeps what others bought", async () => {
    const [theirs, other] = [await begin(), await begin()];
    answers = (question) => ({
      ...usual(question),
      ...(question.type === "button.order" && {
        shopper: question.data.basket === theirs.basket ? "shopper-7" : "shopper-8",
      }),
    });
    for (const errand of [theirs, other]) {
      await agree(errand);
      await comeBack(errand);
      await until("it is paid", async () => (await states(errand.basket))[0] === "captured 4390");
    }
    expect((await now(theirs)).contact).not.toBeNull();
    expect((await api("DELETE", "/shoppers/shopper-7")).status).toBe(200);
    expect(await now(theirs)).toMatchObject({ place: null, contact: null, priced: null, state: "ordered" });
    expect((await now(other)).contact).toMatchObject({ email: "ida@example.org" });
    expect((await api("GET", `/purchases/${theirs.session.id}`)).body).toMatchObject({ state: "ordered" });
  });

  it("is forgotten after a while: all of it where nothing came of it, and whose it was where it was ordered", async () => {
    const rows = () => rt().db.orm.select().from(buttonSessions);
    const before = await rows();
    const ordered = before.filter(({ state }) => state === "ordered");
    expect(ordered.some(({ place, contact }) => place !== null && contact !== null)).toBe(true);
    await prune(rt());
    expect(await rows()).toHaveLength(before.length);
    world.clock.offset = 32 * 86_400_000;
    await prune(rt());
    world.clock.offset = 0;
    const after = await rows();
    expect(after.map(({ id }) => id).sort()).toEqual(ordered.map(({ id }) => id).sort());
    expect(JSON.stringify(after)).not.toMatch(/Drachenbauer|Drachenalm|ida@example/);
  });

  it("answers no question of whoever does not know its address, nor one that cannot be read", async () => {
    const errand = await begin();
    const ask = (token: string, body: string) =>
      fetch(`${world.origin}/wallets/${token}`, { method: "POST", body }).then(({ status }) => status);
    expect(await ask("a".repeat(43), "{}")).toBe(404);
    expect(await ask(errand.session.token, "{}")).toBe(404);
    expect(await ask(errand.session.askToken, "nonsense")).toBe(422);
    expect(await ask(errand.session.askToken, JSON.stringify({ ship_to: { country: "Nowhere" } }))).toBe(422);
  });
});

describe("a rehearsal of it", () => {
  const board = async (id = "button-agrees") => {
    const offer = must(await offerOf(rt(), DE, offerId));
    const { cells, running } = await boardOf(rt(), offer);
    return { offer, running, cell: must(cells.find(({ caseId }) => caseId === id)) };
  };
  const rehearse = async (id: CaseId = "button-agrees") => {
    await startRehearsal(rt(), "ida", (await board(id)).offer, [id]);
    await until("the rehearsal", async () => (await board(id)).running === null);
    return (await board(id)).cell.proof;
  };

  it("is needed where the offer stands as a button, and has the wallet agree to a sum that changed", async () => {
    expect((await board()).cell).toMatchObject({ required: true });
    asked = [];
    expect(await rehearse()).toMatchObject({ state: "passed" });
    // No shop hears of it.
    expect(asked).toEqual([]);
    // How it looks has no part in that.
    await editOffer(rt(), DE, offerId, { button: { ...settings, colour: "plain" } });
    expect((await board()).cell.proof?.changed).toEqual([]);
  });

  it("is lost where the wallet has the shopper agree to another sum than it was told", async () => {
    world.wire.http = async (input, init) => {
      const answer = await fetch(input, init);
      const lies = init?.method === "GET" && String(input).includes("/sessions/");
      if (!lies) return answer;
      return new Response((await answer.text()).replace(/"value":"[\d.]+"/, '"value":"1.00"'), answer);
    };
    const proof = await rehearse();
    world.wire.http = null;
    expect(proof).toMatchObject({ state: "failed" });
    expect(proof?.error).toMatchObject({ code: "play.not-as-told" });
  });

  it("asks the shop itself about its newest test page, and once as somebody who cannot sign", async () => {
    await rt().db.write([rt().db.orm.delete(testPages)]);
    expect((await board("shop-answers")).cell).toMatchObject({ required: true });
    expect((await rehearse("shop-answers"))?.error).toMatchObject({ code: "play.no-test-page" });
    // A page without a button says nothing of where the shop answers.
    await embed({ place: "home" }, "nothing-here");
    expect((await rehearse("shop-answers"))?.error).toMatchObject({ code: "play.no-test-page" });
    await embed({}, "before");
    await embed({ shipTo: { country: "DE", postcode: "27498" } }, "newest");
    asked = [];
    const before = await rt().db.orm.$count(orders);
    expect(await rehearse("shop-answers")).toMatchObject({ state: "passed", error: null, paymentId: null });
    expect(asked.map(({ type, data }) => [type, data.basket, data.address])).toEqual([
      ["button.delivery", "newest", { country: "DE", postcode: "27498" }],
    ]);
    expect(await rt().db.orm.$count(orders)).toBe(before);
  });

  it.each([
    ["answers too late", () => new Promise<object>(() => undefined), "shop-silent"],
    ["breaks down", () => 500, "shop-silent"],
    [
      "has sums that do not add up",
      () => ({ lines: [line], deliveries: [{ ...deliveries[0], total: "1.00" }] }),
      "shop-unreadable",
    ],
    ["does not sell", () => ({ refused: "sold-out" }), "shop-refused"],
  ])("is lost where the shop %s", async (_, says, code) => {
    await embed({});
    answers = says;
    const proof = await rehearse("shop-answers");
    expect(proof).toMatchObject({ state: "failed", error: { code: `play.${code}` } });
  });

  it("is lost where the shop answers to whoever asks", async () => {
    trusting = true;
    await embed({});
    const proof = await rehearse("shop-answers");
    trusting = false;
    expect(proof).toMatchObject({ state: "failed", error: null });
    expect(proof?.verdicts.filter(({ ok }) => !ok)).toMatchObject([
      { what: { code: "cases.strangers-refused" }, happened: "0" },
    ]);
  });
});
