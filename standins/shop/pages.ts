import { amountOf, deeds, deedsOf } from "./back-office";
import { type Html, html, raw } from "../html";
import { type Embed, type Manner, type Mode, partOf, type Plan, type ShopOrder } from "./counter";
import {
  branches,
  type BranchId,
  branchOf,
  isBranch,
  type Language,
  languageNames,
  minorOf,
  money,
  priceIn,
  shopWords,
} from "./branches";
import { deliveries, type Good, goodIn, goods, SHIPPING, taxIn } from "./goods";

/** Who shops where: the branch, the language, and whoever is signed in. */
export interface Visit {
  branch: BranchId;
  language: Language;
  customer: { id: string; group: string; name: string } | null;
  basket: Record<string, number>;
  /** A number of their own, which nobody else has. */
  shopper: string;
}

const wordsOf = ({ language }: Pick<Visit, "language">) => shopWords[language];
const priceFor = (cents: number, branch: BranchId) => {
  const { currency } = branchOf(branch);
  return money(priceIn(cents, currency), currency);
};

const style = raw(`
*{box-sizing:border-box}body{margin:0;font:17px/1.5 "Trebuchet MS",Verdana,sans-serif;color:#20303c;background:#dff0f6}
a{color:#084c7a}header{background:#ffd447;padding:.8rem 1rem;display:flex;gap:1rem;align-items:baseline;flex-wrap:wrap}header b{font-size:1.4rem}header a{color:#20303c}header nav{margin-left:auto;display:flex;gap:1rem;flex-wrap:wrap}
main{max-width:60rem;margin:0 auto;padding:1rem}h1{font-size:1.5rem;line-height:1.2}.goods{display:grid;grid-template-columns:repeat(auto-fill,minmax(15rem,1fr));gap:1rem;padding:0;list-style:none}
.goods li,.slip{background:#fff;border-radius:1.2rem;padding:1rem}svg{width:100%;height:8rem;fill:#f0602f}
button{font:inherit;font-weight:bold;background:#084c7a;color:#fff;border:0;border-radius:2rem;padding:.6rem 1.2rem;cursor:pointer}button.small{padding:.2rem .8rem;font-weight:normal}
input,select{font:inherit;padding:.45rem .6rem;border:1px solid #5b7484;border-radius:.6rem;max-width:100%;background:#fff;color:#20303c}label{display:block;margin:.6rem 0}
table{width:100%;border-collapse:collapse}td,th{padding:.35rem .3rem;text-align:left;border-bottom:1px solid #c7dbe4}td.sum,th.sum{text-align:right;white-space:nowrap}
.stage{font-size:1.4rem;font-weight:bold}.no{color:#a01d12}.ok{color:#1d5a28}:focus-visible{outline:3px solid #f0602f;outline-offset:2px}.wide{overflow-x:auto}
zahlung-notice{display:block;margin:.8rem 0;padding:.6rem .9rem;background:#eef6d8;border-radius:.8rem}zahlung-notice>*{display:block}zahlung-notice:not(:defined){padding-bottom:2.85rem}
zahlung-button{display:block;max-width:22rem;margin:.6rem 0;min-height:48px}zahlung-button[size=small]{min-height:40px}zahlung-button[size=large]{min-height:56px}`);

/** What the payment service has for a page, put in as it stands. */
const put = (embed: Embed | null) =>
  embed !== null && [...embed.notices, ...embed.buttons].map(({ markup }) => raw(markup));

export const page = (title: string, body: Html, visit: Visit, mode: Mode, embed: Embed | null = null) =>
  String(
    html`<!doctype html>
      <html lang="${visit.language}">
        <head>
          <meta charset="utf-8" />
          <meta name="viewport" content="width=device-width,initial-scale=1" />
          <title>${title} · Luvwinkel</title>
          <link rel="icon" href="data:," />
          <style>
            ${style}
          </style>
          ${
            embed !== null &&
            html`<script async src="${embed.script.address}" integrity="${embed.script.integrity}" crossorigin="anonymous"></script>`
          }
        </head>
        <body>
          <header>
            <b><a href="/" style="text-decoration:none">Luvwinkel</a></b
            ><span>${wordsOf(visit).motto}</span>
            ${switches(visit)}
            <nav>
              <a href="/basket">${wordsOf(visit).basket} (${Object.values(visit.basket).reduce((a, b) => a + b, 0)})</a
              ><a href="/sign-in">${visit.customer ? visit.customer.name : wordsOf(visit).signIn}</a
              ><a href="/seasons">${wordsOf(visit).seasons}</a
              >${visit.customer && html`<a href="/mine">${wordsOf(visit).mine}</a>`}<a href="/keeper/orders" lang="en">Orders</a
              ><a href="/keeper" lang="en">Shopkeeper (${mode})</a>
            </nav>
          </header>
          <main>${body}</main>
        </body>
      </html>`,
  );

/** The shops, each in its country and currency, and the languages of the one that is visited. */
const switches = ({ branch, language }: Visit) =>
  html`<form method="post" action="/visit">
    <label style="margin:0"
      ><span style="position:absolute;left:-999rem">${shopWords[language].currency}</span>
      <select name="branch">
        ${Object.keys(branches)
          .filter(isBranch)
          .map(
            (id) =>
              html`<option value="${id}" ${id === branch ? raw("selected") : ""}>${branchOf(id).name}, ${branchOf(id).currency}</option>`,
          )}
      </select></label
    >
    ${branchOf(branch).languages.map(
      (one) =>
        html`<button class="small" name="language" value="${one}" ${one === language ? raw('aria-pressed="true"') : ""}>${languageNames[one]}</button>`,
    )}
    <button class="small" name="go" value="yes">OK</button>
  </form>`;

/** Where dealers and clubs sign in. */
export const signInPage = (visit: Visit, wrong = false) => {
  const words = wordsOf(visit);
  return html`<h1>${words.signIn}</h1>
    <form class="slip" method="post" action="/sign-in">
      ${wrong && html`<p class="no" role="alert">${words.notKnown}</p>`}
      ${visit.customer && html`<p>${visit.customer.name}</p>`}
      <label>${words.word} <input name="word" autocomplete="off" /></label>
      <p>
        <button>${words.signIn}</button>
        ${visit.customer && html`<button name="out" value="yes">${words.signOut}</button>`}
      </p>
    </form>`;
};

export const frontPage = (visit: Visit, embed: Embed | null = null) =>
  html`<h1>${wordsOf(visit).today}</h1>
    ${put(embed)}
    ${branchOf(visit.branch).dealersOnly && visit.customer?.group !== "dealers" && html`<p>${wordsOf(visit).dealersOnly}</p>`}
    <ul class="goods">
      ${goods.map(
        (good) =>
          html`<li>
            <svg viewBox="0 0 100 100" aria-hidden="true"><path d="${good.shape}" /></svg>
            <h2><a href="/goods/${good.id}">${goodIn(good, visit.language).name}</a></h2>
            <p>${goodIn(good, visit.language).says}</p>
            <p><b>${priceFor(good.cents, visit.branch)}</b></p>
            <form method="post" action="/basket">
              <button name="add" value="${good.id}">${wordsOf(visit).toBasket}</button>
            </form>
          </li>`,
      )}
    </ul>`;

const unitOf = ({ count, unit }: Plan["every"], language: string) =>
  new Intl.NumberFormat(language, { style: "unit", unit, unitDisplay: "long" }).format(count);

/** What can be subscribed to. */
export const plansPage = (plans: readonly Plan[], visit: Visit, wrong = "") => {
  const words = wordsOf(visit);
  const { currency } = branchOf(visit.branch);
  return html`<h1>${words.seasons}</h1>
    ${wrong && html`<p class="no" role="alert">${wrong}</p>`}
    ${plans.length === 0 && html`<p>${words.noPlans}</p>`}
    ${plans.map((plan) => {
      const price = plan.prices.find((one) => one.currency === currency);
      const text = (amount: string) => money(minorOf(amount, currency), currency);
      return html`<form class="slip" method="post" action="/seasons">
        <h2>${plan.names[visit.language] ?? Object.values(plan.names)[0] ?? ""}</h2>
        <p>
          <b>${text(price?.amount ?? "0")}</b> / ${unitOf(plan.every, visit.language)}
          ${Number(price?.setUp) > 0 && html` + ${text(price?.setUp ?? "0")} ${words.once}`}
          ${plan.trialDays !== null && html` (${plan.trialDays} ${words.trial}: ${text(price?.trial ?? "0")})`}
        </p>
        <label>${words.email} <input name="email" type="email" value="ida@example.org" required /></label>
        <p><button name="plan" value="${plan.plan}">${words.subscribe}</button></p>
      </form>`;
    })}`;
};

interface Bought {
  purchase: string;
  currency: string;
  total: string;
  address: { country: string; postcode?: string; city?: string; lines?: string[] } | null;
  delivery: { name: string; price: string } | null;
}

/** What a shopper agreed to at a wallet, to be looked at once more. */
export const purchasePage = (body: Record<string, unknown>, visit: Visit) => {
  const words = wordsOf(visit);
  const { purchase, currency, total, address, delivery } = body as unknown as Bought;
  const written = (amount: string) => money(minorOf(amount, currency), currency);
  const where = [...(address?.lines ?? []), address?.postcode, address?.city, address?.country];
  return html`<h1>${words.lookOnceMore}</h1>
    <div class="slip">
      <p>${where.filter(Boolean).join(", ")}</p>
      <p>${delivery && `${delivery.name}, ${written(delivery.price)}`}</p>
      <p class="stage">${written(total)}</p>
      <form method="post" action="/purchase">
        <button name="purchase" value="${purchase}">${words.pay}</button>
        <a href="/basket">${words.basket}</a>
      </form>
    </div>`;
};

/** One thing that is sold. */
export const goodPage = (good: Good, visit: Visit, embed: Embed | null) =>
  html`<div class="slip">
    <svg viewBox="0 0 100 100" aria-hidden="true"><path d="${good.shape}" /></svg>
    <h1>${goodIn(good, visit.language).name}</h1>
    <p>${goodIn(good, visit.language).says}</p>
    <p class="stage">${priceFor(good.cents, visit.branch)}</p>
    ${put(embed)}
    <form method="post" action="/basket">
      <button name="add" value="${good.id}">${wordsOf(visit).toBasket}</button>
    </form>
  </div>`;

export function basketPage(
  visit: Visit,
  { wrong, embed = null }: { wrong?: string; embed?: Embed | null } = {},
): Html {
  const { basket, branch } = visit;
  const words = wordsOf(visit);
  const { countries, languages, currency } = branchOf(branch);
  const euro = (cents: number) => priceFor(cents, branch);
  const lines = goods.filter((good) => basket[good.id]);
  if (lines.length === 0)
    return html`<h1>${words.empty}</h1>
      <p><a href="/">${words.toShop}</a></p>`;
  const total = lines.reduce((sum, good) => sum + good.cents * (basket[good.id] ?? 0), SHIPPING);
  const sum = lines.reduce(
    (whole, good) => whole + priceIn(good.cents, currency) * (basket[good.id] ?? 0),
    priceIn(SHIPPING, currency),
  );
  return html`<h1>${words.basket}</h1>
    <div class="slip wide">
      <table>
        ${lines.map(
          (good) =>
            html`<tr>
              <td>${goodIn(good, visit.language).name}</td>
              <td>
                <form method="post" action="/basket">
                  <input type="hidden" name="set" value="${good.id}" /><input
                    name="count"
                    size="2"
                    inputmode="numeric"
                    aria-label="${words.count} ${goodIn(good, visit.language).name}"
                    value="${basket[good.id] ?? 0}"
                  />
                  <button class="small">${words.change}</button>
                </form>
              </td>
              <td class="sum">${money(priceIn(good.cents, currency) * (basket[good.id] ?? 0), currency)}</td>
            </tr>`,
        )}
        <tr>
          <td>${words.shipping}</td>
          <td></td>
          <td class="sum">${euro(SHIPPING)}</td>
        </tr>
        <tr>
          <th>${words.sum}</th>
          <th></th>
          <th class="sum">${money(sum, currency)}</th>
        </tr>
        <tr>
          <td>${words.tax}</td>
          <td></td>
          <td class="sum">${money(taxIn(sum), currency)}</td>
        </tr>
      </table>
      ${put(embed)}
      <form method="post" action="/orders">
        ${wrong && html`<p class="no" role="alert">${wrong}</p>`}
        <label
          >${words.email} <input name="email" type="email" autocomplete="email" value="ida@example.org" required
        /></label>
        <label
          >${words.country}
          <select name="country">
            ${countries.map((one) => html`<option>${one}</option>`)}
          </select></label
        >
        <label>${words.postcode} <input name="postcode" size="8" autocomplete="postal-code" /></label>
        <label
          >${words.delivery}
          <select name="delivery">
            ${deliveries.map((id) => html`<option value="${id}">${words[id]}</option>`)}
          </select></label
        >
        ${
          total > 15_000 &&
          html`<label><input type="checkbox" name="deposit" value="yes" /> ${words.deposit}</label>`
        }
        <label
          >${words.language}
          <select name="language">
            ${languages.map(
              (one) =>
                html`<option value="${one}" ${one === visit.language ? raw("selected") : ""}>${languageNames[one]}</option>`,
            )}
          </select></label
        >
        <button>${words.pay}</button>
      </form>
    </div>`;
}

/** Whether there is something to pay: nothing was, or of a deposit the rest. */
const mayPay = (order: ShopOrder) =>
  ["unpaid", "declined", "failed", "cancelled", "expired", "created"].includes(order.state) ||
  (order.deposit === true && order.state !== "pending" && order.state !== "refunded" && partOf(order) > 0);

export const orderPage = (order: ShopOrder, visit: Pick<Visit, "language">, wrong?: string) => {
  const words = wordsOf(visit);
  const euro = (minor: number) => money(minor, order.currency);
  return html`<h1>${words.order} ${order.no}</h1>
    ${wrong && html`<p class="no" role="alert">${wrong}</p>`}
    <div class="slip wide">
      <p>
        ${words.state}: <span class="stage" id="stage" role="status">${order.stage}</span>
        <span id="state">(${order.state})</span>
      </p>
      <table>
        ${order.lines.map(
          (line) =>
            html`<tr>
              <td>${line.quantity} × ${line.name}</td>
              <td class="sum">${euro(line.cents * line.quantity)}</td>
            </tr>`,
        )}
        <tr>
          <td>${words.shipping}</td>
          <td class="sum">${euro(order.shipping)}</td>
        </tr>
        <tr>
          <th>${words.sum}</th>
          <th class="sum">${euro(order.total)}</th>
        </tr>
      </table>
      ${
        mayPay(order) &&
        html`<form method="post" action="/orders/${order.no}/pay">
          ${order.deposit && html`<p>${words.now}: ${euro(partOf(order))}</p>`}
          <p><button>${words.pay}</button></p>
        </form>`
      }
    </div>
    <script async src="/order.js" data-no="${order.no}"></script>`;
};

/** Keeps the order's page as things are. */
export const orderScript = `const { no } = document.currentScript.dataset;
setInterval(async () => {
  const answer = await fetch("/orders/" + no + "/stage").catch(() => null);
  if (!answer?.ok) return;
  const now = await answer.json();
  document.getElementById("stage").textContent = now.stage;
  document.getElementById("state").textContent = "(" + now.state + ")";
}, 1200);
`;

/** The buttons of the back office for one order; each press has a number of its own. */
const deedForms = (order: ShopOrder) =>
  deedsOf(order).map(
    (deed) =>
      html`<form method="post" action="/keeper/orders/${order.no}">
        <input type="hidden" name="once" value="${order.no}-${deed}-${order.version}" />
        ${
          deed !== "cancel" &&
          html`<input name="amount" size="8" value="${amountOf(order, deed)}" aria-label="Amount, ${order.no}" />`
        }
        <button name="deed" value="${deed}">${deeds[deed]}</button>
      </form>`,
  );

export const keeperOrdersPage = (orders: ShopOrder[], says = "") =>
  html`<h1 lang="en">Orders</h1>
    ${says && html`<p role="status" lang="en">${says}</p>`}
    <div class="slip wide" lang="en">
      <table>
        <tr>
          <th>No</th>
          <th>Mode</th>
          <th>Stage</th>
          <th>State</th>
          <th class="sum">Total</th>
          <th class="sum">Held</th>
          <th class="sum">Paid</th>
          <th class="sum">Given back</th>
          <th>Heard</th>
          <th>Back office</th>
        </tr>
        ${orders.map(
          (one) =>
            html`<tr>
              <td><a href="/orders/${one.no}">${one.no}</a></td>
              <td>${one.mode}${one.closed && " (closed)"}${one.branch && one.branch !== "de" && `, ${branchOf(one.branch).name}`}</td>
              <td>${one.stage}</td>
              <td>${one.state}</td>
              <td class="sum">${money(one.total, one.currency)}</td>
              <td class="sum">${one.money?.held ?? ""}</td>
              <td class="sum">${one.money?.paid ?? ""}</td>
              <td class="sum">${one.money?.refunded ?? ""}</td>
              <td>${one.heard.length}</td>
              <td>${deedForms(one)}</td>
            </tr>`,
        )}
      </table>
      ${orders.length === 0 && html`<p>No orders yet.</p>`}
    </div>`;

export function keeperPage(
  state: {
    api: string;
    mode: Mode;
    keys: Record<Mode, string>;
    beside?: Partial<Record<BranchId, { keys: Record<Mode, string> }>>;
    files?: Record<string, string>;
    manner?: Manner;
  },
  says: string[] = [],
): Html {
  const hint = (key: string) => (key ? `kept, ends in ${key.slice(-4)}` : "none yet");
  return html`<div lang="en">
    <h1>Shopkeeper</h1>
    ${says.map((one) => html`<p class="${one.startsWith("Zahlung knows") ? "ok" : "no"}" role="status">${one}</p>`)}
    <form class="slip" method="post" action="/keeper">
      <label>Address of the shop API<br /><input name="api" size="40" value="${state.api}" /></label>
      <label
        >The shop that the keys are of<br />
        <select name="branch">
          ${Object.keys(branches)
            .filter(isBranch)
            .map((id) => html`<option value="${id}">${branchOf(id).name}</option>`)}
        </select></label
      >
      <label
        >Test key (${hint(state.keys.test)})<br /><input name="test" size="46" autocomplete="off"
      /></label>
      <label
        >Live key (${hint(state.keys.live)})<br /><input name="live" size="46" autocomplete="off"
      /></label>
      <fieldset>
        <legend>The shop takes payments in</legend>
        <label
          ><input type="radio" name="mode" value="test" ${state.mode === "test" ? raw("checked") : ""} />
          test</label
        >
        <label
          ><input type="radio" name="mode" value="live" ${state.mode === "live" ? raw("checked") : ""} />
          live</label
        >
      </fieldset>
      <p><button>Keep, and say hello to Zahlung</button></p>
    </form>
    <ul>
      ${Object.entries(state.beside ?? {}).map(
        ([id, { keys }]) =>
          isBranch(id) &&
          html`<li>${branchOf(id).name}: test key ${hint(keys.test)}, live key ${hint(keys.live)}</li>`,
      )}
    </ul>
    <h2>When a button asks</h2>
    <form class="slip" method="post" action="/keeper/manner">
      <label
        >Sold out, by id (${goods.map(({ id }) => id).join(", ")})<br /><input
          name="soldOut"
          size="40"
          value="${(state.manner?.soldOut ?? []).join(" ")}"
      /></label>
      <label
        >Milliseconds before the shop answers<br /><input
          name="slow"
          size="8"
          inputmode="numeric"
          value="${String(state.manner?.slow ?? 0)}"
      /></label>
      <p><button>Behave like that</button></p>
    </form>
    <h2>Files under /.well-known/</h2>
    <ul>
      ${Object.keys(state.files ?? {}).map((name) => html`<li><a href="/.well-known/${name}">${name}</a></li>`)}
    </ul>
    <form class="slip" method="post" action="/keeper/files">
      <label>Name<br /><input name="name" size="40" /></label>
      <label>Text<br /><textarea name="text" rows="5" cols="60"></textarea></label>
      <p><button>Put the file there</button></p>
    </form>
  </div>`;
}

/** What a shop tells everybody: where it stands, what it is called, and what it says. */
export const texts = [
  {
    path: "/agb",
    title: "Geschäftsbedingungen",
    says: [
      "Drachen werden verkauft, wie sie fliegen.",
      "Wer einen Drachen zurückschickt, bekommt sein Geld zurück.",
    ],
  },
  {
    path: "/terms",
    title: "Terms of sale",
    says: ["Kites are sold as they fly.", "Whoever sends a kite back gets the money back."],
  },
  {
    path: "/datenschutz",
    title: "Datenschutz",
    says: ["Namen und Anschriften bleiben in der Werkstatt und fliegen nicht davon."],
  },
  {
    path: "/privacy",
    title: "Privacy",
    says: ["Names and addresses stay in the loft and do not fly away."],
  },
] as const;

export const textPage = (title: string, says: readonly string[]) =>
  html`<h1>${title}</h1>
    <div class="slip">${says.map((one) => html`<p>${one}</p>`)}</div>`;
