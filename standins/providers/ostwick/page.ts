import express, { type Router } from "express";
import { luhnHolds } from "../../kit/cards";
import { page } from "../../kit/dashboard";
import { decimal, type House, moves, type SideName } from "../../kit/house";
import type { Post } from "../../kit/notes";
import { type Html, html } from "../../html";
import { manner } from "./manner";
import { chargeCard, ostwickCards, tell } from "./outlets";

/** The page that shoppers are sent to: the card, and where the issuer asks, the question. */
export function pageRoutes(house: House, post: Post, side: SideName): Router {
  const router = express.Router();
  router.use(express.urlencoded({ extended: false, limit: "10kb" }));
  const show = (body: Html) => page("Pay by card · Ostwick", manner, html`<main>${body}</main>`);
  const form = (no: string, sum: string, wrong?: string) =>
    show(html`<h1>Pay ${sum}</h1>
      ${wrong && html`<p class="no" role="alert">${wrong}</p>`}
      <form method="post" action="/ostwick/${side}/page/${no}">
        <p><label>Card number<br /><input name="number" inputmode="numeric" autocomplete="cc-number" /></label></p>
        <p><label>Valid until<br /><input name="expiry" autocomplete="cc-exp" placeholder="09/39" /></label></p>
        <button name="press" value="pay">Pay ${sum}</button>
        <button name="press" value="purse" formnovalidate>Pay with Pennywhistle</button>
        <button name="press" value="leave" formnovalidate>Back to the shop</button>
      </form>`);
  const ask = (no: string, sum: string, who: "bank" | "purse") =>
    show(html`<h1>Is it you?</h1>
      <p>${who === "bank" ? "Your bank" : "Pennywhistle"} asks: shall ${sum} be paid?</p>
      <form method="post" action="/ostwick/${side}/page/${no}">
        <input type="hidden" name="asked" value="${who}" />
        <button name="press" value="yes">Yes, it is me</button>
        <button name="press" value="no">No, refuse it</button>
      </form>`);
  router.get("/:no", (request, response) => {
    const bill = house.books(side).bills[request.params.no];
    if (bill?.stand !== "open" && bill?.stand !== "refused")
      return void response.status(410).send(show(html`<p>This order is settled.</p>`));
    response.send(form(bill.no, `${decimal(bill.sum, bill.coin)} ${bill.coin}`));
  });
  router.post("/:no", (request, response) => {
    const bill = house.books(side).bills[request.params.no];
    if (!bill) return void response.status(404).send("There is no such order.");
    const { press, number = "", asked } = request.body as Record<string, string>;
    const sum = `${decimal(bill.sum, bill.coin)} ${bill.coin}`;
    const back = () => response.redirect(303, bill.goBackTo ?? "/");
    // A card that was refused stands in nobody's way: another can be tried here, or the shopper goes back.
    const backUnlessRefused = () =>
      bill.stand === "refused"
        ? void response.send(form(bill.no, sum, "The card was refused. Try another one, or go back."))
        : back();
    if (press === "leave") {
      if (bill.stand === "open" && !moves.end(bill, "left")) tell(post, house, side, bill);
      return back();
    }
    if (press === "purse") return void response.send(ask(bill.no, sum, "purse"));
    if (asked) {
      // A purse that can be had on this page as well: the same money, by another road.
      if (asked === "purse") bill.way = "Pennywhistle";
      chargeCard(post, house, side, bill, "ask", press === "yes");
      return backUnlessRefused();
    }
    const digits = number.replace(/\D/g, "");
    const card = ostwickCards(side).find((one) => one.number === digits);
    if (!luhnHolds(digits) || !card) {
      const wrong = luhnHolds(digits) ? "This card is not known on this side." : "This is not a card number.";
      return void response.status(422).send(form(bill.no, sum, wrong));
    }
    if (!house.account(side, bill.account)?.ways[card.network])
      return void response.status(422).send(form(bill.no, sum, `${card.network} is not taken here.`));
    bill.way = `${card.network} …${digits.slice(-4)}`;
    if (card.manner === "ask") return void response.send(ask(bill.no, sum, "bank"));
    chargeCard(post, house, side, bill, card.manner);
    backUnlessRefused();
  });
  return router;
}
