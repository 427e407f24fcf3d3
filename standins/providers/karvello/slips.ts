import { randomText, type Karvello, type SideName, type Slip } from "./books";
import { type Card } from "../../kit/cards";
import { ring } from "./bells";

/** An answer that is a fault, with Karvello's own code. */
export class Fault extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    text: string,
  ) {
    super(text);
  }
}

export const LEAST = 50;

const refusals: Partial<Record<Card["manner"], { code: string; text: string }>> = {
  short: { code: "R51", text: "Not enough on the account" },
  expired: { code: "R54", text: "Card past its date" },
  code: { code: "R82", text: "Code does not fit the card" },
  fraud: { code: "R59", text: "Looks like misuse" },
  no: { code: "R05", text: "Issuer does not honour" },
};

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
export function makeSlip(karvello: Karvello, side: SideName, account: string, order: SlipOrder): Slip {
  const books = karvello.books(side);
  const card = cardOfToken(karvello, side, account, order);
  const no = `S${randomText(12).toUpperCase()}`;
  const at = new Date(karvello.now()).toISOString();
  const slip: Slip = {
    no,
    your_ref: order.your_ref,
    sum: order.sum,
    coin: order.coin,
    stand: "asking",
    held: 0,
    taken: 0,
    given_back: 0,
    refusal: null,
    ask_at: null,
    card: { network: card.network, last: card.number.slice(-4) },
    statement: order.statement,
    made_at: at,
    moved_at: at,
  };
  books.slips[no] = slip;
  books.backs[no] = {
    account,
    takeNow: order.take === "now",
    manner: card.manner,
    goBackTo: order.go_back_to,
  };
  const asks = card.manner === "ask" || (order.ask === "always" && card.manner === "good");
  if (asks) {
    slip.ask_at = `${karvello.origin()}/karvello/${side}/ask/${no}`;
    tell(karvello, side, slip, "slip.asking");
  } else if (card.manner === "error") {
    slip.stand = "broken";
    slip.refusal = { code: "X99", text: "Processing error" };
    tell(karvello, side, slip, "slip.broken");
  } else if (refusals[card.manner]) {
    slip.stand = "turned_down";
    slip.refusal = refusals[card.manner] ?? null;
    tell(karvello, side, slip, "slip.turned_down");
  } else hold(karvello, side, slip);
  return slip;
}

function cardOfToken(
  karvello: Karvello,
  side: SideName,
  account: string,
  { token, sum, coin }: SlipOrder,
): Card {
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
  const kept = karvello.books(side).tokens[token];
  if (!kept || kept.account !== account) throw new Fault(422, "K-430", "This token is not known");
  if (kept.used) throw new Fault(422, "K-431", "This token has been used");
  const card = cards.find((one) => one.number === kept.number);
  if (!card) throw new Fault(422, "K-430", "This token is not known");
  kept.used = true;
  return card;
}

function hold(karvello: Karvello, side: SideName, slip: Slip) {
  slip.stand = "held";
  slip.held = slip.sum;
  tell(karvello, side, slip, "slip.held");
  if (!karvello.books(side).backs[slip.no]?.takeNow) return;
  slip.stand = "taken";
  slip.taken = slip.sum;
  tell(karvello, side, slip, "slip.taken");
}

function tell(karvello: Karvello, side: SideName, slip: Slip, what: string) {
  slip.moved_at = new Date(karvello.now()).toISOString();
  const account = karvello.books(side).backs[slip.no]?.account ?? "";
  ring(karvello, side, account, what, { tell: what, at: slip.moved_at, about: { ...slip } });
}

const must = (slip: Slip, ...stands: Slip["stand"][]) => {
  if (!stands.includes(slip.stand))
    throw new Fault(409, "K-424", `A slip that is ${slip.stand} cannot do that`);
};

/** The shopper's answer to the issuer's question. */
export function answer(karvello: Karvello, side: SideName, slip: Slip, pass: boolean) {
  must(slip, "asking");
  slip.ask_at = null;
  if (pass) return hold(karvello, side, slip);
  slip.stand = "turned_down";
  slip.refusal = { code: "R1A", text: "The card holder was not recognised" };
  tell(karvello, side, slip, "slip.turned_down");
}

export function take(karvello: Karvello, side: SideName, slip: Slip, sum: number) {
  must(slip, "held");
  if (sum > slip.held) throw new Fault(422, "K-422", `Only ${slip.held} is held`);
  slip.taken = sum;
  slip.stand = sum < slip.held ? "part_taken" : "taken";
  tell(karvello, side, slip, "slip.taken");
}

export function drop(karvello: Karvello, side: SideName, slip: Slip) {
  must(slip, "held", "asking");
  slip.stand = "dropped";
  slip.ask_at = null;
  tell(karvello, side, slip, "slip.dropped");
}

export function giveBack(karvello: Karvello, side: SideName, slip: Slip, sum: number) {
  must(slip, "taken", "part_taken", "part_given_back");
  if (slip.given_back + sum > slip.taken) {
    throw new Fault(422, "K-423", `Only ${slip.taken - slip.given_back} is left to give back`);
  }
  slip.given_back += sum;
  slip.stand = slip.given_back === slip.taken ? "given_back" : "part_given_back";
  tell(karvello, side, slip, "slip.given_back");
}
