import { createHash, createHmac, randomBytes } from "node:crypto";
import type { Request, Router } from "express";
import { html } from "../../html";
import { jsonApi, onceOf } from "../../kit/api";
import { dashboardRoutes, type Manner, no, once, press, yes } from "../../kit/dashboard";
import {
  type Account,
  type Bill,
  type Cannot,
  decimal,
  fromDecimal,
  House,
  moves,
  randomText,
  type SideName,
  sides,
} from "../../kit/house";
import { Post } from "../../kit/notes";
import { goodsFrom, goodsOf, homeFrom, homesOf } from "./goods";
import { payOut, sentOf, statementOf } from "./statements";
import { confirm, confirmsItself, granted, waitsForHouse } from "./steps";
import { quotesFor, signedFor, signFor, toBeRead } from "./terms";
import { Fault, type Provider, text } from "../../kit/provider";
import { type Choice, shopperRoutes } from "../../kit/shopper";

const manner: Manner = {
  title: "Ratenhaus",
  says: "pay in instalments",
  password: "zwoelf-mal-zwoelf",
  colours: ["#eff3ec", "#1c2f16", "#31571f"],
  face: "Cambria,Georgia,serif",
  bills: "Plans",
  words: { sandbox: "Probe", live: "Ernst" },
};
/** So many statements are told of at once. */
const STATEMENTS_A_LEAF = 20;
const LEAST = 9_000;
const MOST = 150_000;
/** How long a plan is weighed before the answer comes by message, milliseconds. */
const WEIGHED_FOR = 1_500;

const accounts = (side: SideName): Account[] =>
  ["DE", "AT"].map((land, i) => ({
    id: `${side === "sandbox" ? "probe" : "ernst"}-${2201 + i * 17}`,
    name: i === 0 ? "Luvwinkel Drachenbau" : "Luvwinkel Wien",
    land,
    coins: [{ coin: "EUR", pays: "EUR" }],
    review: i === 1 && side === "live" ? ("none" as const) : ("open" as const),
    ways: { "three months": true, "twelve months": true },
    keys: { password: newPassword(side), notice: randomBytes(32).toString("base64") },
    address: "",
  }));
function newPassword(side: SideName) {
  return `${side === "sandbox" ? "Pr" : "Er"}:${randomText(28)}`;
}

const stands: Record<Bill["stand"], string> = {
  open: "drafted",
  weighing: "weighed",
  held: "granted",
  paid: "paid_out",
  refused: "refused",
  broken: "lost",
  dropped: "withdrawn",
  left: "abandoned",
  lapsed: "abandoned",
};

/** Ratenhaus: instalments, HTTP Basic, decides late; messages by HTTP message signatures with a shared secret. */
export function ratenhaus(origin: () => string, file?: string): Provider {
  const house = new House("ratenhaus", origin, accounts, file);
  const post = new Post(
    house,
    (side, note) => {
      const body = JSON.stringify({ what: note.kind, when: house.now().toISOString(), ...note.content });
      const digest = `sha-512=:${createHash("sha512").update(body).digest("base64")}:`;
      const created = Math.floor(house.now().getTime() / 1000);
      const parameters = `("@method" "@path" "content-digest" "content-type" "ratenhaus-brief");created=${created};alg="hmac-sha256"`;
      const base = [
        `"@method": POST`,
        `"@path": ${new URL(note.to).pathname}`,
        `"content-digest": ${digest}`,
        `"content-type": application/json`,
        `"ratenhaus-brief": ${note.id}`,
        `"@signature-params": ${parameters}`,
      ].join("\n");
      const secret = note.spoilt
        ? randomBytes(32)
        : Buffer.from(house.account(side, note.account)?.keys.notice ?? "", "base64");
      return {
        headers: {
          "content-type": "application/json",
          "content-digest": digest,
          "ratenhaus-brief": note.id,
          "signature-input": `rh=${parameters}`,
          signature: `rh=:${createHmac("sha256", secret).update(base).digest("base64")}:`,
        },
        body,
      };
    },
    "brief-",
  );
  const tell = (side: SideName, bill: Bill) => {
    bill.movedAt = house.now().toISOString();
    bill.turn = (bill.turn ?? 1) + 1;
    const account = house.account(side, bill.account);
    if (account) post.send(side, account.id, account.address, "plan", { plan: planOf(house, side, bill) });
    house.changed();
  };
  /** The buyer signs; the answer comes a while later. `at once` is for the sandbox's own call. */
  const decide = (side: SideName, bill: Bill, does: string): Cannot | undefined => {
    const work: Record<string, () => Cannot | undefined> = {
      sign: () => (signFor(house, side, bill.no, 3), granted(house, side, bill)),
      sign_long: () => (signFor(house, side, bill.no, 12), granted(house, side, bill)),
      poor: () => moves.refuse(bill, "income"),
      overdue: () => moves.refuse(bill, "overdue"),
      false_name: () => moves.refuse(bill, "identity"),
      leave: () => moves.end(bill, "left"),
      lost: () => moves.end(bill, "broken"),
    };
    const cannot = work[does] ? work[does]() : "wrong-state";
    if (!cannot) tell(side, bill);
    return cannot;
  };
  const signLate =
    (side: SideName) =>
    (bill: Bill, does: string): Cannot | undefined => {
      if (bill.stand !== "open") return "wrong-state";
      if (does === "leave") return decide(side, bill, does);
      bill.stand = "weighing";
      tell(side, bill);
      setTimeout(() => decide(side, bill, does), WEIGHED_FOR).unref();
      return undefined;
    };
  const choices: Choice[] = [
    { does: "sign", words: "Sign the plan" },
    { does: "sign_long", words: "Sign for twelve months" },
    { does: "poor", words: "Sign, with too small an income" },
    { does: "overdue", words: "Sign, with instalments overdue" },
    { does: "leave", words: "Back to the shop" },
  ];
  return {
    house,
    manner,
    post,
    mount(app) {
      for (const side of sides) {
        app.use(
          `/ratenhaus/${side}/api`,
          apiRoutes(house, side, tell, (bill, does) =>
            does === "sign_late" ? signLate(side)(bill, "sign") : decide(side, bill, does),
          ),
        );
        app.use(
          `/ratenhaus/${side}/sign`,
          shopperRoutes(house, side, manner, "Pay in instalments", choices, signLate(side)),
        );
      }
      app.use(
        "/ratenhaus/dashboard",
        dashboardRoutes(
          house,
          manner,
          (desk) => [
            html`<h2>Access</h2>
              <dl>
                <dt>House name</dt><dd><code id="house-name">${desk.account.id}</code></dd>
                <dt>House password</dt><dd><code id="house-password">${desk.account.keys.password}</code></dd>
              </dl>
              ${press(house, desk, "password", "Make a new house password")}`,
            html`<h2>What the newest plans are for</h2>
              <ul id="goods">
                ${house
                  .billsOf(desk.side, desk.account.id)
                  .slice(-10)
                  .map(
                    ({ no }) =>
                      html`<li><code>${no}</code> ${(goodsOf(house, desk.side)[no] ?? []).map(({ what, pieces, sum }) => html`${pieces} × ${what}, ${sum}. `)} ${homesOf(house, desk.side)[no] ?? ""}</li>`,
                  )}
              </ul>`,
            html`<h2>Statements</h2>
              <ul id="statements">
                ${sentOf(house, desk.side)
                  .list.filter(({ account }) => account === desk.account.id)
                  .slice(-10)
                  .map(
                    ({ no, sum, day }) =>
                      html`<li><code>${no}</code> ${decimal(sum, "EUR")} EUR, ${day}</li>`,
                  )}
              </ul>
              ${press(house, desk, "pay-out", "Send what is owed")}`,
            html`<h2>Letters</h2>
              <p>Secret that letters are signed with: <code id="letter-secret">${desk.account.keys.notice}</code></p>
              ${press(house, desk, "address", "Keep the address", html`<label>Address for letters<br /><input name="address" size="60" value="${desk.account.address}" /></label>`)}
              ${press(house, desk, "test", "Send a test letter")} ${press(house, desk, "secret", "Make a new secret")}`,
          ],
          {
            password: ({ account, side }) => {
              account.keys.password = newPassword(side);
              return once("The old password is over. The new one:", account.keys.password);
            },
            "pay-out": ({ account, side }) => {
              const made = payOut(house, side, account);
              if (!made) return no("There is nothing to send.");
              post.send(side, account.id, account.address, "statement", { statement: made.no });
              return yes(`Sent ${decimal(made.sum, "EUR")} EUR.`);
            },
            secret: ({ account }) => {
              account.keys.notice = randomBytes(32).toString("base64");
              return yes("Letters are signed with the new secret from now on.");
            },
            address: ({ account }, { address = "" }) => {
              if (address.trim() && !URL.canParse(address.trim())) return no("This is not an address.");
              account.address = address.trim();
              return yes("The address is kept.");
            },
            test: ({ account, side }) => {
              if (!account.address) return no("There is no address yet.");
              post.send(side, account.id, account.address, "test", {});
              return yes("A test letter is on its way.");
            },
          },
          (side, account) => post.send(side, account.id, account.address, "house", {}),
        ),
      );
    },
  };
}

const standOf = (house: House, side: SideName, bill: Bill): string =>
  waitsForHouse(house, side, bill) ? "signed" : stands[bill.stand];

const planOf = (house: House, side: SideName, bill: Bill) => ({
  plan_no: bill.no,
  order_no: bill.ref,
  total: decimal(bill.sum, bill.coin),
  currency: bill.coin,
  stand: bill.back === 0 ? standOf(house, side, bill) : bill.back < bill.taken ? "part_returned" : "returned",
  granted: decimal(bill.held, bill.coin),
  paid_out: decimal(bill.taken, bill.coin),
  returned: decimal(bill.back, bill.coin),
  entry: bill.turn ?? 1,
  signed_for: signedFor(house, side, bill.no, bill.sum),
  ground: bill.refusal,
  sign_at: bill.stand === "open" ? house.address(side, `/sign/${bill.no}`) : null,
});

function apiRoutes(
  house: House,
  side: SideName,
  tell: (side: SideName, bill: Bill) => void,
  decide: (bill: Bill, does: string) => Cannot | undefined,
): Router {
  const books = house.books(side);
  const { router, close } = jsonApi(
    "ratenhaus",
    side,
    (response, fault) =>
      void response.status(fault.status).json({ mistake: fault.code, explained: fault.message }),
  );
  router.use((request, _, next) => {
    const [id = "", ...rest] = Buffer.from(
      /^Basic (.+)$/.exec(request.get("authorization") ?? "")?.[1] ?? "",
      "base64",
    )
      .toString()
      .split(":");
    const account = house.account(side, id);
    if (!account && id.startsWith(side === "sandbox" ? "ernst-" : "probe-"))
      throw new Fault(401, "RH-12", "This house is on the other side");
    if (!account) throw new Fault(401, "RH-11", `There is no house ${id || "of no name"}`);
    if (account.keys.password !== rest.join(":")) throw new Fault(401, "RH-10", "The password is wrong");
    Object.assign(request, { house: account });
    next();
  });
  const me = (request: Request) => (request as Request & { house: Account }).house;
  router.get("/house", (request, response) => {
    const { id, name, land, coins, review, ways } = me(request);
    response.json({
      house: id,
      name,
      land,
      currencies: coins.map((one) => one.coin),
      open: review === "open",
      review,
      terms: Object.entries(ways).map(([term, on]) => ({ term, on })),
    });
  });
  router.get("/quote", (request, response) => {
    const sum = fromDecimal(request.query.total, "EUR");
    if (sum === null || sum < LEAST || sum > MOST)
      throw new Fault(422, "RH-31", `Plans run from ${LEAST / 100} to ${MOST / 100} EUR`);
    response.json({
      holds_seconds: 600,
      to_be_read: toBeRead[request.query.tongue === "de" ? "de" : "en"],
      quotes: quotesFor(sum),
    });
  });
  const mine = (request: Request) =>
    sentOf(house, side).list.filter(({ account }) => account === me(request).id);
  router.get("/statements", (request, response) => {
    const { from, leaf = "0" } = request.query;
    const since = Date.parse(text(from, 40) ? from : "");
    const first = text(leaf, 6) && /^\d+$/.test(leaf) ? Number(leaf) : 0;
    const all = mine(request).filter(({ day }) => !(Date.parse(day) < since));
    const next = first + STATEMENTS_A_LEAF;
    if (next < all.length)
      response.set(
        "link",
        `<?${new URLSearchParams({ from: text(from, 40) ? from : "", leaf: String(next) }).toString()}>; rel="next"`,
      );
    response.json({
      statements: all
        .slice(first, next)
        .map(({ no, sum, day }) => ({ no, currency: "EUR", sum: decimal(sum, "EUR"), stand: "sent", day })),
    });
  });
  router.get("/statements/:no", (request, response) => {
    const found = mine(request).find(({ no }) => no === request.params.no);
    if (!found) throw new Fault(404, "RH-44", "There is no such statement");
    response.type("application/xml").send(statementOf(found));
  });
  router.post("/plans", (request, response) => {
    const account = me(request);
    const {
      order_no,
      total,
      currency,
      pay_out,
      back_to,
      goods,
      shown_as,
      lives_at,
      known_as,
      confirm: confirmed,
    } = request.body as Record<string, unknown>;
    if (account.review !== "open") throw new Fault(403, "RH-20", "This house is not open");
    const sum = fromDecimal(total, "EUR");
    if (currency !== "EUR") throw new Fault(422, "RH-30", "Plans are made in EUR");
    if (sum === null || !text(order_no, 80)) throw new Fault(400, "RH-01", "total or order_no is malformed");
    const lines = goodsFrom(goods);
    const home = homeFrom(lives_at, known_as);
    if (sum < LEAST) throw new Fault(422, "RH-31", `Plans start at ${LEAST / 100} EUR`);
    if (sum > MOST) throw new Fault(422, "RH-32", `Plans end at ${MOST / 100} EUR`);
    const known = house.billsFor(side, account.id, order_no)[0];
    const bill =
      known ??
      house.open(
        side,
        {
          account: account.id,
          ref: order_no,
          sum,
          coin: "EUR",
          takeNow: pay_out !== "on_dispatch",
          goBackTo: typeof back_to === "string" ? back_to : null,
          ...(text(shown_as, 60) && { shownAs: shown_as }),
          way: "plan",
        },
        `RP${randomText(12)}`,
      );
    goodsOf(house, side)[bill.no] ??= lines;
    if (home) homesOf(house, side)[bill.no] ??= home;
    if (!known && confirmed === "by_house") confirmsItself(house, side, bill);
    if (!known) tell(side, bill);
    response.status(known ? 200 : 201).json(planOf(house, side, bill));
  });
  router.get("/plans", (request, response) => {
    const { order_no } = request.query;
    const mine = house.billsOf(side, me(request).id, order_no);
    response.json(
      mine
        .slice(-100)
        .reverse()
        .map((one) => planOf(house, side, one)),
    );
  });
  const billOf = (request: Request): Bill => {
    const bill = books.bills[String(request.params.no)];
    if (bill?.account !== me(request).id) throw new Fault(404, "RH-40", "There is no such plan");
    return bill;
  };
  router.get("/plans/:no", (request, response) => void response.json(planOf(house, side, billOf(request))));
  const move = (
    path: string,
    work: (bill: Bill, sum: number, body: Record<string, unknown>) => Cannot | undefined,
    tells = true,
  ) =>
    router.patch(`/plans/:no/${path}`, (request, response) => {
      const bill = billOf(request);
      const body = (request.body ?? {}) as Record<string, unknown>;
      const once = onceOf(
        books,
        `${bill.no}:${request.get("ratenhaus-once") ?? randomText(9)}`,
        `${path}${JSON.stringify(body)}`,
        () => new Fault(409, "RH-43", "Said otherwise before"),
      );
      if (!once.seen) {
        const cannot = work(bill, fromDecimal(body.sum, bill.coin) ?? 0, body);
        if (cannot)
          throw new Fault(
            409,
            cannot === "too-much" ? "RH-42" : "RH-41",
            `A plan that is ${standOf(house, side, bill)} cannot do that`,
          );
        once.keep(bill.no);
        if (tells) tell(side, bill);
      }
      response.json(planOf(house, side, bill));
    });
  move("confirm", (bill) => confirm(house, side, bill));
  move("pay-out", (bill, sum) => moves.take(bill, sum));
  move("withdraw", (bill) => moves.drop(bill));
  move("return", (bill, sum) => moves.giveBack(bill, sum));
  if (side === "sandbox") move("buyer", (bill, _, { does }) => decide(bill, String(does)), false);
  close();
  return router;
}
