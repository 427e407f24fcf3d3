import express from "express";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { Webhook } from "standardwebhooks";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { apiRoutes } from "./api";
import { cardsOf, luhnHolds } from "../../kit/cards";
import { type Account, type SideName, sides } from "../../kit/house";
import { bells } from "./bells";
import { Karvello, type OpensToken } from "./books";
import { frameRoutes } from "./frame";

// Karvello by itself, as any shop's software meets it on the wire.

let server: Server;
let base = "";
let opens: OpensToken = () => "This token is not known";
const karvello = new Karvello(
  () => base,
  undefined,
  (...token) => opens(...token),
);
const post = bells(karvello);
const keys = {} as Record<SideName, { account: string; server: string; frame: string }>;
beforeAll(async () => {
  const app = express();
  for (const side of sides) {
    const counter = { karvello, post, side };
    app.use(`/karvello/${side}/api`, apiRoutes(counter));
    app.use(`/karvello/${side}`, frameRoutes(counter));
    const { id: code } = karvello.books(side).accounts[0] as Account;
    keys[side] = {
      account: code,
      server: karvello.issue(side, code, "server"),
      frame: karvello.issue(side, code, "frame"),
    };
  }
  server = app.listen(0);
  await new Promise((resolve) => server.once("listening", resolve));
  base = `http://localhost:${(server.address() as AddressInfo).port}`;
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
});

interface Ask {
  side?: SideName;
  key?: string | null;
  account?: string;
  once?: string | null;
}
let asked = 0;
async function ask(method: string, path: string, body?: unknown, options: Ask = {}) {
  const { side = "sandbox", key = keys[side].server, account = keys[side].account } = options;
  const once = options.once === undefined ? `once-${(asked += 1)}` : options.once;
  const answer = await fetch(`${base}/karvello/${side}/api${path}`, {
    method,
    headers: {
      "content-type": "application/json",
      "karvello-account": account,
      ...(key && { authorization: `Bearer ${key}` }),
      ...(once && { "once-only": once }),
    },
    ...(body !== undefined && { body: JSON.stringify(body) }),
  });
  const read = (await answer.json()) as Record<string, unknown> & { fault?: { code: string; text: string } };
  return {
    status: answer.status,
    body: read,
    fault: read.fault ? `${answer.status} ${read.fault.code}` : null,
  };
}
const order = (change: object = {}) => ({
  sum: 4390,
  coin: "EUR",
  token: "play-approved",
  your_ref: "LW-1",
  ...change,
});
const make = async (change: object = {}, options: Ask = {}) =>
  (await ask("POST", "/slips", order(change), options)).body;

describe("keys", () => {
  it("are asked for, and each wrong one has a fault of its own", async () => {
    const faultOf = async (options: Ask) => (await ask("GET", "/account", undefined, options)).fault;
    expect(await faultOf({})).toBeNull();
    expect(await faultOf({ key: null })).toBe("401 K-401");
    expect(await faultOf({ key: "kvs.s.nobody" })).toBe("401 K-402");
    expect(await faultOf({ key: keys.live.server })).toBe("401 K-403");
    expect(await faultOf({ side: "live", key: keys.sandbox.server, account: keys.live.account })).toBe(
      "401 K-403",
    );
    expect(await faultOf({ account: "KV-S-207790" })).toBe("403 K-404");
  });

  it("tell which account a frame key belongs to, on its own side only", async () => {
    const found = await ask("GET", `/frame-keys/${keys.sandbox.frame}`);
    expect(found.body).toMatchObject({ account: keys.sandbox.account });
    expect((await ask("GET", `/frame-keys/${keys.sandbox.frame}`, undefined, { side: "live" })).fault).toBe(
      "404 K-411",
    );
  });

  it("open the account: its name, home, coins, and whether it may charge", async () => {
    expect((await ask("GET", "/account")).body).toMatchObject({
      code: keys.sandbox.account,
      trading_as: "Luvwinkel Drachenbau",
      home: "DE",
      open_for_business: true,
    });
    const account = karvello.books("sandbox").accounts[0] as Account;
    account.review = "limited";
    const refused = await ask("POST", "/slips", order());
    account.review = "open";
    expect(refused).toMatchObject({ fault: "403 K-450", body: { fault: { text: "Papers are missing" } } });
  });
});

describe("a slip", () => {
  it.each([
    ["an unknown coin", { coin: "SEK" }, "422 K-420"],
    ["too small a sum", { sum: 49 }, "422 K-421"],
    ["half a cent", { sum: 99.5 }, "400 K-440"],
    ["no reference", { your_ref: "" }, "400 K-440"],
    ["an odd wish", { take: "never" }, "400 K-440"],
    ["a long statement", { statement: "x".repeat(23) }, "422 K-443"],
    ["an unknown token", { token: "tok_unknown" }, "422 K-430"],
    ["an unknown play token", { token: "play-nothing" }, "422 K-430"],
  ])("is refused for %s, with a fault of its own", async (_, change, fault) => {
    const before = Object.keys(karvello.books("sandbox").bills).length;
    expect((await ask("POST", "/slips", order(change))).fault).toBe(fault);
    expect(Object.keys(karvello.books("sandbox").bills)).toHaveLength(before);
  });

  it("goes as its card goes", async () => {
    const stands = await Promise.all(
      cardsOf("00").map(async ({ token }) => {
        const { stand, refusal } = await make({ token });
        return `${token}: ${String(stand)} ${(refusal as { code: string } | null)?.code ?? ""}`.trim();
      }),
    );
    expect(stands).toEqual([
      "play-approved: taken",
      "play-short: turned_down R51",
      "play-expired: turned_down R54",
      "play-code: turned_down R82",
      "play-fraud: turned_down R59",
      "play-no: turned_down R05",
      "play-ask: asking",
      "play-error: broken X99",
      "play-celesta: taken",
      "play-umbra: taken",
      "play-slow-back: taken",
      "play-no-back: taken",
      "play-watched: held",
      "play-short-later: taken",
      "play-asks-later: taken",
    ]);
  });

  it("is asked for by the shop alone where the holder has agreed to that, and goes as the card then goes", async () => {
    const keep = async (token: string, more: object = { charged_again: true }) => {
      const slip = await make({ token, keep_card: true, ...more });
      return slip.kept_card as { no: string; mark: string | null };
    };
    const alone = ({ no, mark }: { no: string; mark: string | null }) =>
      ask(
        "POST",
        "/slips",
        order({ token: null, kept_card: no, asked_by: "shop", first_mark: mark ?? "none" }),
      );
    const good = await keep("play-approved");
    expect((await alone(good)).body).toMatchObject({ stand: "taken", kept_card: null });
    expect((await alone({ ...good, mark: "another" })).fault).toBe("422 K-436");
    expect((await alone(await keep("play-approved", {}))).fault).toBe("422 K-436");
    for (const [token, code] of [
      ["play-short-later", "R51"],
      ["play-asks-later", "R65"],
    ] as const)
      expect((await alone(await keep(token))).body).toMatchObject({ refusal: { code } });
    // For nothing it says whether a card is good that is kept, or is going to be.
    const free = await make({ sum: 0, token: "play-approved", keep_card: true, charged_again: true });
    expect(free).toMatchObject({ stand: "card_good", held: 0, taken: 0, held_until: null });
    expect((await alone(free.kept_card as { no: string; mark: string })).body).toMatchObject({
      stand: "taken",
    });
    expect(await make({ sum: 0, token: "play-watched", keep_card: true })).toMatchObject({ watch: null });
    expect(await make({ sum: 0, token: "play-short", keep_card: true })).toMatchObject({
      stand: "turned_down",
    });
    expect((await ask("POST", "/slips", order({ sum: 0, token: "play-approved" }))).fault).toBe("422 K-421");
    // Agreed to later, with what is kept already.
    const before = await keep("play-approved", {});
    const agreed = await make({ token: null, kept_card: before.no, charged_again: true });
    const { mark } = agreed.kept_card as { mark: string };
    expect((await alone({ ...before, mark })).body).toMatchObject({ stand: "taken" });
    expect((await ask("POST", "/slips", order({ asked_by: "shop" }))).fault).toBe("400 K-440");
  });

  it("is made once for each once-only key, and the key holds to its contents", async () => {
    const first = await ask("POST", "/slips", order({ your_ref: "once" }), { once: "k" });
    const second = await ask("POST", "/slips", order({ your_ref: "once" }), { once: "k" });
    expect(second.body.no).toBe(first.body.no);
    expect((await ask("POST", "/slips", order({ sum: 1000 }), { once: "k" })).fault).toBe("409 K-460");
    expect((await ask("POST", "/slips", order(), { once: null })).fault).toBe("400 K-440");
    const found = await ask("GET", "/slips?your_ref=once");
    expect(found.body.slips).toHaveLength(1);
  });

  it("is taken later, whole or in part, and never beyond what is held", async () => {
    const { no, stand, held } = await make({ take: "later" });
    expect([stand, held]).toEqual(["held", 4390]);
    expect((await ask("POST", `/slips/${String(no)}/take`, { sum: 4391 })).fault).toBe("422 K-422");
    expect((await ask("POST", `/slips/${String(no)}/take`, { sum: 0 })).fault).toBe("400 K-440");
    expect((await ask("POST", `/slips/${String(no)}/take`, { sum: 4000 })).body).toMatchObject({
      stand: "part_taken",
      taken: 4000,
    });
    expect((await ask("POST", `/slips/${String(no)}/take`, { sum: 100 })).fault).toBe("409 K-424");
  });

  it("is taken several times, and the rest is let go, when it is said that more is to come", async () => {
    const { no } = await make({ take: "later" });
    const at = (what: string, body: object) => ask("POST", `/slips/${String(no)}/${what}`, body);
    expect((await at("take", { sum: 1000, last: false })).body).toMatchObject({ taken: 1000, let_go: [] });
    expect((await at("take", { sum: 2000, last: false })).body).toMatchObject({ taken: 3000 });
    expect((await at("let-go", { sum: 1391 })).fault).toBe("422 K-422");
    const { body } = await at("let-go", { sum: 1390 });
    expect(body).toMatchObject({
      stand: "part_taken",
      takes: [{ sum: 1000 }, { sum: 2000 }],
      let_go: [{ sum: 1390 }],
    });
    expect(body.fees).toEqual([
      { no: `${String(no)}F1`, sum: 36, coin: "EUR" },
      { no: `${String(no)}F2`, sum: 49, coin: "EUR" },
    ]);
    expect((await at("take", { sum: 1 })).fault).toBe("409 K-424");
  });

  it("is given back late by a slow bank, and not at all by one that has closed the account", async () => {
    for (const [token, stand, given] of [
      ["play-slow-back", "done", 1000],
      ["play-no-back", "came_to_nothing", 0],
    ] as const) {
      const { no } = await make({ token });
      const first = await ask("POST", `/slips/${String(no)}/give-back`, { sum: 1000 });
      expect(first.body).toMatchObject({ given_back: 0, backs: [{ sum: 1000, stand: "under_way" }] });
      expect((await ask("POST", `/slips/${String(no)}/give-back`, { sum: 4000 })).fault).toBe("422 K-423");
      let now = first.body;
      for (
        const end = Date.now() + 20_000;
        Date.now() < end && JSON.stringify(now.backs).includes("under_way");
      )
        now = (await ask("GET", `/slips/${String(no)}`)).body;
      expect(now).toMatchObject({ given_back: given, backs: [{ stand }] });
    }
  });

  it("ends by itself, is complained about and is looked at, as the sandbox plays it", async () => {
    const play = async (no: unknown, answer: string) => ask("POST", `/slips/${String(no)}/play`, { answer });
    const held = await make({ take: "later" });
    expect((await play(held.no, "lapse")).body).toMatchObject({ stand: "lapsed", lapsed: true });
    const paid = await make();
    expect((await play(paid.no, "for-shop")).fault).toBe("409 K-424");
    expect((await play(paid.no, "complain")).body).toMatchObject({ stand: "complained" });
    expect((await ask("POST", `/slips/${String(paid.no)}/give-back`, { sum: 1 })).fault).toBe("409 K-424");
    expect((await play(paid.no, "for-shop")).body).toMatchObject({
      stand: "taken",
      complaints: [{ sum: 4390, stand: "for_shop", round: 1 }],
    });
    const complained = async (query = "") => (await ask("GET", `/complaints${query}`)).body;
    expect(await complained()).toMatchObject({
      complaints: [{ slip: paid.no, your_ref: paid.your_ref, coin: "EUR", sum: 4390, stand: "for_shop" }],
      more: null,
    });
    expect(await complained(`?after=${String(paid.no)}C1`)).toMatchObject({ complaints: [] });
    expect(await complained("?from=2999-01-01")).toEqual({ complaints: [], more: null });
    const watched = await make({ token: "play-watched" });
    expect(watched).toMatchObject({ stand: "held", watch: "looking" });
    expect((await play(watched.no, "clear")).body).toMatchObject({ stand: "taken", watch: "clear" });
    const stopped = await make({ token: "play-watched" });
    expect((await play(stopped.no, "stop")).body).toMatchObject({ stand: "dropped", watch: "stopped" });
    expect((await play(stopped.no, "toString")).fault).toBe("400 K-440");
  });

  it("is given back in parts, and never beyond what was taken", async () => {
    const { no } = await make();
    const back = (sum: number) => ask("POST", `/slips/${String(no)}/give-back`, { sum });
    expect((await back(1000)).body).toMatchObject({ stand: "part_given_back", given_back: 1000 });
    expect((await back(3391)).fault).toBe("422 K-423");
    expect((await back(3390)).body).toMatchObject({ stand: "given_back", given_back: 4390 });
    expect((await back(1)).fault).toBe("409 K-424");
  });

  it("is dropped while it is held, and not after", async () => {
    const { no } = await make({ take: "later" });
    expect((await ask("POST", `/slips/${String(no)}/drop`, {})).body).toMatchObject({ stand: "dropped" });
    expect((await ask("POST", `/slips/${String(no)}/drop`, {})).fault).toBe("409 K-424");
  });

  it("waits for the shopper when the issuer asks, and the sandbox answers in the shopper's place", async () => {
    const asks = await make({ token: "play-ask" });
    expect(asks).toMatchObject({
      ask_at: `${base.replace("localhost", "127.0.0.1")}/karvello/sandbox/ask`,
      ask_with: { slip: asks.no, sum: "43.90 EUR" },
    });
    // The page comes to whoever brings what is asked about, and to nobody else.
    const bring = (fields: Record<string, string>) =>
      fetch(String(asks.ask_at), { method: "POST", body: new URLSearchParams(fields) });
    const page = await (await bring(asks.ask_with as unknown as Record<string, string>)).text();
    expect(page).toMatch(/Is it you\?/);
    expect((await bring({ slip: String(asks.no), sum: "0.01 EUR" })).status).toBe(400);
    expect((await bring({ slip: "S0NOBODY" })).status).toBe(404);
    expect((await ask("POST", `/slips/${String(asks.no)}/play`, { answer: "fail" })).body).toMatchObject({
      stand: "turned_down",
      refusal: { code: "R1A" },
    });
    const always = await make({ ask: "always" });
    expect((await ask("POST", `/slips/${String(always.no)}/play`, { answer: "pass" })).body).toMatchObject({
      stand: "taken",
    });
    expect((await ask("POST", `/slips/x/play`, { answer: "pass" }, { side: "live" })).status).toBe(404);
  });

  it("is nobody else's: another account and the other side do not see it", async () => {
    const { no } = await make();
    const british = { account: "KV-S-207790", key: karvello.issue("sandbox", "KV-S-207790", "server") };
    expect((await ask("GET", `/slips/${String(no)}`, undefined, british)).fault).toBe("404 K-410");
    expect((await ask("GET", "/slips", undefined, british)).body.slips).toEqual([]);
    expect((await ask("GET", `/slips/${String(no)}`, undefined, { side: "live" })).fault).toBe("404 K-410");
  });
});

describe("a device wallet’s token", () => {
  const card = cardsOf("02")[0];
  if (!card) throw new Error("no card");

  it("pays as its card does, and is refused in the wallet’s words", async () => {
    opens = () => card;
    expect(await make({ token: "thumb.s.one" })).toMatchObject({
      stand: "taken",
      card: { network: "Norda", last: card.number.slice(-4) },
    });
    opens = () => "This token has been used";
    expect((await ask("POST", "/slips", order({ token: "thumb.s.one" }))).fault).toBe("422 K-433");
  });

  it("of a network that is switched off is refused, in the frame too", async () => {
    opens = () => card;
    const account = karvello.books("sandbox").accounts.find((one) => one.id === keys.sandbox.account);
    if (!account) throw new Error("no account");
    account.ways.Norda = false;
    expect((await ask("POST", "/slips", order({ token: "thumb.s.one" }))).fault).toBe("422 K-434");
    expect(karvello.takes("sandbox", keys.sandbox.account, "Norda")).toBe(false);
    expect(karvello.takes("sandbox", keys.sandbox.account, "Celesta")).toBe(true);
    account.ways.Norda = true;
  });
});

describe("the frame", () => {
  const token = async (side: SideName, change: object = {}) => {
    const answer = await fetch(`${base}/karvello/${side}/tokens`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({
        account: keys[side].account,
        key: keys[side].frame,
        lang: "en",
        number: cardsOf(side === "sandbox" ? "00" : "77")[0]?.number,
        expiry: "09/39",
        code: "707",
        name: "Ida Haff",
        ...change,
      }),
    });
    return (await answer.json()) as {
      token?: string;
      wrong?: Record<string, string>;
      fault?: { code: string };
    };
  };

  it("gives a token for one use", async () => {
    const { token: once = "" } = await token("live");
    const live = { side: "live" } as const;
    expect(await make({ token: once }, live)).toMatchObject({
      stand: "taken",
      card: { network: "Norda", last: "0017" },
    });
    expect((await ask("POST", "/slips", order({ token: once }), live)).fault).toBe("422 K-431");
    expect((await ask("POST", "/slips", order({ token: "play-approved" }), live)).fault).toBe("422 K-432");
    const { token: sandbox = "" } = await token("sandbox");
    expect((await ask("POST", "/slips", order({ token: sandbox }), live)).fault).toBe("422 K-430");
  });

  it.each([
    ["number", { number: "9901000000000018" }, "This is not a card number."],
    ["number", { number: "4".repeat(40) }, "This is not a card number."],
    ["number", { number: "9904000000000008" }, "This card's network is not taken here."],
    ["number", { number: cardsOf("77")[0]?.number }, "This is a real card; here only test cards are taken."],
    ["expiry", { expiry: "13/39" }, "Please give month and year"],
    ["expiry", { expiry: "01/20" }, "This card's date has passed."],
    ["code", { code: "12" }, "The code has three digits."],
    ["name", { name: " " }, "Please give the name on the card."],
  ])("refuses a wrong %s beside it: %j", async (field, change, says) => {
    const answer = await token("sandbox", change);
    expect(answer.token).toBeUndefined();
    expect(answer.wrong?.[field]).toContain(says);
  });

  it("opens for its own account and key only, in pages of one origin", async () => {
    const open = (change: Record<string, string>) =>
      fetch(
        `${base}/karvello/sandbox/frame?${new URLSearchParams({
          account: keys.sandbox.account,
          key: keys.sandbox.frame,
          origin: "https://pay.example",
          lang: "de",
          ...change,
        })}`,
      );
    const good = await open({});
    expect(good.headers.get("content-security-policy")).toBe("frame-ancestors https://pay.example");
    expect(await good.text()).toContain("Kartennummer");
    const wrong: Record<string, string>[] = [
      { key: keys.live.frame },
      { account: "KV-S-207790" },
      { origin: "https://pay.example/x" },
      { origin: "" },
    ];
    for (const change of wrong) expect((await open(change)).status, JSON.stringify(change)).toBe(403);
    expect((await token("sandbox", { key: keys.live.frame })).fault?.code).toBe("K-411");
  });
});

describe("cards", () => {
  it("lie in ranges of no real network, pass the check digit, and differ from side to side", () => {
    const [test, live] = [cardsOf("00"), cardsOf("77")];
    for (const { number } of [...test, ...live]) {
      expect(number).toMatch(/^990[1-3]\d{12}$/);
      expect(luhnHolds(number)).toBe(true);
    }
    expect(new Set([...test, ...live].map((one) => one.number)).size).toBe(test.length + live.length);
  });
});

describe("bells", () => {
  const secret = `whsec_${Buffer.alloc(32, 4).toString("base64")}`;
  /** A receiver that answers with these in turn, then 204. */
  async function receiver(...answers: number[]) {
    const got: { id: string; at: string; signature: string; event: { tell: string } }[] = [];
    const listening = createServer((request, response) => {
      let body = "";
      request.on("data", (part) => (body += String(part)));
      request.on("end", () => {
        const headers = request.headers as Record<string, string>;
        const event = new Webhook(secret).verify(body, headers) as { tell: string };
        got.push({
          id: headers["webhook-id"] ?? "",
          at: headers["webhook-timestamp"] ?? "",
          signature: headers["webhook-signature"] ?? "",
          event,
        });
        response.writeHead(answers.shift() ?? 204).end();
      });
    }).listen(0);
    await new Promise((resolve) => listening.once("listening", resolve));
    const address = `http://localhost:${(listening.address() as AddressInfo).port}/`;
    return { got, address, end: () => void (listening.closeAllConnections(), listening.close()) };
  }
  const until = async (holds: () => boolean) => {
    while (!holds()) await new Promise((resolve) => setTimeout(resolve, 10));
  };

  it("are hung, listed, rung and taken down; wrong ones are refused", async () => {
    const { got, address, end } = await receiver();
    expect((await ask("POST", "/bells", { address: "nowhere", secret })).fault).toBe("422 K-441");
    expect((await ask("POST", "/bells", { address, secret: "whsec_c2hvcnQ=" })).fault).toBe("422 K-442");
    const hung = await ask("POST", "/bells", { address, secret, tells: ["slip.taken", "slip.unheard-of"] });
    expect(hung).toMatchObject({ status: 201, body: { address, tells: ["slip.taken"] } });
    const id = String(hung.body.id);
    expect((await ask("GET", "/bells")).body.bells).toEqual([{ id, address, tells: ["slip.taken"] }]);
    expect(JSON.stringify((await ask("GET", "/bells")).body)).not.toContain(secret);
    await ask("POST", `/bells/${id}/ring`, {});
    await until(() => got.length === 1);
    await make();
    await until(() => got.length === 2);
    expect(got.map((one) => one.event.tell)).toEqual(["bell.test", "slip.taken"]);
    expect((await ask("DELETE", `/bells/${id}`)).body).toEqual({ gone: true });
    expect((await ask("DELETE", `/bells/${id}`)).fault).toBe("404 K-412");
    expect((await ask("POST", `/bells/${id}/ring`, {})).fault).toBe("404 K-412");
    end();
  });

  it("ring again when they are not heard, under the same id", async () => {
    const { got, address, end } = await receiver(500);
    const { body } = await ask("POST", "/bells", { address, secret, tells: ["slip.taken"] });
    await make();
    await until(() => got.length === 1);
    await until(() => {
      post.deliverAll();
      return got.length === 2;
    });
    expect(got[1]?.id).toBe(got[0]?.id);
    expect(Number(got[1]?.at)).toBeGreaterThanOrEqual(Number(got[0]?.at));
    await ask("DELETE", `/bells/${String(body.id)}`);
    end();
  });
});
