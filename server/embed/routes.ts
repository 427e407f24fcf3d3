import express, { type Request, type Response, type Router } from "express";
import { RateLimiterMemory } from "rate-limiter-flexible";
import type { Runtime } from "../runtime";
import { mustStand } from "../storefronts/now";
import { takePress } from "../buttons/routes";
import { isNoticePlace } from "#core/offers/notices";
import { noticesFor } from "./notices";
import { readPass } from "./pass";

/** How long a page waits for a provider, milliseconds; and how often one address may ask in a second. */
const PATIENCE = 3_000;
const ASKS_PER_SECOND = 40;

/** What shops' own pages fetch: the script, and what its elements show. */
export function embedRoutes(rt: Runtime): Router {
  const router = express.Router();
  const { bytes, path } = rt.embed;
  router.get("/v1.js", (request, response) => {
    const isThis = request.originalUrl === path;
    response.set({
      "content-type": "text/javascript; charset=utf-8",
      "access-control-allow-origin": "*",
      "cross-origin-resource-policy": "cross-origin",
      // Under the address that names it, it never changes.
      "cache-control": isThis ? "public, max-age=31536000, immutable" : "public, max-age=3600",
    });
    response.send(bytes);
  });
  const pace = new RateLimiterMemory({ points: ASKS_PER_SECOND, duration: 1 });
  const mayAsk = (request: Request): Promise<boolean> =>
    pace.consume(request.ip ?? "unknown").then(
      () => true,
      () => false,
    );
  router.get("/v1/notice", async (request, response) => {
    try {
      response.set({ vary: "Origin", "cache-control": "private, no-store" });
      const may = await mayAsk(request);
      if (!may) return void refuse(response, 429, "Too many at once. Come back in a second.");
      await giveNotice(rt, request, response);
    } catch (error) {
      rt.log.error({ err: error }, "a notice failed");
      refuse(response, 503, "This cannot be told just now.");
    }
  });
  router.post(
    "/v1/press",
    express.urlencoded({ extended: false, limit: "100kb" }),
    async (request, response) => {
      try {
        response.set({ vary: "Origin", "cache-control": "private, no-store" });
        const may = await mayAsk(request);
        if (!may) return void refuse(response, 429, "Too many at once. Come back in a second.");
        await takePress(rt, request, response);
      } catch (error) {
        rt.log.error({ err: error }, "a press failed");
        refuse(response, 503, "This is not possible just now.");
      }
    },
  );
  router.use((_, response) => refuse(response, 404, "There is nothing at this address."));
  return router;
}

const refuse = (response: Response, status: number, says: string): void =>
  void response.status(status).type("text/plain").send(says);

const asText = (value: unknown): string => (typeof value === "string" ? value : "");

async function giveNotice(rt: Runtime, request: Request, response: Response): Promise<void> {
  const pass = readPass(rt, asText(request.query.token));
  // Nothing is told to a page of another origin, nor that the pass is one.
  if (!pass || request.get("origin") !== pass.origin)
    return refuse(response, 403, "This page may not ask for that, or no longer.");
  response.set("access-control-allow-origin", pass.origin);
  const { storefrontId, mode, place, cart } = pass;
  if (!isNoticePlace(place)) return void response.json(null);
  const asked = { ...cart.asked, at: rt.now() };
  const now = await mustStand(rt, storefrontId);
  const all = await noticesFor(rt, now, { mode, place, cart: { ...cart, asked } }, PATIENCE);
  const offer = asText(request.query.offer);
  response.json((offer === "" ? all[0] : all.find((one) => one.offer === offer)) ?? null);
}
