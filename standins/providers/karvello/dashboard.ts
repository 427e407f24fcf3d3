import { randomBytes } from "node:crypto";
import express, { type Request, type Response, type Router } from "express";
import { type Html, html, raw } from "../../html";
import { TELLS } from "./api";
import { type Account, allRights, randomText, type Karvello, type SideName } from "./books";
import { ring } from "./bells";

/** The one person who may look at Luvwinkel's accounts at Karvello. */
export const dashboardLogin = { email: "kontor@luvwinkel.example", password: "ostwind-am-haff" };

const style = raw(`
body{font:15px/1.5 "Courier New",monospace;color:#1d2b22;background:#e9efe6;margin:0}header{background:#243b2f;color:#e9efe6;padding:.7rem 1.4rem;display:flex;gap:1.6rem;align-items:baseline;flex-wrap:wrap}
header a{color:#e9efe6}header a[aria-current]{background:#e9efe6;color:#243b2f;padding:.1rem .5rem;text-decoration:none}main{padding:1rem 1.4rem;max-width:72rem}
table{border-collapse:collapse;width:100%;background:#fff}th,td{border:1px solid #9db09f;padding:.3rem .55rem;text-align:left;vertical-align:top}td.sum{text-align:right}
h2{margin:1.6rem 0 .4rem;font-size:1.1rem}code{background:#fff;padding:.1rem .3rem;overflow-wrap:anywhere}input,select,button{font:inherit;padding:.35rem .5rem}button{background:#243b2f;color:#fff;border:0;cursor:pointer}
.once{background:#fff3c9;border:2px solid #9a7b11;padding:.7rem 1rem;margin:.6rem 0}.no{color:#8d1f1a}form.row{display:flex;gap:.5rem;flex-wrap:wrap;align-items:end}`);

const page = (title: string, body: Html) =>
  String(
    html`<!doctype html>
      <html lang="en">
        <head>
          <meta charset="utf-8" />
          <meta name="viewport" content="width=device-width,initial-scale=1" />
          <title>${title} · Karvello</title>
          <link rel="icon" href="data:," />
          <style>
            ${style}
          </style>
        </head>
        <body>
          ${body}
        </body>
      </html>`,
  );

const closedBecause: Record<Account["review"], string | null> = {
  none: "Nobody has applied for this account",
  applied: "The application lies with Karvello",
  looking: "Karvello looks at the papers about the business",
  open: null,
  turned_down: "Karvello takes no kite makers without a shop window",
  limited: "Karvello waits for papers about the business",
};
const isReview = (value: string): value is Account["review"] => Object.hasOwn(closedBecause, value);
/** What Karvello may do next with an application, and what the press is called. */
const nextSteps: Record<Account["review"], [to: Account["review"], words: string][]> = {
  none: [["applied", "Apply"]],
  applied: [["looking", "Karvello looks at it"]],
  looking: [
    ["open", "Karvello approves"],
    ["turned_down", "Karvello declines"],
  ],
  open: [["limited", "Close for business"]],
  turned_down: [["applied", "Apply again"]],
  limited: [["open", "Open for business"]],
};

const isSide = (value: unknown): value is SideName => value === "sandbox" || value === "live";

/** Karvello's dashboard for a person: keys, the bell, and the slips of each account, for each side. */
export function dashboardRoutes(karvello: Karvello): Router {
  const sessions = new Set<string>();
  const router = express.Router();
  router.use(express.urlencoded({ extended: false, limit: "20kb" }));
  const signedIn = (request: Request) => {
    const cookie = /karvello_session=([a-f0-9]+)/.exec(request.get("cookie") ?? "")?.[1];
    return cookie !== undefined && sessions.has(cookie);
  };

  router.get("/sign-in", (_, response) => void response.send(signInPage()));
  router.post("/sign-in", (request, response) => {
    const { email, password } = request.body as Record<string, string>;
    if (email !== dashboardLogin.email || password !== dashboardLogin.password) {
      response.status(403).send(signInPage("Karvello does not know this e-mail and password."));
      return;
    }
    const session = randomBytes(16).toString("hex");
    sessions.add(session);
    response.set("set-cookie", `karvello_session=${session}; Path=/karvello; HttpOnly; SameSite=Lax`);
    response.redirect(303, "/karvello/dashboard/sandbox");
  });
  router.use((request, response, next) =>
    signedIn(request) ? next() : response.redirect(303, "/karvello/dashboard/sign-in"),
  );
  router.get("/", (_, response) => response.redirect(303, "/karvello/dashboard/sandbox"));

  const read = (request: Request): { side: SideName; account: string } | undefined => {
    const { side } = request.params;
    if (!isSide(side)) return undefined;
    const { accounts } = karvello.books(side);
    const wanted = String(
      request.query.account ?? (request.body as Record<string, string> | undefined)?.account ?? "",
    );
    return { side, account: (accounts.find((one) => one.code === wanted) ?? accounts[0])?.code ?? "" };
  };
  const show = (response: Response, where: { side: SideName; account: string }, note?: Html) =>
    response.send(page(where.side, sidePage(karvello, where.side, where.account, note)));

  router.get("/:side", (request, response) => {
    const where = read(request);
    if (!where) return void response.status(404).send("There is no such side.");
    show(response, where);
  });
  router.post("/:side/keys", (request, response) => {
    const where = read(request);
    if (!where) return void response.status(404).send("There is no such side.");
    const kind = (request.body as { kind?: string }).kind === "frame" ? "frame" : "server";
    const asked = (request.body as { right?: string | string[] }).right ?? [...allRights];
    const rights = allRights.filter((one) => (Array.isArray(asked) ? asked : [asked]).includes(one));
    const key = karvello.issue(where.side, where.account, kind, rights);
    show(
      response,
      where,
      html`<div class="once" role="status">
        ${kind === "server" ? "Your new server key. It is shown this once and never again:" : "Your new frame key:"}<br /><code
          id="issued"
          >${key}</code
        >
      </div>`,
    );
  });
  router.post("/:side/bell", (request, response) => {
    const where = read(request);
    if (!where) return void response.status(404).send("There is no such side.");
    const { address = "", secret = "" } = request.body as Record<string, string>;
    if (
      !URL.canParse(address.trim()) ||
      Buffer.from(secret.trim().replace("whsec_", ""), "base64").length < 24
    ) {
      show(
        response.status(422),
        where,
        html`<p class="no" role="alert">
          The address must be one, and the secret must hold 24 bytes or more.
        </p>`,
      );
      return;
    }
    const books = karvello.books(where.side);
    const tells = [...TELLS];
    books.bells.push({
      id: `bell_${randomText(10)}`,
      account: where.account,
      address: address.trim(),
      secret: secret.trim(),
      tells,
    });
    karvello.shelf.changed();
    show(response, where, html`<p role="status">The bell hangs.</p>`);
  });
  router.post("/:side/bell/:id", (request, response) => {
    const where = read(request);
    if (!where) return void response.status(404).send("There is no such side.");
    const books = karvello.books(where.side);
    const at = books.bells.findIndex((one) => one.id === request.params.id && one.account === where.account);
    if (at < 0) return void response.status(404).send("There is no such bell.");
    if ((request.body as { what?: string }).what === "remove") books.bells.splice(at, 1);
    else
      ring(karvello, where.side, where.account, "bell.test", {
        tell: "bell.test",
        at: new Date(karvello.now()).toISOString(),
        about: null,
      });
    karvello.shelf.changed();
    show(response, where, html`<p role="status">Done.</p>`);
  });
  router.post("/:side/network", (request, response) => {
    const where = read(request);
    if (!where) return void response.status(404).send("There is no such side.");
    const account = karvello.books(where.side).accounts.find((one) => one.code === where.account);
    const network = (request.body as { network?: string }).network;
    const found = account?.networks.find((one) => one.network === network);
    if (!found) return void response.status(404).send("There is no such network.");
    found.on = !found.on;
    tellAccount(karvello, where);
    show(response, where, html`<p role="status">Done.</p>`);
  });
  router.post("/:side/review", (request, response) => {
    const where = read(request);
    if (!where) return void response.status(404).send("There is no such side.");
    const account = karvello.books(where.side).accounts.find((one) => one.code === where.account);
    const to = String((request.body as { to?: string }).to);
    if (account && isReview(to)) {
      account.review = to;
      account.open_for_business = to === "open";
      account.closed_because = closedBecause[to];
      tellAccount(karvello, where);
    }
    show(response, where);
  });
  return router;
}

/** Rings that something about the account has changed. */
function tellAccount(karvello: Karvello, { side, account }: { side: SideName; account: string }) {
  const review = karvello.books(side).accounts.find((one) => one.code === account)?.review;
  ring(karvello, side, account, "account.changed", {
    tell: "account.changed",
    at: new Date(karvello.now()).toISOString(),
    about: { code: account, review },
  });
}

const signInPage = (wrong?: string) =>
  page(
    "Sign in",
    html`<header><strong>KARVELLO</strong> card acceptance, simulated</header>
      <main>
        <h1>Sign in</h1>
        ${wrong && html`<p class="no" role="alert">${wrong}</p>`}
        <form method="post">
          <p>
            <label
              >E-mail<br /><input name="email" autocomplete="username" value="${dashboardLogin.email}"
            /></label>
          </p>
          <p>
            <label
              >Password<br /><input name="password" type="password" autocomplete="current-password"
            /></label>
          </p>
          <button>Come in</button>
        </form>
        <p>Nothing here is real. The password is <code>${dashboardLogin.password}</code>.</p>
      </main>`,
  );

function sidePage(karvello: Karvello, side: SideName, code: string, note?: Html): Html {
  const books = karvello.books(side);
  const account = books.accounts.find((one) => one.code === code);
  const slips = Object.values(books.slips)
    .filter((one) => books.backs[one.no]?.account === code)
    .reverse();
  const bells = books.bells.filter((one) => one.account === code);
  const keys = (list: { account: string; key: string; at: string }[], whole: boolean) =>
    list
      .filter((one) => one.account === code)
      .map(
        (one) =>
          html`<li>
            <code>${whole ? one.key : `…${one.key.slice(-4)}`}</code> issued ${one.at.slice(0, 16)}
          </li>`,
      );
  const hidden = html`<input type="hidden" name="account" value="${code}" />`;
  return html`<header>
      <strong>KARVELLO</strong>
      ${(["sandbox", "live"] as const).map((one) => html`<a href="/karvello/dashboard/${one}" ${one === side ? raw("aria-current=page") : ""}>${one === "sandbox" ? "Sandbox" : "Live"}</a>`)}
      <span>simulated</span>
    </header>
    <main>
      <h1>${account?.trading_as} (${side})</h1>
      ${note}
      <form class="row" method="get">
        <label
          >Account
          <select name="account">
            ${books.accounts.map((one) => html`<option value="${one.code}" ${one.code === code ? raw("selected") : ""}>${one.code} ${one.trading_as}</option>`)}
          </select></label
        ><button>Show</button>
      </form>
      <h2>Account</h2>
      <p>
        Account code <code id="account-code">${code}</code>, at home in ${account?.home}, takes
        ${(account?.coins ?? []).map((c) => `${c.coin} (paid out in ${c.pays_out_in})`).join(", ")}.
        ${account?.open_for_business ? "Open for business." : html`<strong class="no">Closed: ${account?.closed_because}.</strong>`}
      </p>
      <form class="row" method="post" action="/karvello/dashboard/${side}/review">
        ${hidden}${nextSteps[account?.review ?? "open"].map(([to, words]) => html`<button name="to" value="${to}">${words}</button>`)}
      </form>
      <h2>Networks</h2>
      <form class="row" method="post" action="/karvello/dashboard/${side}/network">
        ${hidden}${(account?.networks ?? []).map(({ network, on }) => html`<span>${network}: ${on ? "on" : "off"}</span><button name="network" value="${network}">Switch ${network} ${on ? "off" : "on"}</button>`)}
      </form>
      <h2>Frame keys</h2>
      <ul>
        ${keys(books.frameKeys, true)}
      </ul>
      <form method="post" action="/karvello/dashboard/${side}/keys">
        ${hidden}<button name="kind" value="frame">Issue a frame key</button>
      </form>
      <h2>Server keys</h2>
      <ul>
        ${keys(books.serverKeys, false)}
      </ul>
      <form method="post" action="/karvello/dashboard/${side}/keys">
        ${hidden}${allRights.map((right) => html`<label><input type="checkbox" name="right" value="${right}" checked /> ${right}</label>`)}
        <button name="kind" value="server">Issue a server key</button>
      </form>
      <h2>Bells (where Karvello rings when a slip moves)</h2>
      ${bells.map((bell) => html`<form class="row" method="post" action="/karvello/dashboard/${side}/bell/${bell.id}">${hidden}<code>${bell.address}</code><button name="what" value="test">Send a test</button><button name="what" value="remove">Take down</button></form>`)}
      <form class="row" method="post" action="/karvello/dashboard/${side}/bell">
        ${hidden}<label>Address<br /><input name="address" size="46" /></label
        ><label>Secret<br /><input name="secret" size="30" /></label><button>Hang a bell</button>
      </form>
      ${
        side === "live" &&
        html`<h2>Cards that have money here (a simulated world needs some)</h2>
          <table>
            ${karvello.cards("live").map(
              (card) =>
                html`<tr>
                  <td>${card.network}</td>
                  <td><code>${card.number.replace(/(.{4})(?=.)/g, "$1 ")}</code></td>
                  <td>${card.says}</td>
                </tr>`,
            )}
          </table>`
      }
      <h2>Slips</h2>
      <table>
        <thead>
          <tr>
            <th>No</th>
            <th>Your ref</th>
            <th>Sum</th>
            <th>Stand</th>
            <th>Card</th>
            <th>Made</th>
            <th>Rings</th>
          </tr>
        </thead>
        <tbody>
          ${slips.slice(0, 100).map(
            (slip) =>
              html`<tr>
                <td>${slip.no}</td>
                <td>${slip.your_ref}</td>
                <td class="sum">${slip.sum} ${slip.coin}</td>
                <td>${slip.stand}${slip.refusal ? ` (${slip.refusal.code})` : ""}</td>
                <td>${slip.card.network} …${slip.card.last}</td>
                <td>${slip.made_at.slice(0, 19)}</td>
                <td>
                  ${books.rings.filter((r) => r.body.includes(slip.no)).map((r) => html`${r.tell}: ${r.log.join(", ") || "waits"}<br />`)}
                </td>
              </tr>`,
          )}
        </tbody>
      </table>
    </main>`;
}
