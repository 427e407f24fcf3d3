import express, { type Router } from "express";
import { html } from "../html";
import { type Manner, page } from "./dashboard";
import { type Bill, type Cannot, decimal, type House, type SideName } from "./house";

/** What a shopper can do on a provider's page: the word on the wire, and the words on the button. */
export interface Choice {
  does: string;
  words: string;
}

/** The page on which a shopper agrees to a payment or does not, and the way back to the shop. */
export function shopperRoutes(
  house: House,
  side: SideName,
  manner: Manner,
  title: string,
  choices: readonly Choice[],
  act: (bill: Bill, does: string) => Cannot | undefined,
): Router {
  const router = express.Router();
  router.use(express.urlencoded({ extended: false, limit: "10kb" }));
  router.get("/:no", (request, response) => {
    const bill = house.books(side).bills[request.params.no];
    const sum = bill && `${decimal(bill.sum, bill.coin)} ${bill.coin}`;
    const shop = bill && (bill.shownAs ?? house.account(side, bill.account)?.name);
    const open = bill?.stand === "open";
    response.status(open ? 200 : 410).send(
      page(
        `${title} · ${manner.title}`,
        manner,
        html`<main>
          <h1>${title}</h1>
          ${
            open
              ? html`<p>${shop} asks for <strong>${sum}</strong>.</p>
                  <form method="post">
                    ${choices.map((one) => html`<p><button name="does" value="${one.does}">${one.words}</button></p>`)}
                  </form>`
              : html`<p>There is nothing to decide here any more.</p>`
          }
        </main>`,
      ),
    );
  });
  router.post("/:no", (request, response) => {
    const bill = house.books(side).bills[request.params.no];
    if (!bill) return void response.status(404).send("There is no such payment.");
    act(bill, String((request.body as { does?: string }).does));
    if (bill.goBackTo) response.redirect(303, bill.goBackTo);
    else response.send(page(title, manner, html`<main><p>Done. You may close this page.</p></main>`));
  });
  return router;
}
