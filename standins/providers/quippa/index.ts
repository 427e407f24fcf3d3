import { createHash, createPrivateKey, generateKeyPairSync, sign } from "node:crypto";
import type { Request, Router } from "express";
import { html } from "../../html";
import { jsonApi } from "../../kit/api";
import { dashboardRoutes, type Manner, once, press, yes } from "../../kit/dashboard";
import {
  type Account,
  type Bill,
  type Cannot,
  House,
  moves,
  randomText,
  type SideName,
  sides,
} from "../../kit/house";
import { Post } from "../../kit/notes";
import { Fault, type Provider, text } from "../../kit/provider";
import { type Choice, shopperRoutes } from "../../kit/shopper";

const manner: Manner = {
  title: "Quippa",
  says: "pay by scanning a code",
  password: "drachen-ueber-kamome",
  colours: ["#fbf7fb", "#33152f", "#74256a"],
  face: "Trebuchet MS,sans-serif",
  bills: "Codes",
  words: { sandbox: "Trial", live: "Counter" },
};

const newApiKey = (side: SideName) => `quip.${side === "sandbox" ? "trial" : "counter"}.${randomText(30)}`;
function newNoticeKey(): Record<string, string> {
  const pair = generateKeyPairSync("ed25519");
  return {
    noticeSecret: pair.privateKey.export({ format: "pem", type: "pkcs8" }).toString(),
    noticeKey: String((pair.publicKey.export({ format: "jwk" }) as { x?: string }).x),
  };
}
const accounts = (side: SideName): Account[] =>
  [
    { name: "Luvwinkel Kabushiki", land: "JP", coins: [{ coin: "JPY", pays: "JPY" }] },
    {
      name: "Luvwinkel Drachenbau",
      land: "DE",
      coins: [
        { coin: "JPY", pays: "EUR" },
        { coin: "EUR", pays: "EUR" },
      ],
    },
  ].map((one, i) => ({
    id: `${side === "sandbox" ? "MT" : "MC"}${60_114 + i * 53}`,
    ...one,
    review: "open" as const,
    ways: { scan: true },
    keys: { api: newApiKey(side), ...newNoticeKey() },
    address: "",
  }));

const steps: Record<Bill["stand"], string> = {
  open: "shown",
  weighing: "shown",
  held: "scanned",
  paid: "paid",
  refused: "declined",
  broken: "broken",
  dropped: "closed",
  left: "closed",
  lapsed: "timed_out",
};
const phoneDoes: Record<string, (bill: Bill) => Cannot | undefined> = {
  pay: (bill) => moves.grant(bill),
  broke: (bill) => moves.refuse(bill, "Q-NOFUNDS"),
  refuse: (bill) => moves.refuse(bill, "Q-REFUSED"),
  odd: (bill) => moves.refuse(bill, "Q-ODD"),
  late: (bill) => moves.end(bill, "lapsed"),
  crash: (bill) => moves.end(bill, "broken"),
};
const phoneChoices: Choice[] = [
  { does: "pay", words: "Pay" },
  { does: "broke", words: "Pay, with too little money" },
  { does: "odd", words: "Pay, and look suspicious" },
  { does: "refuse", words: "Refuse" },
];

/** Quippa: a code to scan, polled first; messages by HTTP message signatures (RFC 9421) with Ed25519. */
export function quippa(origin: () => string, file?: string): Provider {
  const house = new House("quippa", origin, accounts, file);
  const post = new Post(
    house,
    (side, note) => {
      const body = JSON.stringify({
        notice: note.kind,
        at: Math.floor(house.now().getTime() / 1000),
        ...note.content,
      });
      const account = house.account(side, note.account);
      const digest = `sha-256=:${createHash("sha256").update(body).digest("base64")}:`;
      const created = Math.floor(house.now().getTime() / 1000);
      const parameters = `("@method" "@target-uri" "content-digest" "quippa-notice");created=${created};keyid="${side}"`;
      const base = [
        `"@method": POST`,
        `"@target-uri": ${note.to}`,
        `"content-digest": ${digest}`,
        `"quippa-notice": ${note.id}`,
        `"@signature-params": ${parameters}`,
      ].join("\n");
      const secret = note.spoilt ? newNoticeKey().noticeSecret : account?.keys.noticeSecret;
      const value = sign(null, Buffer.from(base), createPrivateKey(secret ?? "")).toString("base64");
      return {
        headers: {
          "content-type": "application/json",
          "content-digest": digest,
          "quippa-notice": note.id,
          "signature-input": `quippa=${parameters}`,
          signature: `quippa=:${value}:`,
        },
        body,
      };
    },
    "qn",
  );
  const tell = (side: SideName, bill: Bill) => {
    bill.movedAt = house.now().toISOString();
    bill.turn = (bill.turn ?? 1) + 1;
    const account = house.account(side, bill.account);
    if (account) post.send(side, account.id, account.address, "code", { code: codeOf(house, side, bill) });
    house.changed();
  };
  const act = (side: SideName) => (bill: Bill, does: string) => {
    const work = phoneDoes[does];
    const cannot = work ? work(bill) : "wrong-state";
    if (!cannot) tell(side, bill);
    return cannot;
  };
  return {
    house,
    manner,
    post,
    mount(app) {
      for (const side of sides) {
        app.use(`/quippa/${side}/api`, apiRoutes(house, side, tell, act(side), post));
        app.use(
          `/quippa/${side}/scan`,
          shopperRoutes(house, side, manner, "On the shopper’s phone", phoneChoices, act(side)),
        );
      }
      app.use(
        "/quippa/dashboard",
        dashboardRoutes(
          house,
          manner,
          (desk) => [
            html`<h2>Keys</h2>
              <dl>
                <dt>Merchant ID</dt><dd><code id="merchant-id">${desk.account.id}</code></dd>
                <dt>API key</dt><dd><code id="api-key">${desk.account.keys.api}</code></dd>
                <dt>Notice key (public)</dt><dd><code id="notice-key">${desk.account.keys.noticeKey}</code></dd>
              </dl>
              ${press(house, desk, "api", "Make a new API key")} ${press(house, desk, "turn", "Make a new notice key")}`,
            html`<h2>Notices</h2>
              <p>${desk.account.address ? html`They go to <code>${desk.account.address}</code>.` : "They go nowhere yet."}</p>`,
          ],
          {
            api: ({ account, side }) => {
              account.keys.api = newApiKey(side);
              return once("The old key is over. The new one:", account.keys.api);
            },
            turn: ({ account }) => {
              Object.assign(account.keys, newNoticeKey());
              return yes("Notices are signed with the new key from now on.");
            },
          },
          (side, account) => post.send(side, account.id, account.address, "merchant", {}),
        ),
      );
    },
  };
}

const codeOf = (house: House, side: SideName, bill: Bill) => ({
  code_id: bill.no,
  ref: bill.ref,
  amount: bill.sum,
  money: bill.coin,
  step: bill.back === 0 ? steps[bill.stand] : bill.back < bill.taken ? "part_returned" : "returned",
  paid: bill.taken,
  returned: bill.back,
  nth_step: bill.turn ?? 1,
  why: bill.refusal,
  scan: bill.stand === "open" ? house.address(side, `/scan/${bill.no}`) : null,
});

function apiRoutes(
  house: House,
  side: SideName,
  tell: (side: SideName, bill: Bill) => void,
  act: (bill: Bill, does: string) => Cannot | undefined,
  post: Post,
): Router {
  const books = house.books(side);
  const { router, close } = jsonApi(
    "quippa",
    side,
    (response, fault) =>
      void response.status(fault.status).json({ trouble: fault.code, words: fault.message }),
  );
  router.use((request, _, next) => {
    const key = request.get("quippa-key");
    if (!key) throw new Fault(401, "Q1001", "No key was sent");
    const found = books.accounts.find((one) => one.keys.api === key);
    if (!found && key.startsWith(side === "sandbox" ? "quip.counter" : "quip.trial"))
      throw new Fault(401, "Q1003", "This key is for the other side");
    if (!found) throw new Fault(401, "Q1002", "This key is not known");
    if (request.get("quippa-merchant") !== found.id)
      throw new Fault(
        403,
        "Q1004",
        `This key belongs to ${found.id}, not to ${request.get("quippa-merchant") ?? "nobody"}`,
      );
    Object.assign(request, { merchant: found });
    next();
  });
  const me = (request: Request) => (request as Request & { merchant: Account }).merchant;
  const billOf = (request: Request): Bill => {
    const bill = books.bills[String(request.params.no)];
    if (bill?.account !== me(request).id) throw new Fault(404, "Q2001", "There is no such code");
    return bill;
  };
  router.get("/merchant", (request, response) => {
    const { id, name, land, coins, review, ways } = me(request);
    response.json({ id, name, land, moneys: coins, open: review === "open", review, scan: ways.scan });
  });
  router.post("/codes", (request, response) => {
    const account = me(request);
    const { ref, amount, money } = request.body as Record<string, unknown>;
    if (account.review !== "open") throw new Fault(403, "Q3001", "The merchant is not open");
    if (!account.coins.some((one) => one.coin === money))
      throw new Fault(422, "Q3002", `The merchant takes no ${String(money)}`);
    if (!Number.isSafeInteger(amount) || !text(ref, 80))
      throw new Fault(400, "Q3003", "amount or ref is malformed");
    if ((amount as number) < 1 || (amount as number) > 500_000)
      throw new Fault(422, "Q3004", "A code takes 1 to 500000");
    // The same reference is the same code, however often it is asked for.
    const known = house.billsFor(side, account.id, ref)[0];
    const bill =
      known ??
      house.open(
        side,
        {
          account: account.id,
          ref,
          sum: amount as number,
          coin: String(money),
          takeNow: true,
          goBackTo: null,
          way: "scan",
        },
        `C${randomText(14)}`,
      );
    if (!known) tell(side, bill);
    response.status(known ? 200 : 201).json({ code: codeOf(house, side, bill) });
  });
  router.get("/codes", (request, response) => {
    const { ref } = request.query;
    const mine = house.billsOf(side, me(request).id, ref);
    response.json({
      codes: mine
        .slice(-100)
        .reverse()
        .map((one) => codeOf(house, side, one)),
    });
  });
  router.get(
    "/codes/:no",
    (request, response) => void response.json({ code: codeOf(house, side, billOf(request)) }),
  );
  const move = (path: string, work: (bill: Bill, body: Record<string, unknown>) => Cannot | undefined) =>
    router.post(`/codes/:no/${path}`, (request, response) => {
      const bill = billOf(request);
      const body = (request.body ?? {}) as Record<string, unknown>;
      const key = `${bill.no}:${String(body.once ?? randomText(9))}`;
      if (!books.onces[key]) {
        const cannot = work(bill, body);
        if (cannot)
          throw new Fault(
            409,
            cannot === "too-much" ? "Q4002" : "Q4001",
            "That cannot be done with this code now",
          );
        books.onces[key] = { no: bill.no, said: path };
        if (path !== "phone") tell(side, bill);
      }
      response.json({ code: codeOf(house, side, bill) });
    });
  move("return", (bill, { amount }) => moves.giveBack(bill, Number(amount)));
  move("close", (bill) => moves.drop(bill));
  if (side === "sandbox") move("phone", (bill, { does }) => act(bill, String(does)));
  router.put("/notices", (request, response) => {
    const { to } = request.body as { to?: string };
    if (!to || !URL.canParse(to)) throw new Fault(422, "Q5001", "to is no address");
    me(request).address = to;
    house.changed();
    response.json({ to });
  });
  router.get("/notices", (request, response) => void response.json({ to: me(request).address || null }));
  router.delete("/notices", (request, response) => {
    me(request).address = "";
    house.changed();
    response.json({ to: null });
  });
  router.post("/notices/try", (request, response) => {
    const { id, address } = me(request);
    post.send(side, id, address, "try", {});
    response.json({ tried: true });
  });
  close();
  return router;
}
