import { createHmac, timingSafeEqual } from "node:crypto";
import { type Card, cardsOf } from "../../kit/cards";
import { type Account, type Bill, type House, moves, randomText, type SideName } from "../../kit/house";
import type { Post } from "../../kit/notes";

const outlet = (
  side: SideName,
  number: number,
  rest: Pick<Account, "name" | "land" | "coins" | "review">,
): Account => {
  const head = side === "sandbox" ? "40" : "41";
  return {
    id: `${head}${String(118_236 + number * 977)}`,
    ...rest,
    ways: { Norda: true, Celesta: true, Umbra: true },
    keys: {
      passphrase: `${side === "sandbox" ? "try" : "real"}~${randomText(24)}`,
      // Printed beside the outlet ID, and easily taken for it.
      merchant: `2760${String(10_377_002 + number * 31)}${side === "sandbox" ? "000" : "911"}`,
      group: `${head}${String(900_100 + number)}`,
      refunds: "on",
    },
    address: "",
  };
};

export const ostwickOutlets = (side: SideName): Account[] => [
  outlet(side, 1, {
    name: "Luvwinkel Drachenbau",
    land: "DE",
    coins: [
      { coin: "EUR", pays: "EUR" },
      { coin: "GBP", pays: "EUR" },
    ],
    review: "open",
  }),
  outlet(side, 2, {
    name: "Luvwinkel Kites Ltd",
    land: "GB",
    coins: [{ coin: "GBP", pays: "GBP" }],
    review: side === "live" ? "none" : "open",
  }),
];

export const ostwickCards = (side: SideName): Card[] => cardsOf(side === "sandbox" ? "01" : "78");

/** Ostwick's digest: every field but the digest, sorted by name, NAME=value, joined by a bar, HMAC-SHA-256 in hex. */
export function digestOf(passphrase: string, fields: Record<string, string>): string {
  const names = Object.keys(fields).filter((name) => name !== "DIGEST");
  const said = names.sort().map((name) => `${name}=${fields[name]}`);
  return createHmac("sha256", passphrase).update(said.join("|")).digest("hex");
}
export const digestHolds = (passphrase: string, fields: Record<string, string>) => {
  const [expected, given] = [Buffer.from(digestOf(passphrase, fields)), Buffer.from(fields.DIGEST ?? "")];
  return expected.length === given.length && timingSafeEqual(expected, given);
};

/** What a card leads to, by Ostwick's own codes. */
export const refusals: Partial<Record<Card["manner"], string>> = {
  short: "D116",
  expired: "D101",
  code: "D129",
  fraud: "D102",
  no: "D100",
};
export const REFUSED_BY_HOLDER = "D180";

/** Tells the outlet's address that an order moved. */
export function tell(post: Post, house: House, side: SideName, bill: Bill) {
  bill.movedAt = house.now().toISOString();
  bill.turn = (bill.turn ?? 1) + 1;
  const account = house.account(side, bill.account);
  if (account) post.send(side, account.id, account.address, "ORDER", { no: bill.no });
  house.changed();
}

/** What a card does with an order that waits. `proven`: the card holder answered the issuer's question. */
export function chargeCard(
  post: Post,
  house: House,
  side: SideName,
  bill: Bill,
  manner: Card["manner"],
  proven?: boolean,
) {
  // Who was refused may try another card on the same page.
  if (bill.stand === "refused") {
    bill.stand = "open";
    bill.refusal = null;
  }
  if (bill.stand !== "open") return;
  if (manner === "error") moves.end(bill, "broken");
  else if (manner === "ask" && proven === false) moves.refuse(bill, REFUSED_BY_HOLDER);
  else if (refusals[manner]) moves.refuse(bill, refusals[manner] ?? "");
  else moves.grant(bill);
  tell(post, house, side, bill);
}
