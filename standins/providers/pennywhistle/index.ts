import { html } from "../../html";
import { dashboardRoutes, no, once, press, yes } from "../../kit/dashboard";
import { House, randomText, sides } from "../../kit/house";
import { Post } from "../../kit/notes";
import type { Provider } from "../../kit/provider";
import { type Choice, shopperRoutes } from "../../kit/shopper";
import { errandRoutes } from "../../kit/errands";
import { apiRoutes } from "./api";
import { identityRoutes } from "./identity";
import { asking } from "./sessions";
import { detachedJws, drawerOf, manner, merchants, newClient, newKey, shownAs, tell } from "./purses";
import { endWord, payerAnswers } from "./standings";

export const payerChoices: Choice[] = [
  { does: "agree", words: "Agree and pay" },
  { does: "agree-then-empty", words: "Agree and pay; the purse is empty when it is charged again" },
  { does: "agree-then-asks", words: "Agree and pay; be asked when it is charged again" },
  { does: "empty", words: "Agree, with an empty purse" },
  { does: "blocked", words: "Agree, with a blocked purse" },
  { does: "refuse", words: "Refuse" },
  { does: "leave", words: "Back to the shop" },
];

/** Pennywhistle: a wallet by redirect, OAuth 2.0, messages as detached JWS. */
export function pennywhistle(origin: () => string, file?: string): Provider {
  const house = new House("pennywhistle", origin, merchants, file);
  const post = new Post(
    house,
    (side, note) => {
      const body = JSON.stringify({ event: note.kind, occurred: house.now().toISOString(), ...note.content });
      const key = note.spoilt ? newKey() : drawerOf(house, side).keys.at(-1);
      return {
        headers: {
          "content-type": "application/json",
          "pennywhistle-jws": detachedJws(key ?? newKey(), note.id, house.now(), body),
        },
        body,
      };
    },
    "msg-",
  );
  return {
    house,
    manner,
    post,
    mount(app) {
      for (const side of sides) {
        app.use(`/pennywhistle/${side}/api`, apiRoutes(house, post, side));
        app.use(`/pennywhistle/${side}/id`, identityRoutes(house, side));
        app.use(
          `/pennywhistle/${side}/agree`,
          shopperRoutes(house, side, manner, "Pay from your purse", payerChoices, (bill, does) => {
            const cannot = payerAnswers(house, side, bill, does);
            if (!cannot) tell(post, house, side, bill);
            return cannot;
          }),
        );
        app.use(
          `/pennywhistle/${side}/errand`,
          errandRoutes(
            ...([house, side, manner, asking] as const),
            payerChoices.filter(({ does }) => ["agree", "empty", "blocked"].includes(does)),
            () => undefined,
          ),
        );
      }
      const tellAccount = (side: "sandbox" | "live", account: { id: string }) => {
        for (const hook of house.books(side).hooks.filter((one) => one.account === account.id))
          post.send(side, account.id, hook.to, "merchant.changed", {});
      };
      app.use(
        "/pennywhistle/dashboard",
        dashboardRoutes(
          house,
          manner,
          (desk) => {
            const { account, side } = desk;
            const clients = Object.entries(drawerOf(house, side).clients).filter(
              ([, one]) => one.merchant === account.id,
            );
            const hooks = house.books(side).hooks.filter((one) => one.account === account.id);
            return [
              html`<h2>Programs with access</h2>
                <p>Merchant <code id="merchant">${account.id}</code></p>
                ${clients.map(
                  ([
                    id,
                    one,
                  ]) => html`<dl><dt>Client ID</dt><dd><code class="client-id">${id}</code></dd><dt>Client secret</dt><dd><code class="client-secret">${one.secret}</code></dd><dt>By</dt><dd>${one.by}${one.withdrawn ? ", withdrawn" : ""}</dd></dl>
                  ${!one.withdrawn && press(house, desk, "withdraw", "Withdraw its access", html`<input type="hidden" name="client" value="${id}" />`)}`,
                )}
                ${press(house, desk, "client", "Make a client")}`,
              html`<h2>Hooks</h2>
                ${hooks.map((hook) => press(house, desk, "unhook", "Take off", html`<input type="hidden" name="hook" value="${hook.id}" /><code>${hook.to}</code>`))}
                ${press(house, desk, "hook", "Put a hook on", html`<label>Address<br /><input name="to" size="60" /></label>`)}`,
              html`<h2>Standing words</h2>
                ${Object.entries(drawerOf(house, side).standings)
                  .filter(([, one]) => one.account === account.id)
                  .map(([id, one]) =>
                    press(
                      house,
                      desk,
                      "unword",
                      "As the payer, end it",
                      html`<input type="hidden" name="word" value="${id}" />${shownAs(one.purse)} <code>${id}</code>`,
                    ),
                  )}`,
              html`<h2>Signing keys</h2>
                <p>${drawerOf(house, side)
                  .keys.map((one) => one.kid)
                  .join(", ")}; the last one signs.</p>
                ${press(house, desk, "turn", "Take a new signing key")}`,
            ];
          },
          {
            client: ({ side, account }) => {
              const { id, secret } = newClient(house, side, account.id, "hand");
              return once("Client ID and client secret:", `${id}  ${secret}`);
            },
            withdraw: ({ side }, { client = "" }) => {
              const found = drawerOf(house, side).clients[client];
              if (!found) return no("There is no such client.");
              found.withdrawn = true;
              return yes("Its access is withdrawn.");
            },
            hook: ({ side, account }, { to = "" }) => {
              if (!URL.canParse(to.trim())) return no("This is not an address.");
              house
                .books(side)
                .hooks.push({ id: `hook-${randomText(8)}`, account: account.id, to: to.trim(), kinds: [] });
              return yes("The hook is on.");
            },
            unhook: ({ side }, { hook }) => {
              const { hooks } = house.books(side);
              const at = hooks.findIndex((one) => one.id === hook);
              if (at >= 0) hooks.splice(at, 1);
              return yes("The hook is off.");
            },
            unword: ({ side, account }, { word = "" }) =>
              endWord(house, side, account.id, word, post)
                ? yes("The payer’s standing word is over.")
                : no("There is no such standing word."),
            turn: ({ side }) => {
              drawerOf(house, side).keys.push(newKey());
              return yes("From now on the new key signs; the old one stays in the set.");
            },
          },
          tellAccount,
        ),
      );
    },
  };
}
