import express, { type Router } from "express";
import { html } from "../html";
import { type Manner, page } from "./dashboard";
import { decimal, type House, randomText, type SideName } from "./house";
import type { Choice } from "./shopper";

/** A home in a shopper's address book, which is the same in every wallet. */
export interface Home {
  id: string;
  name: string;
  email: string;
  phone: string;
  lines: string[];
  postcode: string;
  city: string;
  land: string;
}

const home = (id: string, land: string, line: string, postcode: string, city: string): Home => ({
  ...{ id, land, lines: [line], postcode, city },
  ...{ name: "Ida Drachenbauer", email: "ida@example.org", phone: "+49 40 0000 119" },
});
export const homes: readonly Home[] = [
  home("deich", "DE", "Am Alten Deich 7", "27498", "Helgoland"),
  home("alm", "AT", "Drachenalm 3", "6020", "Innsbruck"),
  home("pier", "GB", "12 Kite Pier", "PL1 2AB", "Plymouth"),
  home("fjord", "NO", "Drageveien 9", "9008", "Tromsø"),
];

/** What a shopper looks at who pressed a wallet's button: what it costs, where it goes, how it is delivered. */
export interface Errand {
  no: string;
  account: string;
  ref: string;
  /** As it was asked for, and as it is with what was chosen since; minor units. */
  sum: number;
  coin: string;
  language: string;
  /** Where the shop is asked what it comes to. */
  askAt: string;
  goBackTo: string;
  shownAs?: string;
  stand: "open" | "agreed" | "left";
  home: string | null;
  choices: { id: string; words: string; price: number }[];
  choice: string | null;
  /** Why it cannot be as it is chosen now. */
  says: string | null;
  /** What the shopper will have done with it, and the token that stands for that. */
  does: string | null;
  token: string | null;
  used: boolean;
  madeAt: string;
}

/** What was answered to a question about a errand. */
export type Told = { no: string } | { sum: number; choices: Errand["choices"]; choice: string | null };

/** How one provider asks, and reads what it is answered. */
export interface Asking {
  body: (errand: Errand, home: Home, choice: string | null) => unknown;
  read: (errand: Errand, answer: Record<string, unknown>) => Told | null;
}

export const errandsOf = (house: House, side: SideName): Record<string, Errand> => {
  const drawer = house.books(side).drawer as { errands?: Record<string, Errand> };
  return (drawer.errands ??= {});
};

export function openErrand(
  house: House,
  side: SideName,
  given: Pick<Errand, "account" | "ref" | "sum" | "coin" | "language" | "askAt" | "goBackTo" | "shownAs">,
): Errand {
  const errands = errandsOf(house, side);
  // The same reference is the same errand, however often it is asked for.
  const known = Object.values(errands).find((one) => one.account === given.account && one.ref === given.ref);
  if (known) return known;
  const errand: Errand = {
    ...given,
    no: `errand${randomText(14)}`,
    ...{ stand: "open", home: null, choices: [], choice: null, says: null, does: null, token: null },
    ...{ used: false, madeAt: house.now().toISOString() },
  };
  errands[errand.no] = errand;
  house.changed();
  return errand;
}

export const homeOf = (errand: Errand): Home | null => homes.find(({ id }) => id === errand.home) ?? null;

/** Asks the shop what it comes to at a home, with a delivery; whatever goes wrong stands on the errand. */
export async function choose(
  house: House,
  asking: Asking,
  errand: Errand,
  wanted: { home?: string; choice?: string },
): Promise<void> {
  const to = homes.find(({ id }) => id === (wanted.home ?? errand.home));
  if (!to || errand.stand !== "open") return;
  const choice = wanted.choice ?? errand.choice;
  errand.home = to.id;
  const told = await fetch(errand.askAt, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify(asking.body(errand, to, choice)),
    signal: AbortSignal.timeout(8_000),
  })
    .then((answer) => (answer.ok ? (answer.json() as Promise<Record<string, unknown>>) : null))
    .then((answer) => answer && asking.read(errand, answer))
    .catch(() => null);
  if (!told) errand.says = "The shop could not be asked. Nothing is paid yet.";
  else if ("no" in told) errand.says = told.no;
  else Object.assign(errand, { ...told, says: null });
  if (!told || "no" in told) Object.assign(errand, { choices: [], choice: null });
  house.changed();
}

/** Whether a errand can be agreed to as it stands. */
export const isReady = (errand: Errand): boolean =>
  errand.stand === "open" && errand.home !== null && errand.says === null && errand.choice !== null;

/** The page of a errand: an address, a delivery, and a yes or a no. */
export function errandRoutes(
  house: House,
  side: SideName,
  manner: Manner,
  asking: Asking,
  choices: readonly Choice[],
  seal: (errand: Errand, does: string) => void,
): Router {
  const router = express.Router();
  router.use(express.urlencoded({ extended: false, limit: "10kb" }));
  router.get("/:no", (request, response) => {
    const errand = errandsOf(house, side)[request.params.no];
    const open = errand?.stand === "open";
    const sum = (amount: number) => `${decimal(amount, errand?.coin ?? "EUR")} ${errand?.coin}`;
    response.status(open ? 200 : 410).send(
      page(
        `Buy · ${manner.title}`,
        manner,
        html`<main>
          ${
            !open
              ? html`<h1>There is nothing to decide here any more.</h1>`
              : html`<h1>${errand.shownAs ?? house.account(side, errand.account)?.name}</h1>
                  <p>Altogether <strong id="sum">${sum(errand.sum)}</strong></p>
                  ${errand.says !== null && html`<p class="no" role="alert">${errand.says}</p>`}
                  <h2>Send it to</h2>
                  <form method="post">
                    ${homes.map(
                      (one) =>
                        html`<p>
                          <button name="home" value="${one.id}" ${one.id === errand.home ? "aria-pressed=true" : ""}>${one.id === errand.home && "✓ "}${one.lines[0]}, ${one.postcode} ${one.city}, ${one.land}</button>
                        </p>`,
                    )}
                  </form>
                  ${
                    errand.choices.length > 0 &&
                    html`<h2>Delivery</h2>
                      <form method="post">
                        ${errand.choices.map(
                          (one) =>
                            html`<p>
                              <button name="choice" value="${one.id}" ${one.id === errand.choice ? "aria-pressed=true" : ""}>${one.id === errand.choice && "✓ "}${one.words}, ${sum(one.price)}</button>
                            </p>`,
                        )}
                      </form>`
                  }
                  <h2>Pay</h2>
                  <form method="post">
                    ${isReady(errand) && choices.map((one) => html`<p><button name="does" value="${one.does}">${one.words}</button></p>`)}
                    <p><button name="does" value="leave">Back to the shop</button></p>
                  </form>`
          }
        </main>`,
      ),
    );
  });
  router.post("/:no", async (request, response) => {
    const errand = errandsOf(house, side)[request.params.no];
    if (!errand) return void response.status(404).send("There is no such purchase.");
    const { home: to, choice, does } = request.body as { home?: string; choice?: string; does?: string };
    const here = house.address(side, `/errand/${errand.no}`);
    if (to || choice) {
      await choose(house, asking, errand, { ...(to && { home: to }), ...(choice && { choice }) });
      return response.redirect(303, here);
    }
    if (does === "leave" && errand.stand === "open") errand.stand = "left";
    else if (does && isReady(errand) && choices.some((one) => one.does === does)) {
      errand.stand = "agreed";
      errand.does = does;
      seal(errand, does);
    } else if (errand.stand === "open") return response.redirect(303, here);
    house.changed();
    response.redirect(303, errand.goBackTo);
  });
  return router;
}
