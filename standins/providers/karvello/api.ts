import type { NextFunction, Request, Response, Router } from "express";
import { jsonApi, onceOf } from "../../kit/api";
import { closedBecause } from "../../kit/dashboard";
import { type Account, type Bill, randomText } from "../../kit/house";
import { Fault, text } from "../../kit/provider";
import { canSign, ringTest, takeDown, TELLS } from "./bells";
import type { Right, ServerKey } from "./books";
import { play } from "./play";
import { pageOf } from "./sendings";
import {
  type Counter,
  drop,
  endWatch,
  forget,
  giveBack,
  LEAST,
  letGo,
  makeSlip,
  reply,
  settle,
  slipFrom,
  take,
} from "./slips";

const codes: Record<string, string> = { no_such_address: "K-400", unreadable: "K-440", broken: "K-500" };

const keys = new WeakMap<Request, ServerKey>();
function keyOf(request: Request): ServerKey {
  const key = keys.get(request);
  if (!key) throw new Error("asked before the key was looked at");
  return key;
}

/** Karvello's API for one side. */
export function apiRoutes(counter: Counter): Router {
  const { karvello, post, side } = counter;
  const books = karvello.books(side);
  const { router, close } = jsonApi(
    "karvello",
    side,
    (response, { status, code, message }) =>
      response.status(status).json({ fault: { code: codes[code] ?? code, text: message } }),
    // Papers come with a shop's word on a complaint.
    "10mb",
  );
  router.use((request, _, next) => {
    keys.set(request, serverKeyOf(counter, request));
    next();
  });
  const needs = (right: Right) => (request: Request, _: Response, next: NextFunction) => {
    if (!keyOf(request).rights.includes(right))
      throw new Fault(403, "K-405", `This server key was issued without the right “${right}”`);
    next();
  };
  router.use("/bells", needs("bells"));
  router.post("/slips/:no/give-back", needs("give-back"));
  router.get("/slips", (request, response, next) =>
    request.query.your_ref === undefined ? needs("list")(request, response, next) : next(),
  );
  const billOf = (request: Request): Bill => {
    const bill = books.bills[String(request.params.no)];
    if (bill?.account !== keyOf(request).account) throw new Fault(404, "K-410", "There is no such slip");
    settle(counter, bill);
    return bill;
  };
  const gives = (response: Response, bill: Bill) => {
    karvello.changed();
    response.json(slipFrom(counter, bill));
  };

  router.get("/account", (request, response) => {
    const account = karvello.account(side, keyOf(request).account);
    response.json(account && accountFrom(account));
  });
  router.get("/frame-keys/:key", (request, response) => {
    const known = karvello.drawer(side).frameKeys.find((one) => one.key === request.params.key);
    if (!known) throw new Fault(404, "K-411", "This frame key is not known here");
    response.json({ account: known.account, issued_at: known.at });
  });

  router.post("/slips", (request, response) => {
    const { account } = keyOf(request);
    const once = onceFor(counter, request, "slips");
    const before = once.seen === undefined ? undefined : books.bills[once.seen];
    if (before) return void response.json(slipFrom(counter, before));
    const bill = makeSlip(
      counter,
      account,
      readOrder(counter, account, request.body as Record<string, unknown>),
    );
    once.keep(bill.no);
    gives(response.status(201), bill);
  });
  router.get("/slips", (request, response) => {
    const slips = karvello.billsOf(side, keyOf(request).account, request.query.your_ref);
    response.json({
      slips: slips
        .slice(-200)
        .reverse()
        .map((bill) => slipFrom(counter, bill)),
    });
  });
  router.use("/sendings", needs("list"));
  router.get("/sendings", (request, response) => {
    const { from, after } = request.query;
    const mine = karvello
      .drawer(side)
      .sendings.filter((one) => one.account === keyOf(request).account)
      .filter(({ day }) => typeof from !== "string" || day >= from);
    const { page, more } = pageOf(mine, after);
    response.json({ sendings: page.map(({ lines: _, ...sending }) => sending), more });
  });
  router.get("/sendings/:no/lines", (request, response) => {
    const sending = karvello.drawer(side).sendings.find((one) => one.no === request.params.no);
    if (sending?.account !== keyOf(request).account)
      throw new Fault(404, "K-412", "There is no such sending");
    const { page, more } = pageOf(sending.lines, request.query.after);
    response.json({ lines: page.map((line) => ({ ...line, paid_in: sending.coin })), more });
  });
  router.get("/complaints", needs("list"), (request, response) => {
    const { from, after } = request.query;
    const mine = karvello
      .billsOf(side, keyOf(request).account)
      .flatMap((bill) =>
        karvello.slipOf(side, bill).complaints.map(({ papers: _, ...one }) => ({
          ...one,
          ...{ slip: bill.no, your_ref: bill.ref, coin: bill.coin },
        })),
      )
      .filter(({ day }) => typeof from !== "string" || day >= from);
    const { page, more } = pageOf(mine, after);
    response.json({ complaints: page, more });
  });
  router.get("/slips/:no", (request, response) => void response.json(slipFrom(counter, billOf(request))));
  const moves: Record<string, (bill: Bill, body: unknown) => void> = {
    take: (bill, body) => take(counter, bill, sumOf(body), (body as { last?: unknown }).last !== false),
    "let-go": (bill, body) => letGo(counter, bill, sumOf(body)),
    drop: (bill) => drop(counter, bill),
    "answer-complaint": (bill, body) => {
      const { words, papers = [] } = (body ?? {}) as { words?: unknown; papers?: unknown };
      if (!text(words, 5_000)) throw new Fault(400, "K-440", "words are missing");
      if (!isPapers(papers)) throw new Fault(400, "K-440", "papers want a title, a kind and base64");
      reply(
        counter,
        bill,
        complaintOf(body),
        "answered",
        papers.map(({ title }) => title),
      );
    },
    "end-watch": (bill, body) => {
      const { as } = (body ?? {}) as { as?: unknown };
      if (as !== "clear" && as !== "stopped") throw new Fault(400, "K-440", "as is clear or stopped");
      endWatch(counter, bill, as);
    },
    "accept-complaint": (bill, body) => reply(counter, bill, complaintOf(body), "for_holder"),
    "give-back": (bill, body) => giveBack(counter, bill, sumOf(body)),
  };
  for (const [name, move] of Object.entries(moves)) {
    router.post(`/slips/:no/${name}`, (request, response) => {
      const bill = billOf(request);
      const once = onceFor(counter, request, `${bill.no}/${name}`);
      if (once.seen === undefined) {
        move(bill, request.body);
        once.keep(bill.no);
      }
      gives(response, bill);
    });
  }
  if (side === "sandbox") {
    router.post("/slips/:no/play", (request, response) => {
      const bill = billOf(request);
      play(counter, bill, String((request.body as { answer?: string }).answer));
      gives(response, bill);
    });
  }

  router.delete("/kept-cards/:no", (request, response) => {
    if (!forget(counter, keyOf(request).account, request.params.no))
      throw new Fault(404, "K-412", "There is no such card here");
    response.json({ gone: true });
  });

  router.post("/bells", (request, response) => {
    const { address, secret, tells } = request.body as Record<string, unknown>;
    if (!text(address, 500) || !URL.canParse(address))
      throw new Fault(422, "K-441", "The bell's address is not one");
    if (!text(secret, 200) || !canSign(secret))
      throw new Fault(422, "K-442", "The bell's secret must hold 24 bytes or more");
    const kinds = Array.isArray(tells)
      ? tells.filter((one) => TELLS.includes(String(one))).map(String)
      : [...TELLS];
    const id = `bell_${randomText(10)}`;
    books.hooks.push({ id, account: keyOf(request).account, to: address, secret, kinds });
    karvello.changed();
    response.status(201).json({ id, address, tells: kinds });
  });
  const mine = (request: Request) => books.hooks.filter((one) => one.account === keyOf(request).account);
  const noBell = () => new Fault(404, "K-412", "There is no such bell");
  router.get("/bells", (request, response) => {
    response.json({ bells: mine(request).map(({ id, to, kinds }) => ({ id, address: to, tells: kinds })) });
  });
  router.delete("/bells/:id", (request, response) => {
    if (!takeDown(post, side, keyOf(request).account, request.params.id)) throw noBell();
    response.json({ gone: true });
  });
  router.post("/bells/:id/ring", (request, response) => {
    if (!mine(request).some((one) => one.id === request.params.id)) throw noBell();
    ringTest(post, side, keyOf(request).account);
    response.json({ rung: true });
  });
  close();
  return router;
}

const isPapers = (papers: unknown): papers is { title: string }[] =>
  Array.isArray(papers) &&
  papers.length <= 10 &&
  papers.every(
    (one: Record<string, unknown>) =>
      text(one.title, 200) && text(one.kind, 60) && text(one.base64, 9_000_000),
  );

const accountFrom = (account: Account) => ({
  code: account.id,
  trading_as: account.name,
  home: account.land,
  coins: account.coins.map(({ coin, pays }) => ({ coin, pays_out_in: pays })),
  networks: Object.entries(account.ways).map(([network, on]) => ({ network, on })),
  open_for_business: account.review === "open",
  closed_because: closedBecause(account),
  review: account.review,
});

function serverKeyOf({ karvello, side }: Counter, request: Request): ServerKey {
  const key = /^Bearer (.+)$/.exec(request.get("authorization") ?? "")?.[1];
  if (!key) throw new Fault(401, "K-401", "No server key was sent");
  const known = karvello.drawer(side).serverKeys.find((one) => one.key === key);
  if (!known) {
    if (key.startsWith(side === "sandbox" ? "kvs.l." : "kvs.s."))
      throw new Fault(401, "K-403", `This key is not for the ${side} side`);
    throw new Fault(401, "K-402", "This server key is not known");
  }
  const account = request.get("karvello-account");
  if (account !== known.account)
    throw new Fault(403, "K-404", `This key belongs to ${known.account}, not to ${account ?? "nobody"}`);
  return known;
}

function readOrder({ karvello, side }: Counter, code: string, body: Record<string, unknown>) {
  const account = karvello.account(side, code);
  if (account?.review !== "open")
    throw new Fault(403, "K-450", (account && closedBecause(account)) ?? "The account may not charge");
  const {
    sum,
    coin,
    token,
    take = "now",
    ask = "issuer",
    statement = "",
    your_ref,
    go_back_to = null,
    kept_card,
    keep_card = false,
    asked_by = "holder",
    charged_again = false,
    first_mark,
    mail,
    items,
    notes,
  } = body;
  if (!account.coins.some((one) => one.coin === coin))
    throw new Fault(422, "K-420", `This account takes no ${String(coin)}`);
  if (!Number.isSafeInteger(sum)) throw new Fault(400, "K-440", "sum must be whole minor units");
  if (text(token, 100) === text(kept_card, 40) || !text(your_ref, 100))
    throw new Fault(400, "K-440", "your_ref is needed, and either token or kept_card");
  if (typeof keep_card !== "boolean" || typeof charged_again !== "boolean")
    throw new Fault(400, "K-440", "keep_card and charged_again are yes or no");
  // For nothing it is asked whether a card is good that is kept, or is going to be.
  const asksIfGood = sum === 0 && (keep_card || text(kept_card, 40));
  if ((sum as number) < LEAST && !asksIfGood) throw new Fault(422, "K-421", `The least sum is ${LEAST}`);
  if (asked_by !== "holder" && asked_by !== "shop")
    throw new Fault(400, "K-440", "asked_by is holder or shop");
  if (asked_by === "shop" && (!text(kept_card, 40) || !text(first_mark, 40)))
    throw new Fault(400, "K-440", "A shop that asks by itself names kept_card and first_mark");
  if ((take !== "now" && take !== "later") || (ask !== "issuer" && ask !== "always" && ask !== "spare"))
    throw new Fault(400, "K-440", "take or ask is not known");
  if (String(statement).length > 22) throw new Fault(422, "K-443", "The statement is longer than 22");
  if (mail !== undefined && !text(mail, 200)) throw new Fault(400, "K-440", "mail is malformed");
  if (items !== undefined && !Array.isArray(items)) throw new Fault(400, "K-440", "items are malformed");
  const pairs = Object.entries(notes ?? {});
  if (pairs.length > 10 || !pairs.every(([name, value]) => name.length <= 30 && text(value, 120)))
    throw new Fault(400, "K-440", "notes are malformed");
  return {
    told: {
      ...(mail !== undefined && { mail }),
      ...(items !== undefined && { items: items as unknown[] }),
      ...(pairs.length > 0 && { notes: Object.fromEntries(pairs) as Record<string, string> }),
    },
    sum: sum as number,
    coin: coin as string,
    token: text(token, 100) ? token : "",
    kept: text(kept_card, 40) ? kept_card : "",
    keep: keep_card,
    by: asked_by,
    again: charged_again,
    mark: text(first_mark, 40) ? first_mark : "",
    take,
    ask,
    statement: String(statement),
    your_ref,
    go_back_to: typeof go_back_to === "string" ? go_back_to : null,
  } as const;
}

function onceFor({ karvello, side }: Counter, request: Request, what: string) {
  const once = request.get("once-only");
  if (!text(once, 100)) throw new Fault(400, "K-440", "The once-only header is missing");
  const said = `${what} ${JSON.stringify(request.body)}`;
  return onceOf(
    karvello.books(side),
    `${keyOf(request).account}:${once}`,
    said,
    () => new Fault(409, "K-460", "This once-only key came with something else"),
  );
}

function complaintOf(body: unknown): string {
  const { complaint } = (body ?? {}) as { complaint?: unknown };
  if (!text(complaint, 60)) throw new Fault(400, "K-440", "complaint is missing");
  return complaint;
}

function sumOf(body: unknown): number {
  const sum = (body as { sum?: unknown } | undefined)?.sum;
  if (!Number.isSafeInteger(sum) || (sum as number) <= 0)
    throw new Fault(400, "K-440", "sum must be whole minor units");
  return sum as number;
}
