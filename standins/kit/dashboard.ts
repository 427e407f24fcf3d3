import { randomBytes } from "node:crypto";
import express, { type Request, type Response, type Router } from "express";
import { type Html, html, raw } from "../html";
import { type Account, type Bill, type House, type Review, reviewSteps, type SideName, sides } from "./house";

/** What sets one provider's dashboard apart. */
export interface Manner {
  title: string;
  says: string;
  password: string;
  /** Ground, ink and the colour of what is pressed. */
  colours: [ground: string, ink: string, press: string];
  face: string;
  /** What this provider calls a payment, and how it writes a sum. */
  bills: string;
  words: Record<"sandbox" | "live", string>;
  /** What stands over the ways to pay that can be switched; “Ways to pay” by default. */
  ways?: string;
}

export interface Desk {
  side: SideName;
  account: Account;
}

export interface Doing {
  /** What is pressed, by the name of its button. */
  [press: string]: (desk: Desk, form: Record<string, string>) => Html | void | Promise<Html | void>;
}

export const once = (words: string, value: string) =>
  html`<div class="once" role="status">${words}<br /><code id="issued">${value}</code></div>`;
export const no = (words: string) => html`<p class="no" role="alert">${words}</p>`;
export const yes = (words: string) => html`<p role="status">${words}</p>`;

export const page = (title: string, { colours: [ground, ink, press], face }: Manner, body: Html) =>
  String(
    html`<!doctype html>
      <html lang="en">
        <head>
          <meta charset="utf-8" />
          <meta name="viewport" content="width=device-width,initial-scale=1" />
          <title>${title}</title>
          <link rel="icon" href="data:," />
          <style>
            ${raw(`body{font:16px/1.5 ${face};color:${ink};background:${ground};margin:0 auto;max-width:66rem;padding:0 1.2rem 3rem}
header{display:flex;gap:1.4rem;align-items:baseline;flex-wrap:wrap;border-bottom:3px solid ${ink};padding:.8rem 0}a{color:${ink}}
header a[aria-current]{font-weight:700;text-decoration:none}h2{margin:1.5rem 0 .3rem;font-size:1.1rem}
table{border-collapse:collapse;width:100%;background:#fff}th,td{border:1px solid ${ink};padding:.25rem .5rem;text-align:left}td.sum{text-align:right}
code{background:#fff;padding:.1rem .3rem;overflow-wrap:anywhere;color:#111}input,select,button{font:inherit;padding:.35rem .5rem}
button{background:${press};color:#fff;border:0;cursor:pointer}dl{display:grid;grid-template-columns:max-content 1fr;gap:.2rem 1rem}dt{font-weight:700}dd{margin:0}
.once{background:#fff;border:3px double ${press};padding:.7rem 1rem;margin:.6rem 0;color:#111}.no{color:#8d1f1a;font-weight:700}form.row{display:flex;gap:.5rem;flex-wrap:wrap;align-items:end}`)}
          </style>
        </head>
        <body>
          ${body}
        </body>
      </html>`,
  );

const closed: Record<Review, string | null> = {
  none: "Nobody has applied for this account",
  applied: "The application has arrived",
  looking: "The papers are being looked at",
  open: null,
  turned_down: "The business does not fit",
  limited: "Papers are missing",
};
const nextSteps: Record<Review, [to: Review, words: string][]> = {
  none: [["applied", "Apply"]],
  applied: [["looking", "Papers are looked at"]],
  looking: [
    ["open", "Approve"],
    ["turned_down", "Decline"],
  ],
  open: [["limited", "Limit the account"]],
  turned_down: [["applied", "Apply again"]],
  limited: [["open", "Lift the limit"]],
};
export const closedBecause = (account: Account) => closed[account.review];

const isSide = (value: unknown): value is SideName => value === "sandbox" || value === "live";

/**
 * A provider's dashboard: sign-in, both sides, its accounts with their review and ways to pay, what the provider adds
 * (`sections`, with what their buttons do), and its books.
 */
export function dashboardRoutes(
  house: House,
  manner: Manner,
  sections: (desk: Desk) => Html[],
  doings: Doing,
  tellAccount: (side: SideName, account: Account) => void,
): Router {
  const base = `/${house.name}/dashboard`;
  const cookieName = `${house.name}_session`;
  const sessions = new Set<string>();
  const router = express.Router();
  router.use(express.urlencoded({ extended: false, limit: "20kb" }));
  const signIn = (wrong?: string) =>
    page(
      `Sign in · ${manner.title}`,
      manner,
      html`<header><strong>${manner.title}</strong> ${manner.says}, simulated</header>
        <main>
          <h1>Sign in</h1>
          ${wrong && no(wrong)}
          <form method="post" action="${base}/sign-in">
            <p><label>E-mail<br /><input name="email" autocomplete="username" value="kontor@luvwinkel.example" /></label></p>
            <p><label>Password<br /><input name="password" type="password" autocomplete="current-password" /></label></p>
            <button>Come in</button>
          </form>
          <p>Nothing here is real. The password is <code>${manner.password}</code>.</p>
        </main>`,
    );
  router.get("/sign-in", (_, response) => void response.send(signIn()));
  router.post("/sign-in", (request, response) => {
    const { email, password } = request.body as Record<string, string>;
    if (email !== "kontor@luvwinkel.example" || password !== manner.password)
      return void response
        .status(403)
        .send(signIn(`${manner.title} does not know this e-mail and password.`));
    const session = randomBytes(16).toString("hex");
    sessions.add(session);
    response.set("set-cookie", `${cookieName}=${session}; Path=/${house.name}; HttpOnly; SameSite=Lax`);
    response.redirect(303, `${base}/sandbox`);
  });
  router.use((request, response, next) => {
    const session = new RegExp(`${cookieName}=([a-f0-9]+)`).exec(request.get("cookie") ?? "")?.[1];
    return session && sessions.has(session) ? next() : response.redirect(303, `${base}/sign-in`);
  });
  router.get("/", (_, response) => response.redirect(303, `${base}/sandbox`));

  const deskOf = (request: Request): Desk | undefined => {
    const { side } = request.params;
    if (!isSide(side)) return undefined;
    const { accounts } = house.books(side);
    const wanted = String(
      request.query.account ?? (request.body as { account?: string } | undefined)?.account,
    );
    const account = accounts.find((one) => one.id === wanted) ?? accounts[0];
    return account && { side, account };
  };
  const show = (response: Response, desk: Desk, note?: Html) =>
    response.send(
      page(`${manner.title}, ${desk.side}`, manner, deskPage(house, manner, sections, desk, note)),
    );

  const standing: Doing = {
    review: ({ side, account }, { to }) => {
      if (!reviewSteps.includes(to as Review)) return no("There is no such step.");
      account.review = to as Review;
      tellAccount(side, account);
      return yes("Done.");
    },
    way: ({ side, account }, { way = "" }) => {
      if (!(way in account.ways)) return no("There is no such way to pay.");
      account.ways[way] = !account.ways[way];
      tellAccount(side, account);
      return yes("Done.");
    },
    ...doings,
  };
  router.get("/:side", (request, response) => {
    const desk = deskOf(request);
    if (!desk) return void response.status(404).send("There is no such side.");
    show(response, desk);
  });
  // The page of one bill: its account's desk, with that bill alone in the books.
  router.get("/:side/bills/:no", (request, response) => {
    const { side, no } = request.params;
    const bill = isSide(side) ? house.books(side).bills[no] : undefined;
    const account = isSide(side) && bill && house.account(side, bill.account);
    if (!isSide(side) || !bill || !account) return void response.status(404).send("There is no such bill.");
    const note = html`<p id="bill"><a href="${base}/${side}">All of ${manner.bills}</a></p>`;
    response.send(
      page(
        `${bill.no}, ${manner.title}`,
        manner,
        deskPage(house, manner, sections, { side, account }, note, [bill]),
      ),
    );
  });
  router.get("/:side/files/:file", (request, response) => {
    const desk = deskOf(request);
    const text = desk && (desk.account.keys[`file:${request.params.file}`] ?? null);
    if (!text) return void response.status(404).send("There is no such file.");
    response.set("content-disposition", `attachment; filename="${request.params.file}"`);
    response.type("application/octet-stream").send(text);
  });
  router.post("/:side", async (request, response) => {
    const desk = deskOf(request);
    const form = request.body as Record<string, string>;
    const doing = standing[String(form.press)];
    if (!desk || !doing) return void response.status(404).send("That cannot be done here.");
    const note = await doing(desk, form);
    house.changed();
    show(response, desk, note ?? undefined);
  });
  return router;
}

/** A button of a dashboard that posts its press with whatever `fields` hold. */
export const press = (
  house: House,
  { side, account }: Desk,
  name: string,
  words: string,
  fields: Html = html``,
) =>
  html`<form class="row" method="post" action="/${house.name}/dashboard/${side}">
    <input type="hidden" name="account" value="${account.id}" />${fields}
    <button name="press" value="${name}">${words}</button>
  </form>`;

function deskPage(
  house: House,
  manner: Manner,
  sections: (desk: Desk) => Html[],
  desk: Desk,
  note?: Html,
  only?: Bill[],
): Html {
  const { side, account } = desk;
  const { accounts, notes } = house.books(side);
  const bills = only ?? house.billsOf(side, account.id).reverse().slice(0, 100);
  const about = closedBecause(account);
  return html`<header>
      <strong>${manner.title}</strong>
      ${sides.map((one) => html`<a href="/${house.name}/dashboard/${one}" ${one === side ? raw("aria-current=page") : ""}>${manner.words[one]}</a>`)}
      <span>${manner.says}, simulated</span>
    </header>
    <main>
      <h1>${account.name} (${manner.words[side]})</h1>
      ${note}
      <form class="row" method="get">
        <label>Account
          <select name="account">
            ${accounts.map((one) => html`<option value="${one.id}" ${one === account ? raw("selected") : ""}>${one.id} ${one.name}</option>`)}
          </select></label><button>Show</button>
      </form>
      <h2>Account</h2>
      <p>
        Registered in ${account.land}; takes ${account.coins.map((c) => `${c.coin} (paid out in ${c.pays})`).join(", ")}.
        ${about ? html`<strong class="no">Not open: ${about}.</strong>` : "Open."}
      </p>
      ${nextSteps[account.review].map(([to, words]) => press(house, desk, "review", words, html`<input type="hidden" name="to" value="${to}" />`))}
      ${
        Object.keys(account.ways).length > 0 &&
        html`<h2>${manner.ways ?? "Ways to pay"}</h2>
          ${Object.entries(account.ways).map(([way, on]) => press(house, desk, "way", on ? `Switch ${way} off` : `Switch ${way} on`, html`<input type="hidden" name="way" value="${way}" /><span>${way}: ${on ? "on" : "off"}</span>`))}`
      }
      ${sections(desk)}
      <h2>${manner.bills}</h2>
      <table>
        <thead>
          <tr><th>No</th><th>Your reference</th><th>Sum</th><th>Stand</th><th>Made</th><th>News of it</th></tr>
        </thead>
        <tbody>
          ${bills.map(
            (bill) =>
              html`<tr>
                <td>${bill.no}</td>
                <td>${bill.ref}</td>
                <td class="sum">${bill.sum} ${bill.coin}</td>
                <td>${bill.stand}${bill.refusal ? ` (${bill.refusal})` : ""}${bill.back ? `, ${bill.back} given back` : ""}</td>
                <td>${bill.madeAt.slice(0, 19)}</td>
                <td>${notes.filter((one) => JSON.stringify(one.content).includes(bill.no)).map((one) => html`${one.kind}: ${one.log.join(", ") || "waits"}<br />`)}</td>
              </tr>`,
          )}
        </tbody>
      </table>
    </main>`;
}
