import express from "express";
import fc from "fast-check";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { dashboardRoutes, type Manner, press } from "./dashboard";
import { type Account, type Bill, decimal, fromDecimal, House, moves, randomText } from "./house";
import { Post } from "./notes";
import { weatherRoutes } from "./weather";

const account = (): Account => ({
  id: "A-1",
  name: "Luvwinkel",
  land: "DE",
  coins: [{ coin: "EUR", pays: "EUR" }],
  review: "none",
  ways: { wallet: true },
  keys: { "file:proof": "the text of a file" },
  address: "",
});
const house = () =>
  new House(
    "sandbank",
    () => "http://localhost:1",
    () => [account()],
  );
const bill = (change: Partial<Bill> = {}): Bill => ({
  ...house().open(
    "sandbox",
    { account: "A-1", ref: "r", sum: 1000, coin: "EUR", takeNow: false, goBackTo: null, way: "wallet" },
    "B1",
  ),
  ...change,
});

describe("a bill", () => {
  it("is granted, taken and given back, and never beyond what there is", () => {
    const one = bill();
    expect(moves.take(one, 1000)).toBe("wrong-state");
    expect(moves.grant(one)).toBeUndefined();
    expect([one.stand, one.held, one.taken]).toEqual(["held", 1000, 0]);
    expect(moves.take(one, 1001)).toBe("too-much");
    expect(moves.take(one, 600)).toBeUndefined();
    expect(moves.giveBack(one, 601)).toBe("too-much");
    expect(moves.giveBack(one, 600)).toBeUndefined();
    expect(moves.drop(one)).toBe("wrong-state");
    expect(one).toMatchObject({ stand: "paid", taken: 600, back: 600 });
  });

  it("is taken at once where that was asked, refused, let go, or ends otherwise", () => {
    const now = bill({ takeNow: true });
    moves.grant(now);
    expect(now).toMatchObject({ stand: "paid", taken: 1000 });
    for (const [work, stand] of [
      [(one: Bill) => moves.refuse(one, "X"), "refused"],
      [(one: Bill) => moves.drop(one), "dropped"],
      [(one: Bill) => moves.end(one, "lapsed"), "lapsed"],
    ] as const) {
      const one = bill();
      expect(work(one)).toBeUndefined();
      expect(one.stand).toBe(stand);
      expect(moves.grant(one)).toBe("wrong-state");
    }
  });

  it("whatever is done to it, holds no less than it took, and took no less than it gave back", () => {
    const act = fc.constantFrom("grant", "refuse", "take", "drop", "giveBack", "end");
    fc.assert(
      fc.property(fc.array(fc.tuple(act, fc.integer({ min: 1, max: 1500 }))), (acts) => {
        const one = bill();
        for (const [what, sum] of acts) {
          if (what === "grant") moves.grant(one);
          else if (what === "refuse") moves.refuse(one, "X");
          else if (what === "take") moves.take(one, sum);
          else if (what === "drop") moves.drop(one);
          else if (what === "giveBack") moves.giveBack(one, sum);
          else moves.end(one, "left");
          expect(one.back <= one.taken && one.taken <= one.held && one.held <= one.sum).toBe(true);
        }
      }),
    );
  });
});

describe("decimal text", () => {
  it("is written and read by the currency's own decimals", () => {
    expect([decimal(1250, "EUR"), decimal(500, "JPY")]).toEqual(["12.50", "500"]);
    expect([fromDecimal("12.5", "EUR"), fromDecimal("500", "JPY"), fromDecimal("5.5", "JPY")]).toEqual([
      1250,
      500,
      null,
    ]);
    for (const odd of ["", "1,5", "-1", "1.234", 5, null])
      expect(fromDecimal(odd, "EUR"), String(odd)).toBeNull();
    fc.assert(
      fc.property(fc.constantFrom("EUR", "JPY"), fc.integer({ min: 0, max: 10 ** 9 }), (coin, sum) => {
        expect(fromDecimal(decimal(sum, coin), coin)).toBe(sum);
      }),
    );
  });

  it("keeps random texts to letters that are not easily confused", () => {
    expect(randomText(400)).toMatch(/^[a-hjkmnp-z2-9]{400}$/);
  });
});

const manner: Manner = {
  title: "Sandbank",
  says: "a bank of sand",
  password: "ebbe-und-flut",
  colours: ["#fff", "#000", "#333"],
  face: "serif",
  bills: "Bills",
  words: { sandbox: "Sandbox", live: "Live" },
};

describe("over HTTP", () => {
  let server: Server;
  let origin = "";
  let heard: { path: string; body: string; signature: string }[] = [];
  let answers: number[] = [];
  const own = house();
  let signatures = 0;
  const post = new Post(
    own,
    (_, note) => ({
      headers: { "x-signature": note.spoilt ? "spoilt" : String((signatures += 1)) },
      body: JSON.stringify({ id: note.id, kind: note.kind }),
    }),
    "n",
  );
  const told: string[] = [];
  beforeAll(async () => {
    const app = express();
    app.use("/weather/sandbank", weatherRoutes("sandbank"));
    app.use("/weather/elsewhere", weatherRoutes("elsewhere"));
    app.use(
      "/sandbank/dashboard",
      dashboardRoutes(
        own,
        manner,
        (desk) => [press(own, desk, "shine", "Shine")],
        { shine: () => undefined },
        (_, one) => void told.push(one.review),
      ),
    );
    app.post("/hook{/:rest}", express.text({ type: () => true }), (request, response) => {
      heard.push({
        path: request.path,
        body: String(request.body),
        signature: request.get("x-signature") ?? "",
      });
      response.status(answers.shift() ?? 204).end();
    });
    server = createServer(app).listen(0);
    await new Promise((resolve) => server.once("listening", resolve));
    origin = `http://localhost:${(server.address() as AddressInfo).port}`;
  });
  afterAll(() => {
    server.closeAllConnections();
    server.close();
  });
  const until = async (holds: () => boolean) => {
    for (const end = Date.now() + 20_000; !holds() && Date.now() < end;) {
      post.deliverAll();
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
    expect(holds()).toBe(true);
  };
  const weather = (kind: string, provider = "sandbank") =>
    fetch(`${origin}/weather/${provider}`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ side: "sandbox", kind, calls: 1 }),
    });

  it("a message that is not taken comes again, signed anew, under the same id", async () => {
    heard = [];
    answers = [500, 204];
    post.send("sandbox", "A-1", `${origin}/hook/a`, "bill", {});
    await until(() => heard.length === 2);
    const [first, second] = heard;
    expect(first?.body).toBe(second?.body);
    expect(first?.signature).not.toBe(second?.signature);
    await until(() => own.books("sandbox").notes.every((one) => one.done));
  });

  it("bad weather loses, doubles or spoils one message of its own provider", async () => {
    heard = [];
    await weather("lose", "elsewhere");
    await weather("double");
    await weather("badly-signed");
    await weather("lose");
    for (const place of ["doubled", "spoilt", "lost", "plain"])
      post.send("sandbox", "A-1", `${origin}/hook/${place}`, "bill", {});
    await until(
      () =>
        heard.some((one) => one.path === "/hook/plain") &&
        heard.filter((one) => one.path === "/hook/doubled").length === 2,
    );
    expect(heard.find((one) => one.path === "/hook/spoilt")?.signature).toBe("spoilt");
    expect(heard.some((one) => one.path === "/hook/lost")).toBe(false);
    expect((await weather("hail")).status).toBe(400);
    await fetch(`${origin}/weather/elsewhere`, { method: "DELETE" });
    expect(await (await fetch(`${origin}/weather/elsewhere`)).json()).toEqual({ skies: [] });
  });

  it("nothing goes to nobody", () => {
    const before = own.books("sandbox").notes.length;
    post.send("sandbox", "A-1", "", "bill", {});
    expect(own.books("sandbox").notes).toHaveLength(before);
  });

  it("the dashboard is for who signs in, and moves the review step by step", async () => {
    const at = `${origin}/sandbank/dashboard`;
    const closed = await fetch(`${at}/sandbox`, { redirect: "manual" });
    expect(closed.headers.get("location")).toBe("/sandbank/dashboard/sign-in");
    const enter = (password: string) =>
      fetch(`${at}/sign-in`, {
        method: "POST",
        body: new URLSearchParams({ email: "kontor@luvwinkel.example", password }),
        redirect: "manual",
      });
    expect((await enter("wrong")).status).toBe(403);
    const cookie = (await enter("ebbe-und-flut")).headers.get("set-cookie")?.split(";")[0] ?? "";
    const pressed = (form: Record<string, string>, side = "sandbox") =>
      fetch(`${at}/${side}`, {
        method: "POST",
        headers: { cookie },
        body: new URLSearchParams({ account: "A-1", ...form }),
      });
    for (const to of ["applied", "looking", "open", "limited"])
      expect((await pressed({ press: "review", to })).status).toBe(200);
    expect(told).toEqual(["applied", "looking", "open", "limited"]);
    expect(await (await pressed({ press: "review", to: "toString" })).text()).toContain(
      "There is no such step.",
    );
    expect(await (await pressed({ press: "way", way: "wallet" })).text()).toContain("wallet: off");
    expect((await pressed({ press: "rain" })).status).toBe(404);
    expect((await pressed({ press: "shine" }, "moon")).status).toBe(404);
    const file = await fetch(`${at}/sandbox/files/proof`, { headers: { cookie } });
    expect(file.headers.get("content-disposition")).toBe('attachment; filename="proof"');
    expect(await file.text()).toBe("the text of a file");
    expect((await fetch(`${at}/sandbox/files/other`, { headers: { cookie } })).status).toBe(404);
  });
});
