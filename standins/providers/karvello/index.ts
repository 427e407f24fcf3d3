import { html } from "../../html";
import { dashboardRoutes, type Desk, no, once, press, yes } from "../../kit/dashboard";
import { decimal, randomText, sides } from "../../kit/house";
import { Fault, type Provider } from "../../kit/provider";
import { apiRoutes } from "./api";
import { bells, canSign, ring, ringTest, takeDown, TELLS } from "./bells";
import { allRights, Karvello, type OpensToken } from "./books";
import { frameRoutes } from "./frame";
import { manner } from "./manner";
import { play } from "./play";
import { renew } from "./slips";
import { moveLast, sendOut } from "./sendings";

const happenings = {
  complain: "The card holder complains",
  "for-shop": "The bank decides for the shop",
  "for-holder": "The bank decides for the card holder",
  lapse: "What is held ends by itself",
  clear: "The look for misuse finds nothing",
  stop: "The look for misuse stops it",
};

/** Karvello: cards, typed into its own frame. */
export function karvello(origin: () => string, file?: string, opensToken?: OpensToken): Provider {
  const house = new Karvello(origin, file, opensToken);
  const post = bells(house);
  const sections = (desk: Desk) => {
    const { side, account } = desk;
    const mine = <One extends { account: string }>(all: readonly One[]) =>
      all.filter((one) => one.account === account.id);
    const { frameKeys, serverKeys } = house.drawer(side);
    return [
      html`<h2>Account code</h2>
        <p><code id="account-code">${account.id}</code></p>`,
      html`<h2>Frame keys</h2>
        <ul>
          ${mine(frameKeys).map(({ key, at }) => html`<li><code>${key}</code> issued ${at.slice(0, 16)}</li>`)}
        </ul>
        ${press(house, desk, "frame-key", "Issue a frame key")}`,
      html`<h2>Server keys</h2>
        <ul>
          ${mine(serverKeys).map(({ key, at }) => html`<li><code>…${key.slice(-4)}</code> issued ${at.slice(0, 16)}</li>`)}
        </ul>
        ${press(
          house,
          desk,
          "server-key",
          "Issue a server key",
          html`${allRights.map((right) => html`<label><input type="checkbox" name="right" value="${right}" checked /> ${right}</label>`)}`,
        )}`,
      html`<h2>Bells (where Karvello rings when a slip moves)</h2>
        ${mine(house.books(side).hooks).map((bell) => html`<div><code>${bell.to}</code> ${press(house, desk, "take-down", "Take down", html`<input type="hidden" name="bell" value="${bell.id}" />`)}</div>`)}
        ${mine(house.books(side).hooks).length > 0 && press(house, desk, "test", "Send a test")}
        ${press(house, desk, "bell", "Hang a bell", html`<label>Address<br /><input name="address" size="46" /></label><label>Secret<br /><input name="secret" size="30" /></label>`)}`,
      html`<h2>What banks and time do to a slip</h2>
        ${press(house, desk, "play", "Let it happen", html`<label>Slip<br /><input name="slip" size="16" /></label><label>What<br /><select name="what">${Object.entries(happenings).map(([name, words]) => html`<option value="${name}">${words}</option>`)}</select></label>`)}`,
      html`<h2>Kept cards</h2>
        <ul id="kept-cards">
          ${Object.entries(house.drawer(side).kept)
            .filter(([, one]) => one.account === account.id)
            .map(
              ([no, { number }]) =>
                html`<li><code>${no}</code> …${number.slice(-4)} ${press(house, desk, "renew", "A new card comes", html`<input type="hidden" name="card" value="${no}" />`)} ${press(house, desk, "lose", "It is taken away", html`<input type="hidden" name="card" value="${no}" />`)}</li>`,
            )}
        </ul>`,
      html`<h2>Sendings to the bank account</h2>
        <table id="sendings">
          ${mine(house.drawer(side).sendings).map(({ no, day, coin, sum, stand, lines }) => html`<tr><td><code>${no}</code></td><td>${day.slice(0, 10)}</td><td class="sum">${decimal(sum, coin)} ${coin}</td><td>${lines.length} lines</td><td>${stand}</td></tr>`)}
        </table>
        ${press(house, desk, "send-out", "Send out what is due")}
        ${press(house, desk, "bounce", "The bank sends the last one back")}
        ${press(house, desk, "send-again", "Send the last one once more")}`,
      side === "live"
        ? html`<h2>Cards that have money here (a simulated world needs some)</h2>
            <table>
              ${house.cards("live").map((card) => html`<tr><td>${card.network}</td><td><code>${card.number.replace(/(.{4})(?=.)/g, "$1 ")}</code></td><td>${card.says}</td></tr>`)}
            </table>`
        : html``,
    ];
  };
  return {
    house,
    manner,
    post,
    mount(app) {
      for (const side of sides) {
        const counter = { karvello: house, post, side };
        app.use(`/karvello/${side}/api`, apiRoutes(counter));
        app.use(`/karvello/${side}`, frameRoutes(counter));
      }
      app.use(
        "/karvello/dashboard",
        dashboardRoutes(
          house,
          manner,
          sections,
          {
            "frame-key": ({ side, account }) =>
              once("Your new frame key:", house.issue(side, account.id, "frame")),
            "server-key": ({ side, account }, form) => {
              const asked = [form.right ?? [...allRights]].flat();
              const rights = allRights.filter((right) => asked.includes(right));
              return once(
                "Your new server key. It is shown this once and never again:",
                house.issue(side, account.id, "server", rights),
              );
            },
            bell: ({ side, account }, form) => {
              const [to, secret] = [form.address, form.secret].map((one) => (one ?? "").trim());
              if (!to || !secret || !URL.canParse(to) || !canSign(secret))
                return no("The address must be one, and the secret must hold 24 bytes or more.");
              const id = `bell_${randomText(10)}`;
              house.books(side).hooks.push({ id, account: account.id, to, secret, kinds: [...TELLS] });
              return yes("The bell hangs.");
            },
            play: ({ side, account }, { slip = "", what = "" }) => {
              const bill = house.books(side).bills[slip.trim()];
              if (bill?.account !== account.id) return no("There is no such slip.");
              try {
                play({ karvello: house, post, side }, bill, what);
                return yes("It has happened.");
              } catch (error) {
                if (!(error instanceof Fault)) throw error;
                return no(`${error.message}.`);
              }
            },
            renew: ({ side, account }, { card = "" }) =>
              renew({ karvello: house, post, side }, account.id, card, "replaced")
                ? yes("A new card came.")
                : no("No such card is kept."),
            lose: ({ side, account }, { card = "" }) =>
              renew({ karvello: house, post, side }, account.id, card, "gone")
                ? yes("It is gone.")
                : no("No such card is kept."),
            "send-out": ({ side, account }) =>
              sendOut(house, post, side, account).length > 0 ? yes("Sent.") : no("Nothing is due."),
            bounce: (desk) =>
              moveLast(house, post, desk, "bounced") ? yes("It came back.") : no("Nothing was sent yet."),
            "send-again": (desk) =>
              moveLast(house, post, desk, "landed") ? yes("Sent once more.") : no("Nothing was sent yet."),
            test: ({ side, account }) => {
              ringTest(post, side, account.id);
              return yes("Done.");
            },
            "take-down": ({ side, account }, { bell = "" }) =>
              takeDown(post, side, account.id, bell) ? yes("Done.") : no("There is no such bell."),
          },
          (side, { id, review }) => ring(post, side, id, "account.changed", { code: id, review }),
        ),
      );
    },
  };
}
