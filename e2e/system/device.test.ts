import type { IncomingMessage } from "node:http";
import { text } from "node:stream/consumers";
import { Webhook } from "standardwebhooks";
import { goOn } from "#server/buttons/go-on";
import { pressButton } from "#server/buttons/open";
import { sessionByToken } from "#server/buttons/sessions";
import { keepTestPage } from "#server/buttons/test-page";
import { payments } from "#server/database/schema";
import type { Pass } from "#server/embed/pass";
import { setNewsAddress } from "#server/storefronts/storefronts";
import { speaking } from "../../scripts/english";
import { ToldError } from "#core/said";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Checkout } from "#server/database/rows";
import { checkoutOf, decideFor } from "#server/checkouts/checkouts";
import { comeBack } from "#server/checkouts/come-back";
import { dropToken, requestToken, takeToken } from "#server/checkouts/device";
import { turnBack } from "#server/checkouts/leave";
import { type Scene, viewOf } from "#server/checkouts/view";
import { addConnection, connectionOf } from "#server/connections/connections";
import { lookAtDomain as lookAtDomainSaid, takeFile } from "#server/connections/domain";
import { enterKeys } from "#server/connections/keys";
import { interlockingFrom as interlockingFromSaid } from "#server/cutover/interlocking";
import { standingOf } from "#server/cutover/standing";
import {
  addOffer as addOfferSaid,
  offerOf,
  saveOffer as saveOfferSaid,
  switchOffer as switchOfferSaid,
} from "#server/offers/offers";
import { paymentOf } from "#server/payments/record";
import { profileOf } from "#server/profiles/profiles";
import { boardOf as boardOfSaid } from "#server/rehearsal/boards";
import { startRehearsal } from "#server/rehearsal/run";
import { mustStand } from "#server/storefronts/now";
import { storefrontOf } from "#server/storefronts/storefronts";
import { type AtDashboard, atDashboard, keysAt } from "../../demo/dashboards";
import { cardDocument, until } from "../../demo/play";
import { inTest, openKite, openWorld, partsNow, type SystemWorld, wholeRehearsal } from "./world";

const lookAtDomain = speaking(lookAtDomainSaid);
const interlockingFrom = speaking(interlockingFromSaid);
const addOffer = speaking(addOfferSaid);
const saveOffer = speaking(saveOfferSaid);
const switchOffer = speaking(switchOfferSaid);
const boardOf = speaking(boardOfSaid);

const SECRET = `whsec_${Buffer.alloc(32, 5).toString("base64")}`;
let world: SystemWorld;
let shop: Server;
let desk: AtDashboard;
let connectionId = "";
let offerId = "";
let file = "";

const must = <T>(value: T | null | undefined): T => {
  if (value === null || value === undefined) throw new Error("missing");
  return value;
};
const storefront = async () => must(await storefrontOf(world.rt, "luvwinkel-de"));
const where = async () => must(await connectionOf(world.rt, connectionId));
const again = async (checkout: Checkout) => must(await checkoutOf(world.rt, checkout.id));
const sceneOf = async (checkout: Checkout): Promise<Scene> =>
  (await viewOf(world.rt, await again(checkout), null)).scene;

/** Opens a checkout and asks the device; gives the page on which the shopper decides. */
async function asked(): Promise<{ checkout: Checkout; page: string }> {
  const checkout = await openKite(world.rt);
  const answer = await requestToken(world.rt, checkout, offerId);
  if (answer.kind !== "asked") throw new Error(answer.kind);
  return { checkout, page: answer.address };
}
const onDevice = (page: string, does: string) =>
  fetch(page, { method: "POST", body: new URLSearchParams({ does }), redirect: "manual" });
const slips = async () => {
  const { rows } = await world.rt.db.client.execute(
    "select count(*) as n from payments where origin = 'shop'",
  );
  return Number(rows[0]?.n);
};

const kite = { name: "Einleiner „Möwe“", quantity: 1, unit: "39.00", total: "39.00" };
const parcel = { shipping: "4.90", tax: "7.01", total: "43.90" };

/** What the shop answers to a button's questions; null to whoever is not the payment service. */
async function answerAsShop(request: IncomingMessage): Promise<string | null> {
  const body = await text(request);
  let question: { type: string; data: { basket: string } };
  try {
    question = new Webhook(SECRET).verify(body, request.headers as Record<string, string>) as typeof question;
  } catch {
    return null;
  }
  const { type, data } = question;
  if (type === "button.delivery")
    return JSON.stringify({ lines: [kite], deliveries: [{ id: "parcel", name: "Paket", ...parcel }] });
  return JSON.stringify({
    ...{ lines: [kite], ...parcel, currency: "EUR", country: "DE", language: "de", group: "retail" },
    ...{ reference: `B-${data.basket}`, returnAddress: "http://localhost:1/back" },
  });
}

beforeAll(async () => {
  world = await openWorld({ beside: false });
  shop = createServer((request, response) => {
    if (request.method === "POST")
      return void answerAsShop(request).then((said) =>
        said === null ? response.writeHead(401).end() : response.end(said),
      );
    response.writeHead(200, { "content-type": "text/plain" }).end(file);
  }).listen(0);
  await new Promise((resolve) => shop.once("listening", resolve));
  const domain = `localhost:${(shop.address() as AddressInfo).port}`;
  await world.rt.db.client.execute({ sql: "update storefronts set domain = ?", args: [domain] });
  desk = await atDashboard(world.standins, "thumbra");
  const profile = must(await profileOf(world.rt, "thumbra"));
  connectionId = await addConnection(world.rt, "ida", { profile, storefrontId: "luvwinkel-de" });
  await enterKeys(world.rt, "ida", await where(), "test", await keysAt(desk, "sandbox"));
  file = await desk.file("sandbox", "thumbra-sandbox");
  await takeFile(world.rt, "ida", await where(), "test", "luvwinkel-de", "thumbra-sandbox", file);
});
afterAll(async () => {
  shop.closeAllConnections();
  shop.close();
  await world.end();
});

describe("a device wallet", () => {
  it("is offered beside the card offer that takes it, and not without", async () => {
    await switchOffer(world.rt, "ida", inTest(world.offerId), "test", true);
    expect(await addOffer(world.rt, "ida", await where(), await storefront(), "thumb")).toMatchObject({
      ok: false,
      says: expect.stringMatching(/rides on a connection for cards that takes it/) as string,
    });
    await switchOffer(world.rt, "ida", inTest(world.offerId), "test", false);
    const added = await addOffer(world.rt, "ida", await where(), await storefront(), "thumb");
    if (!added.ok) throw new ToldError(added.says);
    offerId = added.id;
    const now = must(await offerOf(world.rt, "luvwinkel-de", offerId));
    const wording = { de: { label: "Daumen", hint: "" }, en: { label: "Thumb", hint: "" } };
    const document = { ...cardDocument, wording };
    const saved = await saveOffer(world.rt, "ida", await storefront(), now, document, now.working.number);
    expect(saved).toMatchObject({ ok: true });
  });

  it("asks nobody before the wallet has seen the shop’s domain", async () => {
    const checkout = await openKite(world.rt);
    expect(await requestToken(world.rt, checkout, offerId)).toEqual({ kind: "refused" });
    const { withheld } = (await decideFor(world.rt, checkout)).decision;
    expect(withheld.find((one) => one.id === offerId)?.because.map((one) => one.code)).toEqual(["no-domain"]);
    const { provider } = await lookAtDomain(world.rt, "ida", await where(), await storefront(), "test");
    expect(provider).toMatchObject({ ok: true });
  });

  it("pays through the card connection once the shopper has agreed on the device", async () => {
    const { checkout, page } = await asked();
    expect(await sceneOf(checkout)).toEqual({ name: "device", address: page });
    await takeToken(world.rt, await again(checkout));
    expect((await again(checkout)).activePaymentId).toBeNull();
    expect((await onDevice(page, "play-celesta")).headers.get("location")).toMatch(/\/pay\/[\w-]+\/back$/);
    await until("the payment", async () => (await sceneOf(checkout)).name === "paid");
    const payment = must(await paymentOf(world.rt, must((await again(checkout)).activePaymentId)));
    expect(payment).toMatchObject({
      state: "captured",
      connectionId: world.connectionId,
      methodId: "card",
      offerId,
      instrument: "Celesta …0099",
    });
    // Nobody can charge with what the exchanges show.
    const { rows } = await world.rt.db.client.execute("select request, response from exchanges");
    expect(JSON.stringify(rows)).toContain("/asks/");
    expect(JSON.stringify(rows)).not.toMatch(/thumb\.[sl]\.[a-z2-9]{32}/);
  });

  it("has its answer taken once its shopper comes back, without waiting for its turn, and once", async () => {
    const { checkout, page } = await asked();
    const before = await slips();
    await comeBack(world.rt, await again(checkout));
    expect((await again(checkout)).activePaymentId).toBeNull();
    await onDevice(page, "play-celesta");
    const now = await again(checkout);
    await Promise.all([comeBack(world.rt, now), comeBack(world.rt, now)]);
    expect(await sceneOf(checkout)).toMatchObject({ name: "paid" });
    expect(await slips()).toBe(before + 1);
  });

  it("is pressed as a button on the shop's page, asks what delivery comes to, and is charged through the card once", async () => {
    const { rt } = world;
    const { port } = shop.address() as AddressInfo;
    const now = must(await offerOf(rt, "luvwinkel-de", offerId));
    const button = {
      ...{ places: ["product"] as ["product"], label: "pay", shape: "round", size: "large", colour: "olive" },
      lastLook: "none",
    } as const;
    const document = { ...now.working.document, button };
    await saveOffer(rt, "ida", await storefront(), now, document, now.working.number);
    await setNewsAddress(
      rt,
      { storefrontId: "luvwinkel-de", mode: "test" },
      "http://localhost:1/news",
      SECRET,
    );
    const pass: Pass = {
      ...{ storefrontId: "luvwinkel-de", mode: "test", origin: "http://localhost:1", place: "product" },
      cart: {
        ...{ total: { amount: 3900, currency: "EUR" }, goods: 3900, country: "DE", language: "de" },
        ...{ group: "retail", asked: { shipTo: { country: "DE" }, billTo: { country: "DE" }, kinds: [] } },
      },
      buys: {
        ...{ basket: "thumb-1", answersAt: `http://localhost:${port}/ask`, lookAddress: null },
        returnAddress: "http://localhost:1/basket",
      },
      until: rt.now() + 60_000,
    };
    const { storefrontId, cart, buys } = pass;
    await keepTestPage(rt, { storefrontId, cart, ...must(buys) });
    const pressed = await pressButton(rt, pass, offerId, "phone");
    if (pressed.kind !== "opened") throw new Error(pressed.kind);
    const act = (form: Record<string, string>) =>
      fetch(pressed.address, { method: "POST", body: new URLSearchParams(form), redirect: "manual" });
    await act({ home: "deich" });
    expect(await (await fetch(pressed.address)).text()).toContain("43.90 EUR");
    const back = must((await act({ does: "play-approved" })).headers.get("location"));
    const session = must(await sessionByToken(rt, must(back.split("/").at(-1))));
    const stands = await Promise.all([1, 2, 3].map(() => goOn(rt, session, false)));
    expect(stands.map(({ kind }) => kind)).toContain("checkout");
    const paid = async () =>
      (await rt.db.orm.select().from(payments)).filter(
        ({ orderReference }) => orderReference === "B-thumb-1",
      );
    await until("the payment", async () => (await paid())[0]?.state === "captured");
    expect(await paid()).toMatchObject([{ amount: 4390, connectionId: world.connectionId, offerId }]);
    const { rows } = await rt.db.client.execute("select request, response from exchanges");
    expect(JSON.stringify(rows)).toContain("/errands/");
    expect(JSON.stringify(rows)).not.toMatch(/thumb\.[sl]\.[a-z2-9]{32}/);
  });

  it("makes one payment, however many ask for the token at once", async () => {
    const { checkout, page } = await asked();
    const before = await slips();
    await onDevice(page, "play-approved");
    const now = await again(checkout);
    await Promise.all([takeToken(world.rt, now), takeToken(world.rt, now), takeToken(world.rt, now)]);
    await until("the payment", async () => (await sceneOf(checkout)).name === "paid");
    expect(await slips()).toBe(before + 1);
  });

  it("lets the shopper choose again after a refusal on the device, and after a card that has not enough", async () => {
    const { checkout, page } = await asked();
    await onDevice(page, "refuse");
    await until("the refusal", async () => (await sceneOf(checkout)).name === "choose");
    expect(await sceneOf(checkout)).toMatchObject({ again: { kind: "refused-on-device" } });
    const second = await requestToken(world.rt, await again(checkout), offerId);
    if (second.kind !== "asked") throw new Error(second.kind);
    expect(second.address).not.toBe(page);
    await onDevice(second.address, "play-short");
    await until("the decline", async () => (await sceneOf(checkout)).name === "choose");
    expect(await sceneOf(checkout)).toMatchObject({
      again: { kind: "declined", reason: "insufficient-funds" },
    });
    const third = await requestToken(world.rt, await again(checkout), offerId);
    if (third.kind !== "asked") throw new Error(third.kind);
    await onDevice(third.address, "play-approved");
    await until("the payment", async () => (await sceneOf(checkout)).name === "paid");
  });

  it("is asked no more once the shopper turns back, and a thumb that comes too late pays nothing", async () => {
    const { checkout, page } = await asked();
    expect(await turnBack(world.rt, await again(checkout))).toBe("cancelled");
    expect((await fetch(page)).status).toBe(410);
    await onDevice(page, "play-approved");
    await takeToken(world.rt, await again(checkout));
    expect(await sceneOf(checkout)).toEqual({ name: "cancelled" });
    const { rows } = await world.rt.db.client.execute({
      sql: "select id from payments where checkout_id = ?",
      args: [checkout.id],
    });
    expect(rows).toEqual([]);
  });

  it("makes way for another way to pay, and a thumb that comes after that pays nothing", async () => {
    const { checkout, page } = await asked();
    const before = await slips();
    await dropToken(world.rt, await again(checkout));
    expect(await sceneOf(checkout)).toMatchObject({ name: "choose", again: null });
    expect((await fetch(page)).status).toBe(410);
    await takeToken(world.rt, await again(checkout));
    expect(await slips()).toBe(before);
  });

  it("gives up after a quarter of an hour", async () => {
    const { checkout } = await asked();
    world.clock.offset = 16 * 60_000;
    await takeToken(world.rt, await again(checkout));
    expect((await again(checkout)).deviceAsk?.over).toBe(true);
    world.clock.offset = 0;
  });

  it("is withheld, and says why, while what it rides on is switched off", async () => {
    await switchOffer(world.rt, "ida", inTest(world.offerId), "test", true);
    const { withheld } = (await decideFor(world.rt, await openKite(world.rt))).decision;
    expect(withheld.find((one) => one.id === offerId)?.because.map((one) => one.code)).toEqual([
      "no-carrier",
    ]);
    await switchOffer(world.rt, "ida", inTest(world.offerId), "test", false);
  });

  it("is rehearsed in every case that its sandbox has, through the connection it rides on", async () => {
    const now = async () => must(await offerOf(world.rt, "luvwinkel-de", offerId));
    const cells = async () => (await boardOf(world.rt, await now())).cells.filter((cell) => cell.required);
    const required = (await cells()).map((cell) => cell.caseId);
    expect(required).toEqual(
      expect.arrayContaining([
        "approved",
        "insufficient-funds",
        "processing-error",
        "refund",
        "webhook-doubled",
      ]),
    );
    await startRehearsal(world.rt, "ida", await now(), required);
    await until(
      "the rehearsal",
      async () => (await cells()).every((cell) => cell.proof && cell.proof.state !== "running"),
      wholeRehearsal,
    );
    const bad = (await cells())
      .filter((cell) => cell.proof?.state !== "passed")
      .map((cell) => `${cell.caseId}: ${cell.proof?.error ?? JSON.stringify(cell.proof?.verdicts)}`);
    expect(bad).toEqual([]);
    // What it rides on is part of the proof.
    expect(await partsNow(world.rt, await now())).toHaveProperty(["what it rides on"]);
  });

  it("cannot go live before its live domain is seen and what it rides on is live", async () => {
    const { gates } = interlockingFrom(
      await standingOf(world.rt, await mustStand(world.rt, "luvwinkel-de"), (await where()).connection.id),
    );
    const state = Object.fromEntries(gates.map((gate) => [gate.id, gate.open]));
    expect(state).toMatchObject({ "live-domain": false, carrier: false, cases: true });
    expect(state).not.toHaveProperty("live-webhook");
  });
});
