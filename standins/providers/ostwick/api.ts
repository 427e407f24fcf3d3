import express, { type NextFunction, type Request, type Response, type Router } from "express";
import {
  type Account,
  type Bill,
  type Cannot,
  decimal,
  fromDecimal,
  type House,
  moves,
  randomText,
  type SideName,
} from "../../kit/house";
import type { Card } from "../../kit/cards";
import type { Post } from "../../kit/notes";
import { Fault, text } from "../../kit/provider";
import { callWeather } from "../../kit/weather";
import { chargeCard, digestHolds, tell } from "./outlets";
import { fileOf, keptOf } from "./statements";

type Fields = Record<string, string>;

const STATES: Record<Bill["stand"], string> = {
  open: "NEW",
  weighing: "NEW",
  held: "RESERVED",
  paid: "SETTLED",
  refused: "REFUSED",
  broken: "ERROR",
  dropped: "REVERSED",
  left: "CANCELLED",
  lapsed: "CANCELLED",
};

/** An order as Ostwick writes it: flat, in capitals, decimal. */
export function orderFields(house: House, side: SideName, bill: Bill): Fields {
  const sum = (value: number) => decimal(value, bill.coin);
  return {
    ORDER: bill.no,
    YOURREF: bill.ref,
    CURRENCY: bill.coin,
    AMOUNT: sum(bill.sum),
    STATE: bill.back === 0 ? STATES[bill.stand] : bill.back < bill.taken ? "PARTCREDIT" : "CREDITED",
    AUTH: sum(bill.held),
    CAPT: sum(bill.taken),
    CRED: sum(bill.back),
    TURN: String(bill.turn ?? 1),
    REFUSAL: bill.refusal ?? "",
    CARD: bill.way,
    PAGE: bill.stand === "open" ? house.address(side, `/page/${bill.no}`) : "",
  };
}

const indexed = (records: Fields[], name: string): Fields =>
  Object.fromEntries(
    records.flatMap((one, i) => Object.entries(one).map(([key, value]) => [`${name}.${i}.${key}`, value])),
  );

/** Ostwick's API for one side: forms in, forms out, and always HTTP 200 with a RESULT. */
export function apiRoutes(house: House, post: Post, side: SideName): Router {
  const books = house.books(side);
  const router = express.Router();
  router.use(express.urlencoded({ extended: false, limit: "20kb" }));
  const answer = (response: Response, fields: Fields) =>
    void response
      .type("application/x-www-form-urlencoded")
      .send(new URLSearchParams({ RESULT: "00", ...fields }).toString());
  router.use((_, response, next) =>
    callWeather("ostwick", side, response, next, (broken) =>
      broken.type("application/x-www-form-urlencoded").send("RESULT=E99&MESSAGE=Something+broke+at+Ostwick"),
    ),
  );
  const outletOf = (request: Request): Account => {
    const fields = (request.body ?? {}) as Fields;
    const id = fields.OUTLET ?? "";
    const account = house.account(side, id);
    if (!account) {
      const group = books.accounts.find((one) => one.keys.group === id);
      if (group) throw new Fault(200, "E21", `${id} is a terminal group, not an outlet`);
      throw new Fault(200, "E20", `There is no outlet ${id} on the ${side} side`);
    }
    if (!digestHolds(account.keys.passphrase ?? "", fields))
      throw new Fault(200, "E10", "The digest does not fit the fields");
    const age = Math.abs(house.now().getTime() - Date.parse(fields.STAMP ?? ""));
    if (!(age < 900_000)) throw new Fault(200, "E11", "STAMP is more than fifteen minutes away");
    return account;
  };
  const billOf = (request: Request, account: Account): Bill => {
    const bill = books.bills[(request.body as Fields).ORDER ?? ""];
    if (bill?.account !== account.id) throw new Fault(200, "E40", "There is no such order");
    return bill;
  };
  const on = (path: string, work: (account: Account, fields: Fields, request: Request) => Fields) =>
    router.post(path, (request, response) =>
      answer(response, work(outletOf(request), request.body as Fields, request)),
    );

  on("/outlet", (account) => ({
    OUTLET: account.id,
    NAME: account.name,
    COUNTRY: account.land,
    OPEN: account.review === "open" ? "Y" : "N",
    REVIEW: account.review.toUpperCase(),
    ...indexed(
      account.coins.map((one) => ({ CHARGED: one.coin, SETTLED: one.pays })),
      "CURRENCY",
    ),
    ...indexed(
      Object.entries(account.ways).map(([name, isOn]) => ({ NAME: name, ON: isOn ? "Y" : "N" })),
      "NETWORK",
    ),
  }));
  on("/order", (account, fields) => {
    if (account.review !== "open") throw new Fault(200, "E31", "The outlet is not open");
    const known = house.billsFor(side, account.id, fields.YOURREF)[0];
    if (known) return orderFields(house, side, known);
    const { CURRENCY = "", YOURREF } = fields;
    if (!account.coins.some((one) => one.coin === CURRENCY))
      throw new Fault(200, "E33", `The outlet takes no ${CURRENCY}`);
    const sum = fromDecimal(fields.AMOUNT, CURRENCY);
    if (sum === null || !text(YOURREF, 60)) throw new Fault(200, "E12", "AMOUNT or YOURREF is malformed");
    if (sum < 100) throw new Fault(200, "E34", "The least amount is 1.00");
    const bill = house.open(
      side,
      {
        account: account.id,
        ref: YOURREF,
        sum,
        coin: CURRENCY,
        takeNow: fields.SETTLE !== "LATER",
        goBackTo: fields.RETURN ?? null,
        way: "",
      },
      `OW${randomText(10).toUpperCase()}`,
    );
    tell(post, house, side, bill);
    return orderFields(house, side, bill);
  });
  on("/order/state", (account, _, request) => orderFields(house, side, billOf(request, account)));
  on("/order/search", (account, { YOURREF }) => {
    const mine = house.billsOf(side, account.id, YOURREF);
    return indexed(
      mine
        .slice(-100)
        .reverse()
        .map((one) => orderFields(house, side, one)),
      "ORDERS",
    );
  });
  const says: Record<Cannot, Fault> = {
    "wrong-state": new Fault(200, "E41", "The order's state does not allow that"),
    "too-much": new Fault(200, "E42", "That is more than there is"),
  };
  const move = (path: string, work: (bill: Bill, sum: number) => Cannot | undefined) =>
    on(path, (account, fields, request) => {
      if (path === "/order/credit" && account.keys.refunds !== "on")
        throw new Fault(200, "E30", "Credits by program are switched off for this outlet");
      const bill = billOf(request, account);
      const key = `${account.id}:${fields.ONCE ?? ""}`;
      if (fields.ONCE && books.onces[key]?.no === bill.no) return orderFields(house, side, bill);
      const cannot = work(bill, fromDecimal(fields.AMOUNT, bill.coin) ?? 0);
      if (cannot) throw says[cannot];
      if (fields.ONCE) books.onces[key] = { no: bill.no, said: path };
      tell(post, house, side, bill);
      return orderFields(house, side, bill);
    });
  move("/order/settle", (bill, sum) => moves.take(bill, sum));
  move("/order/reverse", (bill) => moves.drop(bill));
  move("/order/credit", (bill, sum) => moves.giveBack(bill, sum));
  const mine = (account: Account) =>
    keptOf(house, side).statements.filter((one) => one.account === account.id);
  on("/statements", (account, { SKIP = "0" }) =>
    indexed(
      mine(account)
        .slice(Number(SKIP) || 0)
        .slice(0, 50)
        .map(({ no, coin, sum, day }) => ({ NO: no, CURRENCY: coin, SUM: decimal(sum, coin), DAY: day })),
      "STATEMENTS",
    ),
  );
  router.post("/statement", (request, response) => {
    const statement = mine(outletOf(request)).find(({ no }) => no === (request.body as Fields).NO);
    if (!statement) throw new Fault(200, "E43", "There is no such statement");
    response.type("text/csv").send(fileOf(statement));
  });
  if (side === "sandbox")
    on("/sandbox/act", (account, fields, request) => {
      const bill = billOf(request, account);
      const [manner = "", proven] = (fields.DO ?? "").split(":");
      if (bill.stand !== "open" && (bill.stand !== "refused" || manner === "leave"))
        throw says["wrong-state"];
      if (manner === "leave") {
        moves.end(bill, "left");
        tell(post, house, side, bill);
      } else chargeCard(post, house, side, bill, manner as Card["manner"], proven === "fail" ? false : true);
      return orderFields(house, side, bill);
    });
  router.use(() => {
    throw new Fault(200, "E01", "There is nothing at this address");
  });
  router.use((error: Error, _: Request, response: Response, __: NextFunction) => {
    const code = error instanceof Fault ? error.code : "E99";
    answer(response, { RESULT: code, MESSAGE: error.message });
  });
  return router;
}
