import type { Card } from "../../kit/cards";
import { type Bill, moves, randomText, type SideName } from "../../kit/house";
import type { Post } from "../../kit/notes";
import { Fault } from "../../kit/provider";
import { ring } from "./bells";
import type { Karvello } from "./books";

export const LEAST = 50;

/** What an issuer's refusal says, by its code. */
const refusals: Record<string, string> = {
  R51: "Not enough on the account",
  R54: "Card past its date",
  R82: "Code does not fit the card",
  R59: "Looks like misuse",
  R05: "Issuer does not honour",
  R1A: "The card holder was not recognised",
  X99: "Processing error",
};
const refusalOf: Partial<Record<Card["manner"], string>> = {
  short: "R51",
  expired: "R54",
  code: "R82",
  fraud: "R59",
  no: "R05",
};

/** The books of one side, and the bells that are rung when something in them moves. */
export interface Counter {
  karvello: Karvello;
  post: Post;
  side: SideName;
}

function standOf({ stand, back, taken, held }: Bill): string {
  if (stand !== "paid") return { open: "asking", refused: "turned_down" }[stand as string] ?? stand;
  if (back > 0) return back === taken ? "given_back" : "part_given_back";
  return taken < held ? "part_taken" : "taken";
}

/** A payment as Karvello writes it. Sums in minor units. */
export function slipFrom({ karvello, side }: Pick<Counter, "karvello" | "side">, bill: Bill) {
  const { card, statement } = karvello.slipOf(side, bill);
  return {
    no: bill.no,
    your_ref: bill.ref,
    sum: bill.sum,
    coin: bill.coin,
    stand: standOf(bill),
    held: bill.held,
    taken: bill.taken,
    given_back: bill.back,
    refusal: bill.refusal ? { code: bill.refusal, text: refusals[bill.refusal] ?? "" } : null,
    ask_at: bill.stand === "open" ? karvello.address(side, `/ask/${bill.no}`) : null,
    card: { network: card.network, last: card.number.slice(-4) },
    statement,
    made_at: bill.madeAt,
    moved_at: bill.movedAt,
  };
}

export interface SlipOrder {
  sum: number;
  coin: string;
  token: string;
  take: "now" | "later";
  ask: "issuer" | "always";
  statement: string;
  your_ref: string;
  go_back_to: string | null;
}

/** Makes a slip and lets the card do what it does. */
export function makeSlip(counter: Counter, account: string, order: SlipOrder): Bill {
  const { karvello, side } = counter;
  const card = cardOfToken(counter, account, order);
  const bill = karvello.open(
    side,
    {
      account,
      ref: order.your_ref,
      sum: order.sum,
      coin: order.coin,
      // What is held is told before it is taken.
      takeNow: false,
      goBackTo: order.go_back_to,
      way: card.network,
    },
    `S${randomText(12).toUpperCase()}`,
  );
  const takeNow = order.take === "now";
  karvello.drawer(side).slips[bill.no] = { card, statement: order.statement, takeNow };
  const refusal = refusalOf[card.manner];
  if (card.manner === "ask" || (order.ask === "always" && card.manner === "good"))
    tell(counter, bill, "slip.asking");
  else if (card.manner === "error") {
    moves.end(bill, "broken");
    bill.refusal = "X99";
    tell(counter, bill, "slip.broken");
  } else if (refusal) refuse(counter, bill, refusal);
  else hold(counter, bill);
  return bill;
}

function cardOfToken({ karvello, side }: Counter, account: string, { token, sum, coin }: SlipOrder): Card {
  const cards = karvello.cards(side);
  if (token.startsWith("thumb.")) {
    const opened = karvello.opensToken(side, token, sum, coin);
    if (typeof opened === "string") throw new Fault(422, "K-433", opened);
    if (!karvello.takes(side, account, opened.network))
      throw new Fault(422, "K-434", `${opened.network} is switched off for this account`);
    return opened;
  }
  if (token.startsWith("play-")) {
    if (side === "live") throw new Fault(422, "K-432", "Play tokens are for the sandbox");
    const card = cards.find((one) => one.token === token);
    if (!card) throw new Fault(422, "K-430", "There is no such play token");
    return card;
  }
  const kept = karvello.drawer(side).tokens[token];
  const card = kept?.account === account ? cards.find((one) => one.number === kept.number) : undefined;
  if (!kept || !card) throw new Fault(422, "K-430", "This token is not known");
  if (kept.used) throw new Fault(422, "K-431", "This token has been used");
  kept.used = true;
  return card;
}

function hold(counter: Counter, bill: Bill) {
  moves.grant(bill);
  tell(counter, bill, "slip.held");
  if (counter.karvello.slipOf(counter.side, bill).takeNow) take(counter, bill, bill.sum);
}

function refuse(counter: Counter, bill: Bill, code: string) {
  moves.refuse(bill, code);
  tell(counter, bill, "slip.turned_down");
}

function tell(counter: Counter, bill: Bill, what: string) {
  const { karvello, post, side } = counter;
  bill.movedAt = karvello.now().toISOString();
  ring(post, side, bill.account, what, slipFrom(counter, bill));
  karvello.changed();
}

const wrongState = (bill: Bill) => new Fault(409, "K-424", `A slip that is ${standOf(bill)} cannot do that`);

/** The shopper's answer to the issuer's question. */
export function answer(counter: Counter, bill: Bill, pass: boolean) {
  if (bill.stand !== "open") throw wrongState(bill);
  if (pass) hold(counter, bill);
  else refuse(counter, bill, "R1A");
}

export function take(counter: Counter, bill: Bill, sum: number) {
  const cannot = moves.take(bill, sum);
  if (cannot === "wrong-state") throw wrongState(bill);
  if (cannot) throw new Fault(422, "K-422", `Only ${bill.held} is held`);
  tell(counter, bill, "slip.taken");
}

export function drop(counter: Counter, bill: Bill) {
  if (moves.drop(bill)) throw wrongState(bill);
  tell(counter, bill, "slip.dropped");
}

export function giveBack(counter: Counter, bill: Bill, sum: number) {
  const cannot = moves.giveBack(bill, sum);
  if (cannot === "wrong-state" || (cannot && bill.back === bill.taken)) throw wrongState(bill);
  if (cannot) throw new Fault(422, "K-423", `Only ${bill.taken - bill.back} is left to give back`);
  tell(counter, bill, "slip.given_back");
}
