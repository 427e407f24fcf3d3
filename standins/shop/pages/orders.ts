import { html } from "../../html";
import { partOf, type ShopOrder } from "../counter";
import { minorOf, money } from "../branches";
import { type Visit, wordsOf } from "./frame";

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
