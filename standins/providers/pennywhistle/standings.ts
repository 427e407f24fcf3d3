import type { Request, Router } from "express";
import {
  type Account,
  type Bill,
  type Cannot,
  type House,
  moves,
  randomText,
  type SideName,
} from "../../kit/house";
import type { Post } from "../../kit/notes";
import { Fault, text } from "../../kit/provider";
import { drawerOf, shownAs, type Standing } from "./purses";

/** What a payer may do, and what it leads to. */
export const payerDoes: Record<string, (bill: Bill) => Cannot | undefined> = {
  agree: (bill) => moves.grant(bill),
  "agree-then-empty": (bill) => moves.grant(bill),
  "agree-then-asks": (bill) => moves.grant(bill),
  empty: (bill) => moves.refuse(bill, "purse_empty"),
  refuse: (bill) => moves.refuse(bill, "payer_refused"),
  blocked: (bill) => moves.refuse(bill, "purse_blocked"),
  leave: (bill) => moves.end(bill, "left"),
  broken: (bill) => moves.end(bill, "broken"),
};
const laterOf: Record<string, Standing["later"]> = { "agree-then-empty": "empty", "agree-then-asks": "asks" };

/** A payer's answer to a purchase. Where the merchant asked for their standing word, agreeing gives it. */
export function payerAnswers(house: House, side: SideName, bill: Bill, does: string): Cannot | undefined {
  const answer = payerDoes[does];
  const cannot = answer ? answer(bill) : "wrong-state";
  const said = drawerOf(house, side).said[bill.no];
  if (!cannot && said?.asked && (bill.stand === "held" || bill.stand === "paid")) {
    const id = `word-${randomText(12)}`;
    const purse = randomText(4);
    drawerOf(house, side).standings[id] = { account: bill.account, purse, later: laterOf[does] ?? "agreed" };
    said.given = id;
  }
  return cannot;
}

/** What a purchase says of a standing word: it asks for one, or uses one that was given, for the shopper who is there or by the shop alone. */
export interface StandingWish {
  ask: boolean;
  use: string | null;
  by: "shopper" | "shop";
}

/** Reads it. Throws a fault where it is malformed, or names a word that is over. */
export function readWish(house: House, side: SideName, account: Account, wish: unknown): StandingWish | null {
  if (wish === undefined || wish === null) return null;
  const { ask = false, use = null, by = "shopper" } = wish as Partial<StandingWish>;
  if (typeof ask !== "boolean" || (use !== null && !text(use, 40)) || (by !== "shopper" && by !== "shop"))
    throw new Fault(400, "unreadable", "standing is malformed");
  if (use !== null && drawerOf(house, side).standings[use]?.account !== account.id)
    throw new Fault(422, "word_over", "The payer’s standing word is over");
  return { ask, use, by };
}

/** Does with a purchase that has just been made what the standing word leads to. */
export function useWord(house: House, side: SideName, bill: Bill, { ask, use, by }: StandingWish): void {
  const { said, standings } = drawerOf(house, side);
  if (ask) said[bill.no] = { asked: true };
  const standing = use === null ? undefined : standings[use];
  if (!standing) return;
  const leadsTo = by === "shop" ? standing.later : "agreed";
  if (leadsTo === "agreed") moves.grant(bill);
  else moves.refuse(bill, leadsTo === "empty" ? "purse_empty" : "payer_must_agree");
}

/** Ends a standing word; where the payer ends it, every hook of the merchant is told. False where there is none. */
export function endWord(house: House, side: SideName, account: string, id: string, post?: Post): boolean {
  const { standings } = drawerOf(house, side);
  const known = standings[id];
  if (known?.account !== account) return false;
  delete standings[id];
  if (post)
    for (const hook of house.books(side).hooks.filter((one) => one.account === account))
      post.send(side, account, hook.to, "word.ended", { standing: { id, shown_as: shownAs(known.purse) } });
  house.changed();
  return true;
}

/** The merchant gives a standing word back. */
export function standingRoutes(
  router: Router,
  house: House,
  side: SideName,
  me: (request: Request) => Account,
) {
  router.delete("/standings/:id", (request, response) => {
    if (!endWord(house, side, me(request).id, request.params.id))
      throw new Fault(404, "no_such_word", "There is no such standing word");
    response.json({ ended: true });
  });
}
