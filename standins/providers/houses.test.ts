import { Readable } from "node:stream";
import { choose, isReady, openErrand } from "../kit/errands";
import { asking, useSession } from "./pennywhistle/sessions";
import express from "express";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Provider } from "../kit/provider";
import { cardsOf } from "../kit/cards";
import { phoneRoutes } from "../phone/phone";
import { ostwick } from "./ostwick";
import { digestOf } from "./ostwick/outlets";
import { pennywhistle } from "./pennywhistle";
import { challengeOf } from "./pennywhistle/purses";
import { quippa } from "./quippa";
import { ratenhaus } from "./ratenhaus";
import { thumbra } from "./thumbra";

let server: Server;
let origin = "";
const at = () => origin;
const houses = {
  ostwick: ostwick(at),
  pennywhistle: pennywhistle(at),
  quippa: quippa(at),
  thumbra: thumbra(at),
  ratenhaus: ratenhaus(at),
} satisfies Record<string, Provider>;
type Name = keyof typeof houses;

beforeAll(async () => {
  const app = express();
  for (const one of Object.values(houses)) one.mount(app);
  app.use("/phone", phoneRoutes(Object.values(houses)));
  app.get("/.well-known/thumbra-sandbox", (_, response) => void response.type("text/plain").send(file()));
  server = createServer(app).listen(0);
  await new Promise((resolve) => server.once("listening", resolve));
  origin = `http://localhost:${(server.address() as AddressInfo).port}`;
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
});

const first = (name: Name, side: "sandbox" | "live" = "sandbox", nth = 0) => {
  const account = houses[name].house.books(side).accounts[nth];
  if (!account) throw new Error(name);
  return account;
};
const file = () => first("thumbra").keys["file:thumbra-sandbox"] ?? "";
type Json = Record<string, never> & Record<string, unknown>;
async function json(
  name: Name,
  method: string,
  path: string,
  headers: Record<string, string>,
  body?: object,
) {
  const answer = await fetch(`${origin}/${name}/sandbox/api${path}`, {
    method,
    headers: { "content-type": "application/json", ...headers },
    ...(body && { body: JSON.stringify(body) }),
  });
  return { status: answer.status, body: (await answer.json()) as Json };
}

describe("an errand", () => {
  const { id } = first("pennywhistle");
  const shopWith = async (answers: (body: Record<string, unknown>) => object | null) => {
    const heard: Record<string, unknown>[] = [];
    const shop = createServer((request, response) => {
      void new Response(Readable.toWeb(request) as ReadableStream).json().then((body) => {
        heard.push(body as Record<string, unknown>);
        const said = answers(body as Record<string, unknown>);
        response.statusCode = said ? 200 : 500;
        response.end(JSON.stringify(said));
      });
    }).listen(0);
    await new Promise((resolve) => shop.once("listening", resolve));
    return { heard, shop, askAt: `http://localhost:${(shop.address() as AddressInfo).port}` };
  };
  const told = { total: { value: "15.00", currency: "EUR" }, choice: "slow" };
  const choices = [{ id: "slow", words: "Slow", price: "5.00" }];

  it("is agreed to once the shop has said what it comes to, by a choice on the page or on the phone", async () => {
    const { house } = houses.pennywhistle;
    const { heard, shop, askAt } = await shopWith(({ ship_to }) =>
      (ship_to as { country: string }).country === "NO" ? { no: "Not there." } : { ...told, choices },
    );
    const errand = openErrand(house, "sandbox", {
      ...{ account: id, ref: "e1", sum: 1000, coin: "EUR", language: "de" },
      ...{ askAt, goBackTo: "http://localhost:1/back" },
    });
    const page = `${origin}/pennywhistle/sandbox/errand/${errand.no}`;
    const act = (form: Record<string, string>) =>
      fetch(page, { method: "POST", body: new URLSearchParams(form), redirect: "manual" });
    expect(await (await fetch(`${origin}/phone`)).text()).toContain(errand.no);
    expect((await act({ does: "agree" })).headers.get("location")).toContain("/errand/");
    await act({ home: "fjord" });
    expect(await (await fetch(page)).text()).toContain("Not there.");
    await act({ home: "alm" });
    expect(await (await fetch(page)).text()).toContain("15.00 EUR");
    // Before anybody agrees the shop hears of no street and no name.
    expect(heard.at(-1)).toEqual({
      ...{ session: errand.no, choice: null },
      ship_to: { country: "AT", code: "6020", town: "Innsbruck" },
    });
    expect((await act({ does: "agree" })).headers.get("location")).toBe("http://localhost:1/back");
    expect((await fetch(page)).status).toBe(410);
    expect(await (await fetch(`${origin}/phone`)).text()).not.toContain(errand.no);
    const account = first("pennywhistle");
    expect(() => useSession(house, "sandbox", account, errand.no, 1000, "EUR")).toThrow(/another sum/);
    expect(useSession(house, "sandbox", account, errand.no, 1500, "EUR").does).toBe("agree");
    expect(() => useSession(house, "sandbox", account, errand.no, 1500, "EUR")).toThrow(/has been used/);
    shop.close();
  });

  it("cannot be agreed to while the shop is silent or says nothing that can be read, and can be left", async () => {
    const answers: (object | null)[] = [
      null,
      {},
      { ...told, choices, total: { value: "1.00", currency: "GBP" } },
    ];
    const { shop, askAt } = await shopWith(() => answers.shift() ?? null);
    const { house } = houses.pennywhistle;
    const errand = openErrand(house, "sandbox", {
      ...{ account: id, ref: "e2", sum: 1000, coin: "EUR", language: "de" },
      ...{ askAt, goBackTo: "http://localhost:1/back" },
    });
    while (answers.length > 0) {
      await choose(house, asking, errand, { home: "deich" });
      expect(errand.says).toBe("The shop could not be asked. Nothing is paid yet.");
      expect(isReady(errand)).toBe(false);
    }
    const page = `${origin}/pennywhistle/sandbox/errand/${errand.no}`;
    await fetch(page, { method: "POST", body: new URLSearchParams({ does: "leave" }), redirect: "manual" });
    expect(errand.stand).toBe("left");
    expect(() => useSession(house, "sandbox", first("pennywhistle"), errand.no, 1000, "EUR")).toThrow(
      /Nobody/,
    );
    shop.close();
  });
});

describe("Ostwick", () => {
  const { id, keys } = first("ostwick");
  const say = async (path: string, fields: Record<string, string>, passphrase = keys.passphrase ?? "") => {
    const form = { OUTLET: id, STAMP: new Date().toISOString(), ...fields };
    const answer = await fetch(`${origin}/ostwick/sandbox/api${path}`, {
      method: "POST",
      body: new URLSearchParams({ ...form, DIGEST: digestOf(passphrase, form) }),
    });
    expect(answer.status).toBe(200);
    return Object.fromEntries(new URLSearchParams(await answer.text()));
  };

  it("answers forms, with a code of its own for each refusal", async () => {
    expect(await say("/outlet", {})).toMatchObject({
      RESULT: "00",
      OUTLET: id,
      "CURRENCY.1.CHARGED": "GBP",
      "CURRENCY.1.SETTLED": "EUR",
    });
    expect((await say("/outlet", {}, "another")).RESULT).toBe("E10");
    expect((await say("/outlet", { STAMP: "2020-01-01T00:00:00Z" })).RESULT).toBe("E11");
    expect((await say("/outlet", { OUTLET: "40999999" })).RESULT).toBe("E20");
    expect(await say("/outlet", { OUTLET: keys.group ?? "" })).toMatchObject({
      RESULT: "E21",
      MESSAGE: expect.stringMatching(/terminal group/) as string,
    });
    expect((await say("/nowhere", {})).RESULT).toBe("E01");
  });

  it("takes one order for one reference, settles no more than it reserved, and credits no more than it settled", async () => {
    const order = { YOURREF: "o1", AMOUNT: "12.50", CURRENCY: "EUR", SETTLE: "LATER" };
    const { ORDER = "" } = await say("/order", order);
    expect((await say("/order", order)).ORDER).toBe(ORDER);
    expect((await say("/order/settle", { ORDER, AMOUNT: "1.00" })).RESULT).toBe("E41");
    expect((await say("/sandbox/act", { ORDER, DO: "good" })).STATE).toBe("RESERVED");
    expect((await say("/order/settle", { ORDER, AMOUNT: "12.51" })).RESULT).toBe("E42");
    expect(await say("/order/settle", { ORDER, AMOUNT: "12.50", ONCE: "a" })).toMatchObject({
      STATE: "SETTLED",
      CAPT: "12.50",
    });
    expect(await say("/order/credit", { ORDER, AMOUNT: "2.50", ONCE: "b" })).toMatchObject({
      STATE: "PARTCREDIT",
      CRED: "2.50",
    });
    expect((await say("/order/credit", { ORDER, AMOUNT: "2.50", ONCE: "b" })).CRED).toBe("2.50");
    expect(await say("/order/search", { YOURREF: "o1" })).toMatchObject({ "ORDERS.0.ORDER": ORDER });
    for (const [change, code] of [
      [{ AMOUNT: "12.505" }, "E12"],
      [{ AMOUNT: "0.99" }, "E34"],
      [{ CURRENCY: "JPY" }, "E33"],
    ] as const)
      expect((await say("/order", { ...order, YOURREF: code, ...change })).RESULT).toBe(code);
  });

  it("asks for the card on its own page, and leads back to the shop", async () => {
    const { PAGE = "", ORDER = "" } = await say("/order", {
      YOURREF: "o2",
      AMOUNT: "9.00",
      CURRENCY: "EUR",
      RETURN: "http://shop.example/back",
    });
    const pay = (form: Record<string, string>) =>
      fetch(PAGE, { method: "POST", body: new URLSearchParams(form), redirect: "manual" });
    expect(await (await fetch(PAGE)).text()).toContain("9.00 EUR");
    expect((await pay({ press: "pay", number: "1234" })).status).toBe(422);
    const number = cardsOf("01").find((one) => one.manner === "ask")?.number ?? "";
    expect(await (await pay({ press: "pay", number })).text()).toContain(
      "Your bank asks: shall 9.00 EUR be paid?",
    );
    first("ostwick").ways.Norda = false;
    expect(await (await pay({ press: "pay", number })).text()).toContain("Norda is not taken here.");
    first("ostwick").ways.Norda = true;
    const left = await pay({ press: "leave" });
    expect(left.headers.get("location")).toBe("http://shop.example/back");
    expect((await say("/order/state", { ORDER })).STATE).toBe("CANCELLED");
    expect((await fetch(PAGE)).status).toBe(410);
  });

  it("has Pennywhistle on its page as well", async () => {
    const { PAGE = "", ORDER = "" } = await say("/order", { YOURREF: "o3", AMOUNT: "9.00", CURRENCY: "EUR" });
    const pay = (form: Record<string, string>) =>
      fetch(PAGE, { method: "POST", body: new URLSearchParams(form), redirect: "manual" });
    expect(await (await pay({ press: "purse" })).text()).toContain(
      "Pennywhistle asks: shall 9.00 EUR be paid?",
    );
    await pay({ asked: "purse", press: "yes" });
    expect(await say("/order/state", { ORDER })).toMatchObject({ STATE: "SETTLED", CARD: "Pennywhistle" });
  });
});

describe("Pennywhistle", () => {
  const back = "http://z.example/link/back";
  const verifier = "a-verifier-that-nobody-guesses-0123456789";
  const agree = async (press = "agree") => {
    const answer = await fetch(`${origin}/pennywhistle/sandbox/id/agree`, {
      method: "POST",
      redirect: "manual",
      body: new URLSearchParams({
        redirect_uri: back,
        state: "s1",
        code_challenge: challengeOf(verifier),
        merchant: first("pennywhistle").id,
        press,
      }),
    });
    return new URL(answer.headers.get("location") ?? "").searchParams;
  };
  const token = async (form: Record<string, string>, basic?: string) => {
    const answer = await fetch(`${origin}/pennywhistle/sandbox/id/token`, {
      method: "POST",
      headers: basic ? { authorization: `Basic ${Buffer.from(basic).toString("base64")}` } : {},
      body: new URLSearchParams(form),
    });
    return { status: answer.status, body: (await answer.json()) as Record<string, string> };
  };

  it("links by a code that works once, for its own verifier and its own way back", async () => {
    const code = (await agree()).get("code") ?? "";
    const change = (more: Record<string, string>) =>
      token({ grant_type: "authorization_code", code, redirect_uri: back, code_verifier: verifier, ...more });
    const { body } = await change({});
    expect(body.access_token).toMatch(/^[\w-]{32}$/);
    expect((await change({})).body.error).toBe("invalid_grant");
    const other = (await agree()).get("code") ?? "";
    expect((await change({ code: other, code_verifier: "another" })).body.error).toBe("invalid_grant");
    const third = (await agree()).get("code") ?? "";
    expect((await change({ code: third, redirect_uri: "http://elsewhere.example/" })).body.error).toBe(
      "invalid_grant",
    );
    expect((await agree("refuse")).get("error")).toBe("access_denied");
    const me = await json("pennywhistle", "GET", "/me", { authorization: `Bearer ${body.access_token}` });
    expect(me.body).toMatchObject({ merchant: { id: first("pennywhistle").id } });
    const client = await json("pennywhistle", "GET", "/client", {
      authorization: `Bearer ${body.access_token}`,
    });
    const { client_id, client_secret } = client.body as unknown as Record<string, string>;
    expect((await token({ grant_type: "client_credentials" }, `${client_id}:${client_secret}`)).status).toBe(
      200,
    );
    expect((await token({ grant_type: "client_credentials" }, `${client_id}:wrong`)).body.error).toBe(
      "invalid_client",
    );
    expect((await token({ grant_type: "client_credentials" }, "stag.abc:x")).body.error).toBe("other_house");
    expect((await token({ grant_type: "password" })).body.error).toBe("unsupported_grant_type");
  });

  it("asks nobody who comes without a challenge, or whom it does not know", async () => {
    const page = (query: Record<string, string>) =>
      fetch(`${origin}/pennywhistle/sandbox/id/agree?${new URLSearchParams(query).toString()}`);
    const good = {
      response_type: "code",
      client_id: "zahlung",
      redirect_uri: back,
      code_challenge: "c",
      code_challenge_method: "S256",
      state: "s",
    };
    expect((await page(good)).status).toBe(200);
    expect((await page({ ...good, code_challenge_method: "plain" })).status).toBe(400);
    expect((await page({ ...good, client_id: "stranger" })).status).toBe(400);
    expect((await json("pennywhistle", "GET", "/me", { authorization: "Bearer nobody" })).status).toBe(401);
  });
});

describe("Quippa", () => {
  const account = first("quippa");
  const headers = { "quippa-key": account.keys.api ?? "", "quippa-merchant": account.id };

  it("makes one code for one reference, takes no more than half a million, and gives back what was paid", async () => {
    const order = { ref: "q1", amount: 500, money: "JPY" };
    const made = await json("quippa", "POST", "/codes", headers, order);
    const again = await json("quippa", "POST", "/codes", headers, order);
    const { code } = made.body as unknown as { code: { code_id: string; scan: string } };
    expect([made.status, again.status]).toEqual([201, 200]);
    expect(again.body).toMatchObject({ code: { code_id: code.code_id } });
    expect(
      (await json("quippa", "POST", `/codes/${code.code_id}/return`, headers, { amount: 1 })).body,
    ).toMatchObject({ trouble: "Q4001" });
    const phone = await fetch(`${origin}/phone`);
    expect(await phone.text()).toContain(code.scan);
    const scanned = await fetch(`${origin}/phone`, {
      method: "POST",
      body: new URLSearchParams({ code: code.scan }),
      redirect: "manual",
    });
    expect(scanned.headers.get("location")).toBe(code.scan);
    expect(
      (
        await fetch(`${origin}/phone`, {
          method: "POST",
          body: new URLSearchParams({ code: "https://evil.example" }),
          redirect: "manual",
        })
      ).status,
    ).toBe(422);
    await fetch(code.scan, { method: "POST", body: new URLSearchParams({ does: "pay" }) });
    expect((await json("quippa", "GET", `/codes/${code.code_id}`, headers)).body).toMatchObject({
      code: { step: "paid", paid: 500 },
    });
    expect(
      (await json("quippa", "POST", "/codes", headers, { ...order, ref: "q2", amount: 500_001 })).body,
    ).toMatchObject({ trouble: "Q3004" });
  });

  it("knows whose key it is, and on which side", async () => {
    const asks = async (change: Record<string, string>) =>
      (await json("quippa", "GET", "/merchant", { ...headers, ...change })).body.trouble;
    expect(await asks({ "quippa-key": "" })).toBe("Q1001");
    expect(await asks({ "quippa-key": "quip.trial.nobody" })).toBe("Q1002");
    expect(await asks({ "quippa-key": first("quippa", "live").keys.api ?? "" })).toBe("Q1003");
    expect(await asks({ "quippa-merchant": "MT99999" })).toBe("Q1004");
  });
});

describe("Thumbra", () => {
  it("looks at the shop's domain itself, and says what it found", async () => {
    const { id, keys } = first("thumbra");
    const headers = { authorization: `Bearer ${keys.api ?? ""}` };
    const look = async (domain: string) =>
      (await json("thumbra", "POST", `/sellers/${id}/domains`, headers, { domain })).body;
    expect(await look(new URL(origin).host)).toMatchObject({ found: true, says: "The file was found" });
    expect(await look("localhost:1")).toMatchObject({
      found: false,
      says: expect.stringMatching(/could not be reached/) as string,
    });
    expect(await look("no domain/at all")).toMatchObject({ no: { word: "domain-malformed" } });
    expect((await json("thumbra", "GET", `/sellers/${id}`, headers)).body).toMatchObject({
      domains: [new URL(origin).host],
    });
    expect((await json("thumbra", "GET", "/sellers/TS-nobody", headers)).body).toMatchObject({
      no: { word: "seller-unknown" },
    });
    const other = { authorization: `Bearer ${first("thumbra", "sandbox", 1).keys.api ?? ""}` };
    expect((await json("thumbra", "GET", `/sellers/${id}`, other)).body).toMatchObject({
      no: { word: "key-of-other-seller" },
    });
  });
});

describe("Thumbra’s requests to the device", () => {
  const { id, keys } = first("thumbra");
  const headers = { authorization: `Bearer ${keys.api ?? ""}` };
  const ask = (change: object = {}) =>
    json("thumbra", "POST", `/sellers/${id}/asks`, headers, {
      sum: 4390,
      coin: "EUR",
      ref: `r-${Math.random()}`,
      domain: new URL(origin).host,
      back_to: `${origin}/back`,
      ...change,
    });
  const thumb = (no: unknown, does: string) =>
    json("thumbra", "POST", `/sellers/${id}/asks/${String(no)}/thumb`, headers, { does });
  const open = (token: unknown, sum = 4390, coin = "EUR") =>
    houses.thumbra.opens("sandbox", String(token), sum, coin);

  it("are made for domains that it has seen, for what the seller may charge, and once for a reference", async () => {
    await json("thumbra", "POST", `/sellers/${id}/domains`, headers, { domain: new URL(origin).host });
    for (const [change, word] of [
      [{ domain: "elsewhere.example" }, "domain-unseen"],
      [{ coin: "JPY" }, "coin-unknown"],
      [{ sum: 1.5 }, "unreadable"],
    ] as const)
      expect((await ask(change)).body, word).toMatchObject({ no: { word } });
    const made = await ask({ ref: "once" });
    expect(made).toMatchObject({ status: 201, body: { stand: "waiting", sealed: null } });
    expect((await ask({ ref: "once" })).body.ask).toBe(made.body.ask);
    expect((await json("thumbra", "GET", `/sellers/${id}/asks/nobody`, headers)).status).toBe(404);
  });

  it("end in a token that pays once, the sum it was pressed for and no other", async () => {
    const { body } = await ask();
    const pressed = await thumb(body.ask, "play-approved");
    expect(pressed.body).toMatchObject({ stand: "pressed", at: null });
    const token = pressed.body.sealed;
    expect(token).toMatch(/^thumb\.s\.[a-z2-9]{32}$/);
    expect(open(token, 4391)).toBe("This token was pressed for another sum");
    expect(houses.thumbra.opens("live", String(token), 4390, "EUR")).toBe("This token is not known");
    expect(open(token)).toMatchObject({ network: "Norda", manner: "good" });
    expect(open(token)).toBe("This token has been used");
    expect((await thumb(body.ask, "refuse")).body).toMatchObject({ no: { word: "too-late" } });
  });

  it("can be refused, taken back, and not be agreed to with a network that is switched off", async () => {
    const refused = await ask();
    expect((await thumb(refused.body.ask, "refuse")).body).toMatchObject({ stand: "refused", sealed: null });
    const left = await ask();
    const gone = await json("thumbra", "DELETE", `/sellers/${id}/asks/${String(left.body.ask)}`, headers);
    expect(gone.body).toMatchObject({ stand: "over" });
    first("thumbra").ways.Celesta = false;
    const celesta = await ask();
    expect((await thumb(celesta.body.ask, "play-celesta")).status).toBe(409);
    first("thumbra").ways.Celesta = true;
  });

  it("wait on the phone’s page, where the shopper decides", async () => {
    const { body } = await ask({ ref: "on the phone" });
    const phone = await (await fetch(`${origin}/phone`)).text();
    expect(phone).toContain(String(body.at));
    expect(await (await fetch(String(body.at))).text()).toContain("Thumb on it: Norda …0017");
    const back = await fetch(String(body.at), {
      method: "POST",
      body: new URLSearchParams({ does: "play-approved" }),
      redirect: "manual",
    });
    expect(back.headers.get("location")).toBe(`${origin}/back`);
    expect((await fetch(String(body.at))).status).toBe(410);
  });
});

describe("Ratenhaus", () => {
  const { id, keys } = first("ratenhaus");
  const headers = {
    authorization: `Basic ${Buffer.from(`${id}:${keys.password ?? ""}`).toString("base64")}`,
  };
  const goods = [{ what: "Sturmvogel", pieces: 1, sum: "240.00" }];
  const plan = { order_no: "p1", total: "240.00", currency: "EUR", pay_out: "on_dispatch", goods };

  it("quotes and makes plans between its least and its greatest, in euros", async () => {
    expect((await json("ratenhaus", "GET", "/quote?total=240.00&tongue=de", headers)).body).toEqual({
      holds_seconds: 600,
      to_be_read: expect.stringContaining("Ein Beispiel"),
      quotes: [
        {
          months: 3,
          instalment: "80.00",
          comes_to: "240.00",
          yearly: 0,
          every: "month",
          first_after_days: 30,
        },
        {
          months: 12,
          instalment: "21.20",
          comes_to: "254.40",
          yearly: 11.6,
          every: "month",
          first_after_days: 30,
        },
      ],
    });
    for (const [change, mistake] of [
      [{ total: "89.99" }, "RH-31"],
      [{ total: "1500.01" }, "RH-32"],
      [{ total: "lots" }, "RH-01"],
      [{ currency: "GBP" }, "RH-30"],
    ] as const)
      expect((await json("ratenhaus", "POST", "/plans", headers, { ...plan, ...change })).body.mistake).toBe(
        mistake,
      );
  });

  it("is told what it lends for, and refuses what is no list of goods", async () => {
    const made = (order_no: string, told: unknown) =>
      json("ratenhaus", "POST", "/plans", headers, { ...plan, order_no, goods: told });
    const { body } = await made("goods-1", goods);
    expect(body.stand).toBe("drafted");
    for (const odd of [
      "kites",
      [{}],
      [{ what: "x", pieces: 0, sum: "1.00" }],
      [{ what: "x", pieces: 1, sum: "lots" }],
    ])
      expect((await made("goods-2", odd)).body.mistake).toBe("RH-01");
    // Where a buyer lives is told or not; what is told names the land.
    const living = (order_no: string, lives_at: unknown, known_as?: unknown) =>
      json("ratenhaus", "POST", "/plans", headers, { ...plan, order_no, goods, lives_at, known_as });
    expect((await living("home-1", { land: "DE", town: "Emden" }, "shopper-7")).body.stand).toBe("drafted");
    for (const odd of ["Emden", { town: "Emden" }, { land: "DE", code: 26_721 }])
      expect((await living("home-2", odd)).body.mistake).toBe("RH-01");
    // Nothing is lent for nothing.
    for (const none of [undefined, []]) expect((await made("goods-3", none)).body.mistake).toBe("RH-02");
  });

  it("waits for its house to confirm what was signed, where the house wants that, and forgets it after a while", async () => {
    const asked = async (order_no: string) => {
      const body = { ...plan, order_no, confirm: "by_house", pay_out: "on_dispatch" };
      return (await json("ratenhaus", "POST", "/plans", headers, body)).body.plan_no as unknown as string;
    };
    const patch = async (no: string, what: string, body = {}) =>
      (await json("ratenhaus", "PATCH", `/plans/${no}/${what}`, headers, body)).body;
    const no = await asked("confirmed-1");
    expect((await patch(no, "confirm")).mistake).toBe("RH-41");
    expect(await patch(no, "buyer", { does: "sign" })).toMatchObject({ stand: "signed", granted: "0.00" });
    expect((await patch(no, "pay-out", { sum: "240.00" })).mistake).toBe("RH-41");
    expect(await patch(no, "confirm")).toMatchObject({ stand: "granted", granted: "240.00" });
    expect((await patch(no, "confirm")).mistake).toBe("RH-41");
    const withdrawn = await asked("confirmed-2");
    await patch(withdrawn, "buyer", { does: "sign" });
    expect((await patch(withdrawn, "withdraw")).stand).toBe("withdrawn");
    const late = await asked("confirmed-3");
    await patch(late, "buyer", { does: "sign" });
    const { house } = houses.ratenhaus;
    house.now = () => new Date(Date.now() + 3_600_000);
    expect((await patch(late, "confirm")).mistake).toBe("RH-41");
    house.now = () => new Date();
    expect((await json("ratenhaus", "GET", `/plans/${late}`, headers)).body.stand).toBe("abandoned");
  });

  it("weighs a signed plan for a while before it answers", async () => {
    const made = (await json("ratenhaus", "POST", "/plans", headers, plan)).body as unknown as {
      plan_no: string;
      sign_at: string;
    };
    await fetch(made.sign_at, { method: "POST", body: new URLSearchParams({ does: "sign" }) });
    const stand = async () => (await json("ratenhaus", "GET", `/plans/${made.plan_no}`, headers)).body.stand;
    expect(await stand()).toBe("weighed");
    await expect.poll(stand, { timeout: 20_000 }).toBe("granted");
    const paid = await json(
      "ratenhaus",
      "PATCH",
      `/plans/${made.plan_no}/pay-out`,
      { ...headers, "ratenhaus-once": "1" },
      { sum: "240.00" },
    );
    expect(paid.body).toMatchObject({ stand: "paid_out", paid_out: "240.00" });
    const said = await json(
      "ratenhaus",
      "PATCH",
      `/plans/${made.plan_no}/pay-out`,
      { ...headers, "ratenhaus-once": "1" },
      { sum: "1.00" },
    );
    expect(said.body.mistake).toBe("RH-43");
    expect(
      (await json("ratenhaus", "GET", "/house", { authorization: "Basic bm9ib2R5Ong=" })).body.mistake,
    ).toBe("RH-11");
  });
});
