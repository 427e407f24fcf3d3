import { type Html, html, raw } from "../../html";
import { type Embed } from "../counter";
import { branchOf, languageNames, money, priceIn } from "../branches";
import { deliveries, goodIn, goods, SHIPPING, taxIn } from "../goods";
import { sumOf, type Visit, wordsOf, priceFor, put } from "./frame";

export function basketPage(visit: Visit, embed: Embed | null): Html {
  const { basket, branch } = visit;
  const words = wordsOf(visit);
  const { currency } = branchOf(branch);
  const euro = (cents: number) => priceFor(cents, branch);
  const lines = goods.filter((good) => basket[good.id]);
  if (lines.length === 0)
    return html`<h1>${words.empty}</h1>
      <p><a href="/">${words.toShop}</a></p>`;
  const sum = sumOf(visit);
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
      <p><a class="go" href="/checkout">${words.toCheckout}</a></p>
    </div>`;
}

/** Where it goes and how, for what is in the basket. */
export function checkoutPage(
  visit: Visit,
  { wrong, embed = null }: { wrong?: string; embed?: Embed | null } = {},
): Html {
  const words = wordsOf(visit);
  const { countries, languages, currency } = branchOf(visit.branch);
  const total = goods.reduce((sum, good) => sum + good.cents * (visit.basket[good.id] ?? 0), SHIPPING);
  return html`<h1>${words.checkout}</h1>
    <div class="slip">
      <p class="stage">${words.sum} ${money(sumOf(visit), currency)}</p>
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
