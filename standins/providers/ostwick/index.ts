import { randomBytes } from "node:crypto";
import { dashboardRoutes, no, once, press, yes } from "../../kit/dashboard";
import { decimal, House, randomText, sides } from "../../kit/house";
import { Post } from "../../kit/notes";
import type { Provider } from "../../kit/provider";
import { html } from "../../html";
import { apiRoutes, orderFields } from "./api";
import { manner } from "./manner";
import { digestOf, ostwickCards, ostwickOutlets } from "./outlets";
import { pageRoutes } from "./page";
import { closeDay, keptOf } from "./statements";

/** Ostwick: cards on its own page, forms with a digest over the fields, its address set by hand. */
export function ostwick(origin: () => string, file?: string): Provider {
  const house = new House("ostwick", origin, ostwickOutlets, file);
  const post = new Post(
    house,
    (side, note) => {
      const bill = house.books(side).bills[String(note.content.no)];
      const fields = {
        NOTICE: note.id,
        KIND: note.kind,
        OUTLET: note.account,
        STAMP: house.now().toISOString(),
        ...(bill && orderFields(house, side, bill)),
      };
      const passphrase = house.account(side, note.account)?.keys.passphrase ?? "";
      const DIGEST = digestOf(note.spoilt ? randomBytes(8).toString("hex") : passphrase, fields);
      return {
        headers: { "content-type": "application/x-www-form-urlencoded" },
        body: new URLSearchParams({ ...fields, DIGEST }).toString(),
      };
    },
    "N",
  );
  return {
    house,
    manner,
    post,
    mount(app) {
      for (const side of sides) {
        app.use(`/ostwick/${side}/api`, apiRoutes(house, post, side));
        app.use(`/ostwick/${side}/page`, pageRoutes(house, post, side));
      }
      app.use(
        "/ostwick/dashboard",
        dashboardRoutes(
          house,
          manner,
          (desk) => {
            const { account, side } = desk;
            return [
              html`<h2>Numbers of this outlet</h2>
                <dl>
                  <dt>Terminal group</dt><dd><code id="group">${account.keys.group}</code></dd>
                  <dt>Outlet ID</dt><dd><code id="outlet-id">${account.id}</code></dd>
                  <dt>Merchant number at the acquiring bank</dt><dd><code id="merchant">${account.keys.merchant}</code></dd>
                </dl>`,
              html`<h2>Signing passphrase</h2>
                <p><code id="passphrase">${account.keys.passphrase}</code></p>
                ${press(house, desk, "passphrase", "Make a new passphrase")}`,
              html`<h2>Notification address</h2>
                <p>Ostwick sends each change of an order there, as a form with a digest.</p>
                ${press(house, desk, "address", "Keep the address", html`<label>Address<br /><input name="address" size="60" value="${account.address}" /></label>`)}
                ${press(house, desk, "test", "Send a test notice")}`,
              html`<h2>Credits by program</h2>
                ${press(house, desk, "refunds", account.keys.refunds === "on" ? "Switch credits by program off" : "Switch credits by program on")}`,
              html`<h2>Statements</h2>
                <table id="statements">
                  ${keptOf(house, side)
                    .statements.filter((one) => one.account === account.id)
                    .map(
                      ({ no, day, coin, sum, lines }) =>
                        html`<tr><td><code>${no}</code></td><td>${day.slice(0, 10)}</td><td class="sum">${decimal(sum, coin)} ${coin}</td><td>${lines.length} lines</td></tr>`,
                    )}
                </table>
                ${press(house, desk, "close-day", "Close the day")}`,
              html`<h2>Cards of this side</h2>
                <table>
                  ${ostwickCards(side).map((card) => html`<tr><td>${card.network}</td><td><code>${card.number.replace(/(.{4})(?=.)/g, "$1 ")}</code></td><td>${card.says}</td></tr>`)}
                </table>`,
            ];
          },
          {
            passphrase: ({ account, side }) => {
              account.keys.passphrase = `${side === "sandbox" ? "try" : "real"}~${randomText(24)}`;
              return once("The new passphrase holds from now on:", account.keys.passphrase);
            },
            address: ({ account }, { address = "" }) => {
              if (address.trim() && !URL.canParse(address.trim())) return no("This is not an address.");
              account.address = address.trim();
              return yes("The address is kept.");
            },
            test: ({ account, side }) => {
              if (!account.address) return no("There is no address yet.");
              post.send(side, account.id, account.address, "TEST", {});
              return yes("A test notice is on its way.");
            },
            "close-day": ({ account, side }) => {
              if (closeDay(house, side, account).length === 0) return no("There is nothing to credit.");
              post.send(side, account.id, account.address, "STATEMENT", {});
              return yes("The day is closed.");
            },
            refunds: ({ account }) => {
              account.keys.refunds = account.keys.refunds === "on" ? "off" : "on";
              return yes("Done.");
            },
          },
          (side, account) => post.send(side, account.id, account.address, "OUTLET", {}),
        ),
      );
    },
  };
}
