import { randomBytes } from "node:crypto";
import type { Request, Router } from "express";
import { html } from "../../html";
import type { Card } from "../../kit/cards";
import { jsonApi } from "../../kit/api";
import { dashboardRoutes, type Manner, once, press } from "../../kit/dashboard";
import { type Account, House, randomText, type SideName, sides } from "../../kit/house";
import { Fault, type Provider, text } from "../../kit/provider";
import { shopperRoutes } from "../../kit/shopper";
import { errandRoutes } from "../../kit/errands";
import { askRoutes, decide, deviceChoices, openToken } from "./asks";
import { asking, errandApi, seal } from "./errands";

const manner: Manner = {
  title: "Thumbra",
  says: "cards kept in the shopper’s device",
  password: "daumen-auf-glas",
  colours: ["#f2f2ec", "#1d1d18", "#4a4a12"],
  face: "Gill Sans,Calibri,sans-serif",
  bills: "Requests (the payments themselves are in the card provider’s books)",
  words: { sandbox: "Sandbox", live: "Live" },
};

const fileName = (side: SideName) => `thumbra-${side}`;
const newKey = (side: SideName) => `thumbra/${side === "sandbox" ? "s" : "l"}/${randomText(32)}`;
function accounts(side: SideName): Account[] {
  return [
    { name: "Luvwinkel Drachenbau", land: "DE" },
    { name: "Luvwinkel Kites Ltd", land: "GB" },
  ].map(({ name, land }, i) => {
    const id = `${side === "sandbox" ? "TS" : "TL"}-${["kiebitz", "austernfischer"][i]}`;
    const file = `thumbra domain file, ${side}\nseller ${id}\nproof ${randomBytes(24).toString("hex")}\n`;
    return {
      id,
      name,
      land,
      coins: ["EUR", "GBP"].map((coin) => ({ coin, pays: coin })),
      review: "open" as const,
      ways: { Norda: true, Celesta: true },
      keys: { api: newKey(side), [`file:${fileName(side)}`]: file },
      address: "",
    };
  });
}

interface Look {
  domain: string;
  seller: string;
  at: string;
  found: boolean;
  says: string;
}

export interface Thumbra extends Provider {
  /** Opens a token for a card provider; see `openToken`. */
  opens: (side: SideName, token: string, sum: number, coin: string) => Card | string;
}

/** Thumbra: a device wallet. It looks at the shop's domain itself when it is asked to. */
export function thumbra(origin: () => string, file?: string): Thumbra {
  const house = new House("thumbra", origin, accounts, file);
  // Books written before networks could be switched: all were on.
  for (const side of sides)
    for (const account of house.books(side).accounts)
      if (Object.keys(account.ways).length === 0) account.ways = { Norda: true, Celesta: true };
  const looksOf = (side: SideName) => {
    const drawer = house.books(side).drawer as { looks?: Look[] };
    drawer.looks ??= [];
    return drawer.looks;
  };
  return {
    house,
    manner,
    opens: (side, token, sum, coin) => openToken(house, side, token, sum, coin),
    mount(app) {
      for (const side of sides) {
        app.use(`/thumbra/${side}/api`, apiRoutes(house, side, looksOf(side)));
        app.use(
          `/thumbra/${side}/press`,
          shopperRoutes(
            house,
            side,
            manner,
            "On the shopper’s device",
            deviceChoices(side),
            decide(house, side),
          ),
        );
        app.use(
          `/thumbra/${side}/errand`,
          errandRoutes(
            ...([house, side, manner, asking] as const),
            deviceChoices(side).filter(({ does }) => does !== "refuse"),
            (errand, does) => seal(house, side, errand, does),
          ),
        );
      }
      app.use(
        "/thumbra/dashboard",
        dashboardRoutes(
          house,
          manner,
          (desk) => {
            const { account, side } = desk;
            return [
              html`<h2>Keys</h2>
                <dl>
                  <dt>Seller name</dt><dd><code id="seller">${account.id}</code></dd>
                  <dt>Seller key</dt><dd><code id="seller-key">${account.keys.api}</code></dd>
                </dl>
                ${press(house, desk, "key", "Make a new seller key")}`,
              html`<h2>Domain file</h2>
                <p>Put it on your shop at <code>/.well-known/${fileName(side)}</code>, open to everybody, under exactly this name.</p>
                <p><a id="domain-file" href="/thumbra/dashboard/${side}/files/${fileName(side)}?account=${account.id}">Download the domain file</a></p>
                <ul>${looksOf(side)
                  .filter((one) => one.seller === account.id)
                  .slice(-10)
                  .reverse()
                  .map(
                    (one) => html`<li>${one.at.slice(0, 19)} <code>${one.domain}</code>: ${one.says}</li>`,
                  )}</ul>`,
            ];
          },
          {
            key: ({ account, side }) => {
              account.keys.api = newKey(side);
              return once("The old key is over. The new one:", account.keys.api);
            },
          },
          () => undefined,
        ),
      );
    },
  };
}

function apiRoutes(house: House, side: SideName, looks: Look[]): Router {
  const { router, close } = jsonApi(
    "thumbra",
    side,
    (response, fault) =>
      void response.status(fault.status).json({ no: { word: fault.code, because: fault.message } }),
  );
  router.use("/sellers/:id", (request, _, next) => {
    const key = /^Bearer (.+)$/.exec(request.get("authorization") ?? "")?.[1];
    const account = house.account(side, request.params.id);
    if (!account)
      throw new Fault(404, "seller-unknown", `There is no seller ${request.params.id} on the ${side} side`);
    const owner = house.books(side).accounts.find((one) => one.keys.api === key);
    if (!owner && key?.startsWith(side === "sandbox" ? "thumbra/l/" : "thumbra/s/"))
      throw new Fault(401, "key-of-other-side", "This key is for the other side");
    if (!owner) throw new Fault(401, "key-unknown", "This key is not known");
    if (owner !== account) throw new Fault(403, "key-of-other-seller", `This key belongs to ${owner.id}`);
    Object.assign(request, { seller: account });
    next();
  });
  const me = (request: Request) => (request as Request & { seller: Account }).seller;
  router.get("/sellers/:id", (request, response) => {
    const { id, name, land, coins, review, ways } = me(request);
    response.json({
      seller: id,
      name,
      land,
      coins: coins.map((one) => one.coin),
      review,
      networks: Object.keys(ways).filter((network) => ways[network]),
      domains: looks.filter((one) => one.seller === id && one.found).map((one) => one.domain),
    });
  });
  router.post("/sellers/:id/domains", async (request, response) => {
    const { id, keys } = me(request);
    const { domain } = request.body as { domain?: string };
    if (!text(domain, 200) || !/^[\w.:-]+$/.test(domain))
      throw new Fault(422, "domain-malformed", "This is no domain");
    const look = {
      domain,
      seller: id,
      at: house.now().toISOString(),
      ...(await lookAt(domain, fileName(side), keys[`file:${fileName(side)}`] ?? "")),
    };
    looks.push(look);
    house.changed();
    response.json(look);
  });
  const knows = (account: Account, domain: string) =>
    looks.some((one) => one.found && one.seller === account.id && one.domain === domain);
  askRoutes(router, house, side, me, knows);
  errandApi(router, house, side, me, knows);
  close();
  return router;
}

/** Fetches the file as Thumbra does: no redirects, plain text, exactly the file that was given out. */
async function lookAt(domain: string, name: string, file: string): Promise<Pick<Look, "found" | "says">> {
  const near = /^(localhost|127\.0\.0\.1)(:\d+)?$/.test(domain);
  const address = `${near ? "http" : "https"}://${domain}/.well-known/${name}`;
  const no = (says: string) => ({ found: false, says });
  try {
    const answer = await fetch(address, { redirect: "manual", signal: AbortSignal.timeout(5_000) });
    if (answer.status >= 300 && answer.status < 400) return no(`${address} leads elsewhere`);
    if (answer.status !== 200) return no(`${address} answered ${answer.status}`);
    if (/html/.test(answer.headers.get("content-type") ?? "")) return no(`${address} is a page, not a file`);
    const said = (await answer.text()).trim();
    return said === file.trim()
      ? { found: true, says: "The file was found" }
      : no("The file is not the one that was given out");
  } catch (error) {
    return no(`${address} could not be reached: ${(error as Error).message}`);
  }
}
