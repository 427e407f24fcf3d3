import type { Request, Router } from "express";
import { type Card, cardsOf } from "../../kit/cards";
import {
  type Account,
  type Bill,
  type Cannot,
  type House,
  moves,
  randomText,
  type SideName,
} from "../../kit/house";
import { Fault, text } from "../../kit/provider";
import type { Choice } from "../../kit/shopper";

/** Cards in the shopper's device: Thumbra's own ranges, of the networks that it takes. */
export const deviceCards = (side: SideName): Card[] =>
  cardsOf(side === "sandbox" ? "02" : "79").filter(
    ({ network, manner }) => network !== "Umbra" && ["good", "short", "no", "error"].includes(manner),
  );

/** What the shopper may do on the device with a request. */
export const deviceChoices = (side: SideName): Choice[] => [
  ...deviceCards(side).map((card) => ({
    does: card.token,
    words: `Thumb on it: ${card.network} …${card.number.slice(-4)} (${card.says})`,
  })),
  { does: "refuse", words: "No, refuse it" },
];

interface Sealed {
  ask: string;
  number: string;
  used: boolean;
}
const sealedOf = (house: House, side: SideName): Record<string, Sealed> => {
  const drawer = house.books(side).drawer as { sealed?: Record<string, Sealed> };
  return (drawer.sealed ??= {});
};

/** The token that was sealed for a request; null where none was. */
export const sealFor = (house: House, side: SideName, ask: string): string | null =>
  Object.entries(sealedOf(house, side)).find(([, one]) => one.ask === ask)?.[0] ?? null;

/** The shopper's thumb, or the refusal: a press seals the card into a token for this one request. */
export const decide =
  (house: House, side: SideName) =>
  (bill: Bill, does: string): Cannot | undefined => {
    bill.movedAt = house.now().toISOString();
    bill.turn = (bill.turn ?? 1) + 1;
    house.changed();
    if (does === "refuse") return moves.refuse(bill, "thumb_withheld");
    const card = deviceCards(side).find((one) => one.token === does);
    if (!card || !house.account(side, bill.account)?.ways[card.network]) return "wrong-state";
    const cannot = moves.grant(bill);
    if (cannot) return cannot;
    bill.way = `${card.network} …${card.number.slice(-4)}`;
    const token = `thumb.${side === "sandbox" ? "s" : "l"}.${randomText(32)}`;
    sealedOf(house, side)[token] = { ask: bill.no, number: card.number, used: false };
    return undefined;
  };

/**
 * Opens a token for a card provider, once and for the sum that it was pressed for. Stands for the networks' own
 * exchange, which a shop never sees. A text says why it cannot be opened.
 */
export function openToken(
  house: House,
  side: SideName,
  token: string,
  sum: number,
  coin: string,
): Card | string {
  const sealed = sealedOf(house, side)[token];
  const bill = sealed && house.books(side).bills[sealed.ask];
  const card = deviceCards(side).find((one) => one.number === sealed?.number);
  if (!sealed || !bill || !card) return "This token is not known";
  if (sealed.used) return "This token has been used";
  if (bill.sum !== sum || bill.coin !== coin) return "This token was pressed for another sum";
  sealed.used = true;
  house.changed();
  return card;
}

const stands: Partial<Record<Bill["stand"], string>> = {
  open: "waiting",
  paid: "pressed",
  refused: "refused",
};

const askOf = (house: House, side: SideName, bill: Bill) => ({
  ask: bill.no,
  ref: bill.ref,
  sum: bill.sum,
  coin: bill.coin,
  stand: stands[bill.stand] ?? "over",
  at: bill.stand === "open" ? house.address(side, `/press/${bill.no}`) : null,
  sealed: sealFor(house, side, bill.no),
});

/** Requests to the device, below a seller whose key has been looked at. */
export function askRoutes(
  router: Router,
  house: House,
  side: SideName,
  seller: (request: Request) => Account,
  knows: (account: Account, domain: string) => boolean,
) {
  const billOf = (request: Request): Bill => {
    const bill = house.books(side).bills[String(request.params.ask)];
    if (bill?.account !== seller(request).id) throw new Fault(404, "ask-unknown", "There is no such request");
    return bill;
  };
  router.post("/sellers/:id/asks", (request, response) => {
    const account = seller(request);
    const { sum, coin, ref, domain, back_to } = request.body as Record<string, unknown>;
    if (account.review !== "open") throw new Fault(403, "seller-closed", "The seller is not open");
    if (!text(domain, 200) || !knows(account, domain))
      throw new Fault(403, "domain-unseen", `The file was not found on ${String(domain)} yet`);
    if (!account.coins.some((one) => one.coin === coin))
      throw new Fault(422, "coin-unknown", `The seller takes no ${String(coin)}`);
    if (!Number.isSafeInteger(sum) || (sum as number) < 1 || !text(ref, 100))
      throw new Fault(400, "unreadable", "sum or ref is malformed");
    // The same reference is the same request, however often it is made.
    const known = house.billsFor(side, account.id, ref)[0];
    const made = {
      account: account.id,
      ref,
      sum: sum as number,
      coin: coin as string,
      takeNow: true,
      goBackTo: text(back_to, 500) ? back_to : null,
      way: "",
    };
    const bill = known ?? house.open(side, made, `TA${randomText(12)}`);
    response.status(known ? 200 : 201).json(askOf(house, side, bill));
  });
  router.get(
    "/sellers/:id/asks/:ask",
    (request, response) => void response.json(askOf(house, side, billOf(request))),
  );
  router.delete("/sellers/:id/asks/:ask", (request, response) => {
    const bill = billOf(request);
    if (moves.end(bill, "left")) throw new Fault(409, "too-late", "The request has been decided");
    house.changed();
    response.json(askOf(house, side, bill));
  });
  if (side === "sandbox")
    router.post("/sellers/:id/asks/:ask/thumb", (request, response) => {
      const bill = billOf(request);
      if (decide(house, side)(bill, String((request.body as { does?: string }).does)))
        throw new Fault(409, "too-late", "That cannot be done with this request now");
      response.json(askOf(house, side, bill));
    });
}
