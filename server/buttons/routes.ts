import express, { type Request, type Response, type Router } from "express";
import { deviceSaid } from "#core/orders/device";
import { ProfileError } from "#core/profiles/expressions";
import { sessionAnswer, sessionQuestion } from "#core/profiles/session-reading";
import { said } from "#core/said";
import { readPass } from "../embed/pass";
import { exchangeRow, recorded } from "../exchanges/exchanges";
import type { Runtime } from "../runtime";
import { escaped } from "../embed/escaped";
import { pressButton } from "./open";
import { priceSession } from "./price";
import { lineOfSession, sessionByAskToken } from "./sessions";

/** What wallets ask while a shopper chooses. The address is told to the wallet alone, and for one purchase. */
export function walletRoutes(rt: Runtime): Router {
  const router = express.Router();
  router.use(express.text({ type: () => true, limit: "50kb" }));
  router.post("/:token", async (request, response) => {
    try {
      await answerWallet(rt, request, response);
    } catch (error) {
      rt.log.error({ err: error }, "a wallet's question failed");
      response.status(503).json({ error: "This cannot be told just now." });
    }
  });
  return router;
}

async function answerWallet(rt: Runtime, request: Request, response: Response): Promise<void> {
  const session = await sessionByAskToken(rt, String(request.params.token));
  const line = session && (await lineOfSession(rt, session));
  if (!session || !line) return void response.status(404).json({ error: "There is no such purchase." });
  const at = rt.now();
  const text = typeof request.body === "string" ? request.body : "";
  const answer = async (status: number, body: unknown, ok: boolean) => {
    const secrets = [session.askToken, session.token];
    await rt.db.write([
      exchangeRow(rt, {
        ...{ at, duration: rt.now() - at, from: "provider", to: "zahlung", label: said("buttons.asked") },
        ...{ mode: session.mode, connectionId: session.connectionId, ok },
        request: recorded(
          { method: "POST", url: request.originalUrl, headers: headersOf(request), body: text },
          secrets,
        ),
        response: recorded({ status, headers: [], body: JSON.stringify(body) }, secrets),
      }),
    ]);
    response.status(status).json(body);
  };
  try {
    const question = await sessionQuestion(line.profile, parsed(text));
    const told = await priceSession(rt, session, question);
    await answer(200, await sessionAnswer(line.profile, told), told.refused === null);
  } catch (error) {
    if (!(error instanceof ProfileError)) throw error;
    await answer(422, { error: "This question cannot be read." }, false);
  }
}

const headersOf = (request: Request): [string, string][] =>
  Object.entries(request.headers).flatMap(([name, value]) =>
    typeof value === "string" ? [[name, value]] : [],
  );

function parsed(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return {};
  }
}

const asText = (value: unknown): string => (typeof value === "string" ? value : "");

/**
 * A press on a button: from the script, which is answered with where to go; or of a form without any script, whose browser is
 * led there by a page.
 */
export async function takePress(rt: Runtime, request: Request, response: Response): Promise<void> {
  const { token, offer } = (request.body ?? {}) as Record<string, unknown>;
  const pass = readPass(rt, asText(token));
  const byScript = request.get("accept")?.includes("application/json") ?? false;
  const turnAway = (status: number, says: string) =>
    byScript
      ? void response.status(status).json({ error: says })
      : void response.status(status).type("text/plain").send(says);
  // Nothing is told to a page of another origin, nor that the pass is one.
  if (!pass || request.get("origin") !== pass.origin)
    return turnAway(403, "This page may not ask for that, or no longer.");
  response.set("access-control-allow-origin", pass.origin);
  const pressed = await pressButton(
    rt,
    pass,
    asText(offer),
    deviceSaid((name) => request.get(name)),
  );
  if (pressed.kind === "refused") {
    if (byScript)
      return void response.status(409).json({ error: "This cannot be bought that way just now." });
    return leadTo(response, pass.buys?.returnAddress ?? pass.origin);
  }
  if (byScript) return void response.json({ address: pressed.address });
  leadTo(response, pressed.address);
}

/** Leads a browser on by a page of ours, for a shop may allow its forms to lead to Zahlung and to nobody beyond. */
function leadTo(response: Response, address: string): void {
  response
    .set({ "content-security-policy": "default-src 'none'", "referrer-policy": "no-referrer" })
    .type("text/html")
    .send(
      `<!doctype html><meta charset="utf-8"><meta http-equiv="refresh" content="0;url=${escaped(address)}"><title>…</title><a href="${escaped(address)}">→</a>`,
    );
}
