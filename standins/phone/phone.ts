import express, { type Router } from "express";
import { html } from "../html";
import { errandsOf } from "../kit/errands";
import { decimal, sides } from "../kit/house";
import type { Provider } from "../kit/provider";

/** Where each wallet's request is answered on the phone, below its side's address. */
const answeredAt: Record<string, string> = {
  quippa: "scan",
  pennywhistle: "agree",
  ratenhaus: "sign",
  thumbra: "press",
};

/** The shopper's phone: requests that wait for an answer, and a place to put in what a camera would have read. */
export function phoneRoutes(providers: readonly Provider[]): Router {
  const router = express.Router();
  router.use(express.urlencoded({ extended: false, limit: "10kb" }));
  router.get("/", (_, response) => {
    const waiting = providers.flatMap(({ house, manner }) => {
      const path = answeredAt[house.name];
      if (!path) return [];
      return sides.flatMap((side) => {
        const open = [
          ...Object.values(house.books(side).bills).map((bill) => ({ ...bill, path })),
          // What was begun by a button on a shop's page, where an address is chosen first.
          ...Object.values(errandsOf(house, side)).map((errand) => ({ ...errand, path: "errand" })),
        ].filter(({ stand }) => stand === "open");
        return open.map(({ no, account, sum, coin, madeAt, path: below }) => ({
          at: madeAt,
          to: house.address(side, `/${below}/${no}`),
          says: `${manner.title}: ${house.account(side, account)?.name ?? ""} asks for ${decimal(sum, coin)} ${coin}${side === "sandbox" ? " (sandbox)" : ""}`,
        }));
      });
    });
    waiting.sort((a, b) => b.at.localeCompare(a.at));
    response.send(
      String(
        html`<!doctype html>
          <html lang="en">
            <head>
              <meta charset="utf-8" />
              <meta name="viewport" content="width=device-width,initial-scale=1" />
              <title>The shopper’s phone</title>
              <link rel="icon" href="data:," />
              <style>
                body {
                  font: 17px/1.5 system-ui, sans-serif;
                  max-width: 24rem;
                  margin: 1rem auto;
                  padding: 1.2rem;
                  border: 6px solid #222;
                  border-radius: 22px;
                  min-height: 34rem;
                  background: #fff;
                  color: #222;
                }
                input,
                button {
                  font: inherit;
                  padding: 0.4rem;
                  width: 100%;
                  box-sizing: border-box;
                }
              </style>
            </head>
            <body>
              <h1>Phone</h1>
              <form method="post">
                <label>What the camera reads<br /><input name="code" autocomplete="off" /></label>
                <p><button>Scan</button></p>
              </form>
              <h2>Requests</h2>
              ${waiting.length === 0 && html`<p>Nothing waits for you.</p>`}
              <ul>
                ${waiting.slice(0, 20).map((one) => html`<li><a href="${one.to}">${one.says}</a></li>`)}
              </ul>
            </body>
          </html>`,
      ),
    );
  });
  router.post("/", (request, response) => {
    const code = String((request.body as { code?: string }).code ?? "").trim();
    const known = providers.some(({ house }) =>
      code.startsWith(house.address("sandbox", "").replace(/sandbox$/, "")),
    );
    if (known) response.redirect(303, code);
    else response.status(422).send("This code belongs to no wallet on this phone.");
  });
  return router;
}
