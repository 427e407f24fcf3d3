import type { Card } from "../../kit/cards";
import { type Bill, decimal, moves, randomText, type SideName } from "../../kit/house";
import type { Post } from "../../kit/notes";
import { Fault } from "../../kit/provider";
import { ring } from "./bells";
import type { Complaint, Karvello, Slip } from "./books";

export const LEAST = 50;
/** When the cards of this world end. */
const CARDS_END = "2039-09-30";
const RENEWED_END = "2044-09-30";

/** What an issuer's refusal says, by its code. */
const refusals: Record<string, string> = {
  R51: "Not enough on the account",
  R54: "Card past its date",
  R82: "Code does not fit the card",
  R59: "Looks like misuse",
  R05: "Issuer does not honour",
  R1A: "The card holder was not recognised",
  R65: "The issuer wants to ask the card holder first",
  X99: "Processing error",
};
/** What issuers say of a charge that the holder is not there for. */
const refusalLater: Partial<Record<Card["manner"], string>> = { "short-later": "R51", "asks-later": "R65" };
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

/** What of a slip is still held. */
const leftOf = (bill: Bill, { let_go }: Slip) =>
  bill.held - bill.taken - let_go.reduce((sum, one) => sum + one.sum, 0);

function standOf(bill: Bill, slip: Slip): string {
  const { stand, back, taken, held } = bill;
  if (slip.complaints.some((one) => one.stand === "open" || one.stand === "answered")) return "complained";
  if (stand === "paid" && held === 0) return "card_good";
  if (stand !== "paid") return { open: "asking", refused: "turned_down" }[stand as string] ?? stand;
  if (back > 0) return back === taken ? "given_back" : "part_given_back";
  return taken < held ? "part_taken" : "taken";
}

/** A payment as Karvello writes it. Sums in minor units. */
export function slipFrom({ karvello, side }: Pick<Counter, "karvello" | "side">, bill: Bill) {
  const slip = karvello.slipOf(side, bill);
  const { card, statement, takes, let_go, complaints, fees, watch, held_until } = slip;
  return {
    no: bill.no,
    your_ref: bill.ref,
    sum: bill.sum,
    coin: bill.coin,
    stand: standOf(bill, slip),
    turn: bill.turn ?? 1,
    held: bill.held,
    taken: bill.taken,
    given_back: bill.back,
    takes,
    let_go,
    backs: slip.backs.map(({ settlesAt: _, ...back }) => back),
    complaints,
    fees,
    watch,
    check: slip.check,
    held_until,
    lapsed: bill.stand === "lapsed",
    refusal: bill.refusal ? { code: bill.refusal, text: refusals[bill.refusal] ?? "" } : null,
    // The issuers ask on a host of their own, and want to be told about what.
    ask_at: bill.stand === "open" ? issuerAddress(karvello, side) : null,
    ask_with:
      bill.stand === "open" ? { slip: bill.no, sum: `${decimal(bill.sum, bill.coin)} ${bill.coin}` } : null,
    card: { network: card.network, last: card.number.slice(-4) },
    kept_card: slip.kept ? { ...cardFrom(slip.kept, card), mark: slip.mark ?? null } : null,
    statement,
    ...slip.told,
    made_at: bill.madeAt,
    moved_at: bill.movedAt,
  };
}

/** Where issuers ask: the same machine under its other name. */
const issuerAddress = (karvello: Karvello, side: SideName) =>
  karvello.address(side, "/ask").replace("//localhost:", "//127.0.0.1:");

export interface SlipOrder {
  sum: number;
  coin: string;
  /** A token that pays once, or the number of a card that is kept. */
  token: string;
  kept: string;
  keep: boolean;
  /** Who asks for it: the holder, who is there, or the shop by itself. */
  by: "holder" | "shop";
  /** Whether the holder has agreed to be charged again without being there. */
  again: boolean;
  /** The network's mark of the slip in which they agreed. */
  mark: string;
  take: "now" | "later";
  ask: "issuer" | "always" | "spare";
  statement: string;
  told: NonNullable<Slip["told"]>;
  your_ref: string;
  go_back_to: string | null;
}

/** Makes a slip and lets the card do what it does. */
export function makeSlip(counter: Counter, account: string, order: SlipOrder): Bill {
  const { karvello, side } = counter;
  const card = order.kept ? keptCard(counter, account, order) : cardOfToken(counter, account, order);
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
  karvello.drawer(side).slips[bill.no] = {
    card,
    statement: order.statement,
    ...(Object.keys(order.told).length > 0 && { told: order.told }),
    ...(order.keep && { keep: true }),
    ...(order.again && { again: true, ...(order.kept && { kept: order.kept }) }),
    takeNow,
    takes: [],
    let_go: [],
    backs: [],
    complaints: [],
    fees: [],
    watch: card.manner === "watched" && order.sum > 0 ? "looking" : null,
    held_until: null,
    check: order.ask === "spare" ? { how: "spared", bears: "shop" } : { how: "unasked", bears: "shop" },
  };
  const alone = order.by === "shop";
  const refusal = (alone ? refusalLater[card.manner] : undefined) ?? refusalOf[card.manner];
  // Nobody is there to be asked: what the holder showed when they agreed has to do.
  if (alone && !refusal && card.manner !== "error") hold(counter, bill);
  else if (card.manner === "ask" || (order.ask === "always" && card.manner === "good"))
    tell(counter, bill, "slip.asking");
  else if (card.manner === "error") {
    moves.end(bill, "broken");
    bill.refusal = "X99";
    tell(counter, bill, "slip.broken");
  } else if (refusal) refuse(counter, bill, refusal);
  else hold(counter, bill);
  return bill;
}

/** The card that is kept under a number, as long as it is. */
function keptCard({ karvello, side }: Counter, account: string, order: SlipOrder): Card {
  const kept = karvello.drawer(side).kept[order.kept];
  const card = karvello.cards(side).find((one) => one.number === kept?.number);
  if (kept?.account !== account || !card) throw new Fault(422, "K-435", "This card is kept no longer");
  if (order.by === "shop" && (kept.mark === undefined || kept.mark !== order.mark))
    throw new Fault(422, "K-436", "Its holder has not agreed to be charged without being there");
  return card;
}

/** A kept card as Karvello writes it. */
const cardFrom = (no: string, { network, number }: Card, ends = CARDS_END, stand = "kept") => ({
  ...{ no, stand, ends },
  shown_as: `${network} …${number.slice(-4)}`,
});

/** The holder's bank sends a new card in a kept one's place, or takes it away; false where none is kept. */
export function renew(counter: Counter, account: string, no: string, what: "replaced" | "gone"): boolean {
  const { karvello, post, side } = counter;
  const { kept } = karvello.drawer(side);
  const known = kept[no];
  const cards = karvello.cards(side);
  const old = cards.find((one) => one.number === known?.number);
  if (known?.account !== account || !old) return false;
  if (what === "gone") {
    delete kept[no];
    ring(post, side, account, "card.changed", cardFrom(no, old, CARDS_END, "gone"));
  } else {
    const next = cards.find((one) => one.manner === old.manner && one.number !== old.number) ?? old;
    kept[no] = { ...known, number: next.number, ends: RENEWED_END };
    ring(post, side, account, "card.changed", cardFrom(no, next, RENEWED_END));
  }
  karvello.changed();
  return true;
}

/** Forgets a card; false where there is none. */
export function forget({ karvello, side }: Counter, account: string, no: string): boolean {
  const { kept } = karvello.drawer(side);
  if (kept[no]?.account !== account) return false;
  delete kept[no];
  karvello.changed();
  return true;
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
  const slip = counter.karvello.slipOf(counter.side, bill);
  moves.grant(bill);
  // A slip for nothing asks whether the card is good; there is nothing to hold or to take.
  const good = bill.sum === 0;
  if (good) bill.stand = "paid";
  else slip.held_until = new Date(counter.karvello.now().getTime() + HELD_FOR).toISOString();
  const { kept } = counter.karvello.drawer(counter.side);
  if (slip.keep && !slip.kept) {
    slip.kept = `kc_${randomText(16)}`;
    kept[slip.kept] = { number: slip.card.number, account: bill.account };
  }
  const agreed = slip.again && slip.kept ? kept[slip.kept] : undefined;
  if (agreed) agreed.mark = slip.mark = `${slip.card.network.slice(0, 2).toUpperCase()}${randomText(10)}`;
  tell(counter, bill, good ? "slip.card_good" : "slip.held");
  if (!good && slip.takeNow && slip.watch !== "looking") take(counter, bill, bill.sum, true);
}

function refuse(counter: Counter, bill: Bill, code: string) {
  moves.refuse(bill, code);
  tell(counter, bill, "slip.turned_down");
}

function tell(counter: Counter, bill: Bill, what: string) {
  const { karvello, post, side } = counter;
  bill.movedAt = karvello.now().toISOString();
  bill.turn = (bill.turn ?? 1) + 1;
  ring(post, side, bill.account, what, slipFrom(counter, bill));
  karvello.changed();
}

const wrongState = ({ karvello, side }: Counter, bill: Bill) =>
  new Fault(409, "K-424", `A slip that is ${standOf(bill, karvello.slipOf(side, bill))} cannot do that`);
const nth = (bill: Bill, letter: string, list: readonly unknown[]) => `${bill.no}${letter}${list.length + 1}`;

/** The shopper's answer to the issuer's question. */
export function answer(counter: Counter, bill: Bill, pass: boolean) {
  if (bill.stand !== "open") throw wrongState(counter, bill);
  const slip = counter.karvello.slipOf(counter.side, bill);
  // Whoever insists on asking bears what comes of it.
  slip.check = pass ? { how: "shown", bears: "holder_bank" } : { how: "not_shown", bears: "shop" };
  if (pass) hold(counter, bill);
  else refuse(counter, bill, "R1A");
}

/** Takes some of what is held; `last` lets go of the rest. */
export function take(counter: Counter, bill: Bill, sum: number, last: boolean) {
  const slip = counter.karvello.slipOf(counter.side, bill);
  const left = leftOf(bill, slip);
  if ((bill.stand !== "held" && bill.stand !== "paid") || left === 0) throw wrongState(counter, bill);
  if (sum > left) throw new Fault(422, "K-422", `Only ${left} is held`);
  slip.takes.push({ no: nth(bill, "T", slip.takes), sum });
  slip.fees.push({ no: nth(bill, "F", slip.fees), sum: feeOf(sum), coin: bill.coin });
  bill.taken += sum;
  bill.stand = "paid";
  if (last && left > sum) slip.let_go.push({ no: nth(bill, "L", slip.let_go), sum: left - sum });
  tell(counter, bill, "slip.taken");
}

/** What Karvello keeps of a sum: 1.35 percent and 22, in minor units. */
const feeOf = (sum: number) => Math.round((sum * 135) / 10_000) + 22;

/** Lets some of what is held go. */
export function letGo(counter: Counter, bill: Bill, sum: number) {
  const slip = counter.karvello.slipOf(counter.side, bill);
  const left = leftOf(bill, slip);
  if ((bill.stand !== "held" && bill.stand !== "paid") || left === 0) throw wrongState(counter, bill);
  if (sum > left) throw new Fault(422, "K-422", `Only ${left} is held`);
  slip.let_go.push({ no: nth(bill, "L", slip.let_go), sum });
  if (bill.taken === 0 && sum === left) bill.stand = "dropped";
  tell(counter, bill, "slip.let_go");
}

export function drop(counter: Counter, bill: Bill) {
  const slip = counter.karvello.slipOf(counter.side, bill);
  const left = leftOf(bill, slip);
  if (moves.drop(bill)) throw wrongState(counter, bill);
  if (left > 0) slip.let_go.push({ no: nth(bill, "L", slip.let_go), sum: left });
  tell(counter, bill, "slip.dropped");
}

/** What is held ends by itself when nobody took it in time. */
export function lapse(counter: Counter, bill: Bill) {
  if (bill.stand !== "held") throw wrongState(counter, bill);
  bill.stand = "lapsed";
  tell(counter, bill, "slip.lapsed");
}

/** Gives back at once, or later where the card's bank takes its time. */
export function giveBack(counter: Counter, bill: Bill, sum: number) {
  const slip = counter.karvello.slipOf(counter.side, bill);
  const { card, backs } = slip;
  const asked = backs.reduce((total, one) => total + (one.stand === "came_to_nothing" ? 0 : one.sum), 0);
  if (bill.stand !== "paid" || asked >= bill.taken || standOf(bill, slip) === "complained")
    throw wrongState(counter, bill);
  if (asked + sum > bill.taken)
    throw new Fault(422, "K-423", `Only ${bill.taken - asked} is left to give back`);
  const waits = card.manner === "slow-back" || card.manner === "no-back";
  backs.push({
    no: nth(bill, "B", backs),
    sum,
    stand: waits ? "under_way" : "done",
    settlesAt: waits ? counter.karvello.now().getTime() + BANK_TAKES : null,
  });
  if (waits) setTimeout(() => settle(counter, bill), BANK_TAKES + 50).unref();
  else bill.back += sum;
  tell(counter, bill, "slip.given_back");
}

/** How long a slow bank takes, and how long money is held, milliseconds. */
const BANK_TAKES = 1_200;
const HELD_FOR = 7 * 86_400_000;

/** Ends what the card's bank has decided on by now. */
export function settle(counter: Counter, bill: Bill) {
  const slip = counter.karvello.slipOf(counter.side, bill);
  for (const back of slip.backs) {
    if (back.settlesAt === null || back.settlesAt > counter.karvello.now().getTime()) continue;
    back.settlesAt = null;
    back.stand = slip.card.manner === "no-back" ? "came_to_nothing" : "done";
    if (back.stand === "done") bill.back += back.sum;
    tell(counter, bill, "slip.given_back");
  }
}

/** Ends the look at a slip for misuse. */
export function endWatch(counter: Counter, bill: Bill, watch: "clear" | "stopped") {
  const slip = counter.karvello.slipOf(counter.side, bill);
  if (slip.watch !== "looking") throw wrongState(counter, bill);
  slip.watch = watch;
  tell(counter, bill, "slip.watched");
  if (watch === "stopped" && bill.stand === "held") drop(counter, bill);
  if (watch === "clear" && slip.takeNow) take(counter, bill, bill.sum, true);
}

/** A card holder's bank asks about a slip, or has decided: for the shop, or for the card holder. */
export function complain(
  counter: Counter,
  bill: Bill,
  stand: Complaint["stand"],
  sum = bill.taken - bill.back,
) {
  const { complaints } = counter.karvello.slipOf(counter.side, bill);
  const open = complaints.find((one) => one.stand === "open" || one.stand === "answered");
  if (stand === "open") {
    if (bill.stand !== "paid" || open || sum <= 0) throw wrongState(counter, bill);
    const answerBy = new Date(counter.karvello.now().getTime() + HELD_FOR).toISOString();
    complaints.push({
      ...{ no: nth(bill, "C", complaints), round: complaints.length + 1, sum, stand },
      ...{ why: "not recognised", answer_by: answerBy, day: counter.karvello.now().toISOString() },
    });
  } else {
    if (!open) throw wrongState(counter, bill);
    open.stand = stand;
    open.day = counter.karvello.now().toISOString();
  }
  tell(counter, bill, "slip.complained");
}

/** The shop's word on a complaint that is open. */
export function reply(
  counter: Counter,
  bill: Bill,
  no: string,
  stand: "answered" | "for_holder",
  papers: string[] = [],
) {
  const complaint = counter.karvello.slipOf(counter.side, bill).complaints.find((one) => one.no === no);
  if (!complaint) throw new Fault(404, "K-412", "There is no such complaint");
  if (complaint.stand !== "open")
    throw new Fault(409, "K-424", `A complaint that is ${complaint.stand} cannot be replied to`);
  complaint.stand = stand;
  complaint.day = counter.karvello.now().toISOString();
  complaint.papers = papers;
  tell(counter, bill, "slip.complained");
}
