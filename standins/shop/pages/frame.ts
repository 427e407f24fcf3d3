import { type Html, html, raw } from "../../html";
import { type Embed, type Mode } from "../counter";
import { goodIn, goods, SHIPPING } from "../goods";
import {
  branches,
  type BranchId,
  branchOf,
  isBranch,
  type Language,
  languageNames,
  money,
  priceIn,
  shopWords,
} from "../branches";

/** Who shops where: the branch, the language, and whoever is signed in. */
export interface Visit {
  branch: BranchId;
  language: Language;
  customer: { id: string; group: string; name: string } | null;
  basket: Record<string, number>;
  /** A number of their own, which nobody else has. */
  shopper: string;
}

export const wordsOf = ({ language }: Pick<Visit, "language">) => shopWords[language];
export const priceFor = (cents: number, branch: BranchId) => {
  const { currency } = branchOf(branch);
  return money(priceIn(cents, currency), currency);
};

const style = raw(`
*{box-sizing:border-box}body{margin:0;font:17px/1.5 "Trebuchet MS",Verdana,sans-serif;color:#20303c;background:#dff0f6}
a{color:#084c7a}header{background:#ffd447;padding:.8rem 1rem;display:flex;gap:1rem;align-items:baseline;flex-wrap:wrap}header b{font-size:1.4rem}header a{color:#20303c}header nav{margin-left:auto;display:flex;gap:1rem;flex-wrap:wrap}
main{max-width:60rem;margin:0 auto;padding:1rem}h1{font-size:1.5rem;line-height:1.2}.goods{display:grid;grid-template-columns:repeat(auto-fill,minmax(15rem,1fr));gap:1rem;padding:0;list-style:none}
.goods li,.slip{background:#fff;border-radius:1.2rem;padding:1rem}svg{width:100%;height:8rem;fill:#f0602f}
button{font:inherit;font-weight:bold;background:#084c7a;color:#fff;border:0;border-radius:2rem;padding:.6rem 1.2rem;cursor:pointer}a.go{display:inline-block;background:#084c7a;color:#fff;font-weight:bold;border-radius:2rem;padding:.6rem 1.2rem;text-decoration:none}summary{cursor:pointer;font-weight:bold}details.slip{margin-bottom:1rem}button.small{padding:.2rem .8rem;font-weight:normal}
input,select{font:inherit;padding:.45rem .6rem;border:1px solid #5b7484;border-radius:.6rem;max-width:100%;background:#fff;color:#20303c}label{display:block;margin:.6rem 0}
table{width:100%;border-collapse:collapse}td,th{padding:.35rem .3rem;text-align:left;border-bottom:1px solid #c7dbe4}td.sum,th.sum{text-align:right;white-space:nowrap}
.stage{font-size:1.4rem;font-weight:bold}.no{color:#a01d12}.ok{color:#1d5a28}:focus-visible{outline:3px solid #f0602f;outline-offset:2px}.wide{overflow-x:auto}
zahlung-notice{display:block;margin:.8rem 0;padding:.6rem .9rem;background:#eef6d8;border-radius:.8rem}zahlung-notice>*{display:block}zahlung-notice:not(:defined){padding-bottom:2.85rem}
zahlung-button{display:block;max-width:22rem;margin:.6rem 0;min-height:48px}zahlung-button[size=small]{min-height:40px}zahlung-button[size=large]{min-height:56px}`);

/** The one script of a page, whatever it puts in. */
const scriptOf = (embed: Embed | null | undefined) =>
  embed &&
  html`<script async fetchpriority="high" src="${embed.script.address}" integrity="${embed.script.integrity}" crossorigin="anonymous"></script>`;

/** What the payment service has for a page, put in as it stands. */
export const put = (embed: Embed | null) =>
  embed !== null && [...embed.notices, ...embed.buttons].map(({ markup }) => raw(markup));

/** What the payment service has for a page, and for the small basket that stands on it where there is one. */
export interface Puts {
  embed?: Embed | null;
  small?: Embed | null;
}

export const page = (title: string, body: Html, visit: Visit, mode: Mode, { embed, small }: Puts = {}) =>
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
          ${scriptOf(embed ?? small)}
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
          <main>${small !== undefined && smallBasket(visit, small)} ${body}</main>
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

/** What everything in the basket comes to, sent home, in minor units. */
export const sumOf = ({ basket, branch }: Visit): number => {
  const { currency } = branchOf(branch);
  return goods.reduce(
    (sum, good) => sum + priceIn(good.cents, currency) * (basket[good.id] ?? 0),
    priceIn(SHIPPING, currency),
  );
};

/** The basket in short, on the pages where one is still looking. */
const smallBasket = (visit: Visit, embed: Embed | null) => {
  const words = wordsOf(visit);
  const { currency } = branchOf(visit.branch);
  const lines = goods.filter((good) => visit.basket[good.id]);
  return (
    lines.length > 0 &&
    html`<details class="slip">
      <summary>${words.inBasket}: ${money(sumOf(visit), currency)}</summary>
      <ul>
        ${lines.map((good) => html`<li>${visit.basket[good.id] ?? 0} × ${goodIn(good, visit.language).name}</li>`)}
        <li>${words.shipping} ${priceFor(SHIPPING, visit.branch)}</li>
      </ul>
      ${put(embed)}
      <p><a href="/checkout">${words.toCheckout}</a></p>
    </details>`
  );
};
