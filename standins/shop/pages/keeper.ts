import { amountOf, deeds, deedsOf } from "../back-office";
import { type Html, html, raw } from "../../html";
import { type Manner, type Mode, type ShopOrder } from "../counter";
import { branches, type BranchId, branchOf, isBranch, money } from "../branches";
import { goods } from "../goods";

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
