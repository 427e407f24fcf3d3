import type { Request, Response, Router } from "express";
import { jsonApi, onceOf } from "../../kit/api";
import {
  type Account,
  type Bill,
  type Cannot,
  fromDecimal,
  type House,
  moves,
  randomText,
  type SideName,
} from "../../kit/house";
import type { Post } from "../../kit/notes";
import { Fault, text } from "../../kit/provider";
import { drawerOf, purchase, tell } from "./purses";
import { sessionRoutes, useSession } from "./sessions";
import { payerAnswers, readWish, standingRoutes, useWord } from "./standings";

type Body = Record<string, unknown>;
const says: Record<Cannot, Fault> = {
  "wrong-state": new Fault(409, "phase_not_right", "The purchase's phase does not allow that"),
  "too-much": new Fault(422, "more_than_there_is", "That is more than there is"),
};
/** Pennywhistle's API for one side. */
export function apiRoutes(house: House, post: Post, side: SideName): Router {
  const books = house.books(side);
  const { router, close } = jsonApi(
    "pennywhistle",
    side,
    (response, fault) =>
      void response.status(fault.status).json({ error: { name: fault.code, detail: fault.message } }),
  );
  router.use((request, _, next) => {
    const token = /^Bearer (.+)$/.exec(request.get("authorization") ?? "")?.[1] ?? "";
    const drawer = drawerOf(house, side);
    const known = drawer.tokens[token];
    const client = known && drawer.clients[known.client];
    if (!known || known.until < house.now().getTime())
      throw new Fault(401, "token_over", "The token is not known, or it is over");
    if (!client || client.withdrawn)
      throw new Fault(401, "access_withdrawn", "The merchant withdrew this program's access");
    Object.assign(request, { client: known.client, merchant: house.account(side, client.merchant) });
    next();
  });
  const me = (request: Request) => (request as Request & { merchant: Account }).merchant;
  const billOf = (request: Request): Bill => {
    const bill = books.bills[String(request.params.id)];
    if (bill?.account !== me(request).id)
      throw new Fault(404, "no_such_purchase", "There is no such purchase");
    return bill;
  };
  const answer = (response: Response, bill: Bill, status = 200) =>
    void response.status(status).json({ purchase: purchase(house, side, bill) });

  router.get("/me", (request, response) => {
    const { id, name, land, coins, review, ways } = me(request);
    response.json({
      merchant: {
        id,
        name,
        country: land,
        settles: coins.map((one) => ({ currency: one.coin, into: one.pays })),
      },
      standing: { word: review, active: review === "open" },
      ways: Object.entries(ways).map(([way, on]) => ({ way, on })),
    });
  });
  router.get("/client", (request, response) => {
    const { client } = request as Request & { client: string };
    response.json({ client_id: client, client_secret: drawerOf(house, side).clients[client]?.secret });
  });
  router.post("/purchases", (request, response) => {
    const account = me(request);
    const body = (request.body as { purchase?: Body } | undefined)?.purchase ?? {};
    const { your_reference, amount, when, return_to, way = "wallet", shop, agreed, standing } = body;
    if (account.review !== "open")
      throw new Fault(403, "merchant_not_active", "The merchant may not take payments yet");
    const { value, currency = "" } = (amount ?? {}) as { value?: string; currency?: string };
    if (!account.coins.some((one) => one.coin === currency))
      throw new Fault(422, "currency_not_taken", `The merchant takes no ${currency}`);
    if (!account.ways[String(way)])
      throw new Fault(422, "way_not_on", `The way “${String(way)}” is switched off`);
    const sum = fromDecimal(value, currency);
    if (sum === null || !text(your_reference, 80))
      throw new Fault(400, "unreadable", "amount or your_reference is malformed");
    if (sum < 100) throw new Fault(422, "amount_too_small", "The least amount is 1.00");
    const once = onceOf(
      books,
      `${account.id}:${request.get("pw-request") ?? ""}`,
      JSON.stringify(body),
      () => new Fault(409, "request_id_reused", "This request id came with something else"),
    );
    const seen = once.seen && books.bills[once.seen];
    if (seen) return answer(response, seen);
    const wish = readWish(house, side, account, standing);
    const session =
      agreed === undefined || agreed === null
        ? null
        : useSession(house, side, account, String(agreed), sum, currency);
    const bill = house.open(
      side,
      {
        account: account.id,
        ref: your_reference,
        sum,
        coin: currency,
        takeNow: when !== "reserve",
        goBackTo: typeof return_to === "string" ? return_to : null,
        ...(text(shop, 60) && { shownAs: shop }),
        way: String(way),
      },
      `pw_${randomText(16)}`,
    );
    once.keep(bill.no);
    if (wish) useWord(house, side, bill, wish);
    if (session) payerAnswers(house, side, bill, session.does ?? "agree");
    tell(post, house, side, bill);
    answer(response, bill, 201);
  });
  router.get("/purchases", (request, response) => {
    const { your_reference } = request.query;
    const mine = house.billsOf(side, me(request).id, your_reference);
    response.json({
      purchases: mine
        .slice(-100)
        .reverse()
        .map((one) => purchase(house, side, one)),
    });
  });
  router.get("/purchases/:id", (request, response) => answer(response, billOf(request)));
  const move = (path: string, work: (bill: Bill, sum: number, body: Body) => Cannot | undefined) =>
    router.post(`/purchases/:id/${path}`, (request, response) => {
      const bill = billOf(request);
      const body = (request.body ?? {}) as Body & { amount?: { value?: string } };
      const key = `${bill.no}:${request.get("pw-request") ?? randomText(8)}`;
      const once = onceOf(
        books,
        key,
        `${path}${JSON.stringify(body)}`,
        () => new Fault(409, "request_id_reused", "This request id came with something else"),
      );
      if (!once.seen) {
        const cannot = work(bill, fromDecimal(body.amount?.value, bill.coin) ?? 0, body);
        if (cannot) throw says[cannot];
        once.keep(bill.no);
        tell(post, house, side, bill);
      }
      answer(response, bill);
    });
  move("complete", (bill, sum) => moves.take(bill, sum));
  move("release", (bill) => moves.drop(bill));
  move("return", (bill, sum) => moves.giveBack(bill, sum));
  if (side === "sandbox") move("payer", (bill, _, { does }) => payerAnswers(house, side, bill, String(does)));

  sessionRoutes(router, house, side, me);
  standingRoutes(router, house, side, me);
  router.post("/hooks", (request, response) => {
    const { to, kinds } = request.body as { to?: string; kinds?: string[] };
    if (!to || !URL.canParse(to)) throw new Fault(422, "unreadable", "to is no address");
    const hook = { id: `hook-${randomText(8)}`, account: me(request).id, to, kinds: kinds ?? [] };
    books.hooks.push(hook);
    house.changed();
    response.status(201).json(hook);
  });
  router.get(
    "/hooks",
    (request, response) =>
      void response.json({ hooks: books.hooks.filter((one) => one.account === me(request).id) }),
  );
  const hookOf = (request: Request) => {
    const hook = books.hooks.find((one) => one.id === request.params.id && one.account === me(request).id);
    if (!hook) throw new Fault(404, "no_such_hook", "There is no such hook");
    return hook;
  };
  router.delete("/hooks/:id", (request, response) => {
    books.hooks.splice(books.hooks.indexOf(hookOf(request)), 1);
    house.changed();
    response.json({ removed: true });
  });
  router.post("/hooks/:id/try", (request, response) => {
    const hook = hookOf(request);
    post.send(side, hook.account, hook.to, "hook.tried", {});
    response.json({ tried: true });
  });
  close();
  return router;
}
