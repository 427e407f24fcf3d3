import express, { type Response, type Router } from "express";
import { html } from "../../html";
import { page } from "../../kit/dashboard";
import { type House, type SideName } from "../../kit/house";
import { challengeOf, drawerOf, manner, newClient, randomCode } from "./purses";

const TOKEN_LIVES = 300;
/** Programs that may ask merchants for a link. */
const PROGRAMS = new Set(["zahlung"]);

/** OAuth 2.0: tokens by client credentials, links by authorisation code with PKCE, and the public keys. */
export function identityRoutes(house: House, side: SideName): Router {
  const router = express.Router();
  router.use(express.urlencoded({ extended: false, limit: "10kb" }));
  const no = (response: Response, status: number, error: string, error_description: string) =>
    void response.status(status).json({ error, error_description });
  const token = (response: Response, client: string) => {
    const access_token = randomCode();
    drawerOf(house, side).tokens[access_token] = {
      client,
      until: house.now().getTime() + TOKEN_LIVES * 1000,
    };
    house.changed();
    response
      .set("cache-control", "no-store")
      .json({ access_token, token_type: "Bearer", expires_in: TOKEN_LIVES });
  };
  router.get(
    "/keys",
    (_, response) => void response.json({ keys: drawerOf(house, side).keys.map((one) => one.jwk) }),
  );
  router.post("/token", (request, response) => {
    const form = request.body as Record<string, string>;
    const drawer = drawerOf(house, side);
    if (form.grant_type === "client_credentials") {
      const [id = "", secret = ""] = Buffer.from(
        /^Basic (.+)$/.exec(request.get("authorization") ?? "")?.[1] ?? "",
        "base64",
      )
        .toString()
        .split(":")
        .map(decodeURIComponent);
      const client = drawer.clients[id];
      if (client?.withdrawn)
        return no(response, 401, "access_withdrawn", "The merchant withdrew this program's access");
      if (!client && id.startsWith(side === "sandbox" ? "stag." : "prac."))
        return no(response, 401, "other_house", `This client is not for the ${manner.words[side]} side`);
      if (client?.secret !== secret)
        return no(response, 401, "invalid_client", "Client or secret are not known");
      return token(response, id);
    }
    if (form.grant_type === "authorization_code") {
      const code = drawer.codes[form.code ?? ""];
      delete drawer.codes[form.code ?? ""];
      if (!code || code.until < house.now().getTime() || code.returnTo !== form.redirect_uri)
        return no(response, 400, "invalid_grant", "The code is not known, or it is over");
      if (challengeOf(form.code_verifier ?? "") !== code.challenge)
        return no(response, 400, "invalid_grant", "The verifier does not fit the challenge");
      const client = newClient(house, side, code.merchant, "link");
      return token(response, client.id);
    }
    no(response, 400, "unsupported_grant_type", "Only authorization_code and client_credentials");
  });

  router.get("/agree", (request, response) => {
    const {
      client_id = "",
      redirect_uri = "",
      state = "",
      code_challenge = "",
      scope = "",
      ...rest
    } = request.query as Record<string, string>;
    const show = (body: ReturnType<typeof html>) =>
      page("Link a program · Pennywhistle", manner, html`<main>${body}</main>`);
    if (!PROGRAMS.has(client_id) || !URL.canParse(redirect_uri))
      return void response.status(400).send(show(html`<h1>Pennywhistle does not know this program.</h1>`));
    if (rest.response_type !== "code" || rest.code_challenge_method !== "S256" || !code_challenge)
      return void response
        .status(400)
        .send(show(html`<h1>This program asks in a way that is not safe.</h1>`));
    const hidden = Object.entries({ redirect_uri, state, code_challenge }).map(
      ([name, value]) => html`<input type="hidden" name="${name}" value="${value}" />`,
    );
    response.send(
      show(html`<h1>Shall ${client_id} take payments for you?</h1>
        <p>It asks for: ${scope || "everything"}. On the ${manner.words[side]} side. You can withdraw this at any time.</p>
        <form method="post" action="/pennywhistle/${side}/id/agree">
          ${hidden}
          <p>
            <label>Merchant<br /><select name="merchant">
              ${house.books(side).accounts.map((one) => html`<option value="${one.id}">${one.id} ${one.name}</option>`)}
            </select></label>
          </p>
          <button name="press" value="agree">Agree</button> <button name="press" value="refuse">Refuse</button>
        </form>`),
    );
  });
  router.post("/agree", (request, response) => {
    const {
      redirect_uri = "",
      state = "",
      code_challenge = "",
      merchant = "",
      press,
    } = request.body as Record<string, string>;
    if (!URL.canParse(redirect_uri)) return void response.status(400).send("There is nowhere to go back to.");
    const back = new URL(redirect_uri);
    back.searchParams.set("state", state);
    if (press === "agree" && house.account(side, merchant)) {
      const code = randomCode();
      drawerOf(house, side).codes[code] = {
        merchant,
        challenge: code_challenge,
        returnTo: redirect_uri,
        until: house.now().getTime() + 60_000,
      };
      house.changed();
      back.searchParams.set("code", code);
    } else {
      back.searchParams.set("error", "access_denied");
      back.searchParams.set("error_description", "The merchant refused");
    }
    response.redirect(303, back.href);
  });
  return router;
}
