import { type Account, randomText, type SideName } from "../../kit/house";
import type { Post } from "../../kit/notes";
import { ring } from "./bells";
import type { Karvello, Sending, SendingLine } from "./books";

/** What a unit of a coin is worth in another, where an account is paid in another than it charges. */
const rates: Record<string, number> = { "GBP EUR": 1.17 };
const COMPLAINT_COSTS = 1800;

/** Every line that an account is due and was not sent yet, by the coin it is paid out in. */
function dueLines(karvello: Karvello, side: SideName, account: Account): Map<string, SendingLine[]> {
  const { sent } = karvello.drawer(side);
  const due = new Map<string, SendingLine[]>();
  const add = (coin: string, line: Omit<SendingLine, "fee" | "net">, fee: number) => {
    if (sent[line.no]) return;
    const pays = account.coins.find((one) => one.coin === coin)?.pays ?? coin;
    const into = (sum: number) => Math.round(sum * (coin === pays ? 1 : (rates[`${coin} ${pays}`] ?? 1)));
    const lines = due.get(pays) ?? [];
    due.set(pays, lines);
    lines.push({ ...line, fee: into(fee), net: into(line.sum) - into(fee) });
  };
  for (const bill of karvello.billsOf(side, account.id)) {
    const { takes, backs, complaints, fees } = karvello.slipOf(side, bill);
    const of = { slip: bill.no, your_ref: bill.ref, coin: bill.coin };
    takes.forEach(({ no, sum }, i) => add(bill.coin, { no, what: "taken", sum, ...of }, fees[i]?.sum ?? 0));
    for (const { no, sum, stand } of backs)
      if (stand === "done") add(bill.coin, { no, what: "given_back", sum: -sum, ...of }, 0);
    for (const { no, sum, stand } of complaints)
      if (stand === "for_holder")
        add(bill.coin, { no, what: "complaint", sum: -sum, ...of }, COMPLAINT_COSTS);
  }
  return due;
}

/** Sends an account what it is due, one sending for each coin; returns them. */
export function sendOut(karvello: Karvello, post: Post, side: SideName, account: Account): Sending[] {
  const drawer = karvello.drawer(side);
  const made = [...dueLines(karvello, side, account)].map(([coin, lines]): Sending => {
    const no = `K${randomText(8).toUpperCase()}`;
    for (const line of lines) drawer.sent[line.no] = no;
    const sum = lines.reduce((total, line) => total + line.net, 0);
    const day = karvello.now().toISOString();
    return { no, account: account.id, coin, sum, stand: "landed", day, lines };
  });
  drawer.sendings.push(...made);
  karvello.changed();
  for (const { lines: _, ...sending } of made) ring(post, side, account.id, "sending.made", sending);
  return made;
}

/** The bank sends the newest sending of an account back, or it is sent once more. False when there is none. */
export function moveLast(
  karvello: Karvello,
  post: Post,
  { side, account }: { side: SideName; account: Account },
  stand: "bounced" | "landed",
): boolean {
  const last = karvello.drawer(side).sendings.findLast((one) => one.account === account.id);
  if (!last) return false;
  last.stand = stand;
  karvello.changed();
  const { lines: _, ...sending } = last;
  ring(post, side, account.id, "sending.made", sending);
  return true;
}

const PAGE = 50;

/** A page of a list, and where the next one begins; null after the last. */
export function pageOf<One extends { no: string }>(all: readonly One[], after: unknown) {
  const from = typeof after === "string" && after !== "" ? all.findIndex((one) => one.no === after) + 1 : 0;
  const page = all.slice(from, from + PAGE);
  return { page, more: from + PAGE < all.length ? (page.at(-1)?.no ?? null) : null };
}
