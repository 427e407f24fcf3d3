import express, { type NextFunction, type Request, type Response, type Router } from "express";
import { RateLimiterMemory, type RateLimiterRes } from "rate-limiter-flexible";
import * as yup from "yup";
import { sign } from "#core/webhooks/standard-webhooks";
import { VerificationError } from "#core/webhooks/errors";
import { DatabaseAway, isPassing } from "../database/writes";
import type { Runtime } from "../runtime";
import { mustStand } from "../storefronts/now";
import { callerOf, declareStages, setNewsAddress } from "../storefronts/storefronts";
import { addressRefused } from "../wire/addresses";
import {
  actOnPayment,
  isActionKind,
  listEvents,
  listOrders,
  listPaymentsForShop,
  postEventAgain,
  postNewsTest,
  postCancel,
  postExpire,
} from "./back-office";
import { type Call, type Handler, notFound, read } from "./call";
import { askOffers, getCheckout, getOrder, getPayment, postCheckout } from "./checkouts";
import { postEmbeds } from "./embeds";
import { openApi } from "./openapi";
import {
  deleteInstrument,
  deleteShopper,
  listInstruments,
  postShopperPage,
  putName,
  putUsual,
} from "./shoppers";
import {
  actOnSubscription,
  changeSubscription,
  changeSubscriptionInstrument,
  getSubscription,
  listPlans,
  listSubscriptions,
  postSubscription,
} from "./subscriptions";
import { isSubscriptionAct } from "../subscriptions/change";
import { getPurchase, postConfirm } from "./purchases";
import { fieldsRefused, problem, ProblemError, sendProblem } from "./problem";

/** The shop API, version 1. */
export function shopApi(rt: Runtime): Router {
  const router = express.Router();
  router.get("/openapi.json", (_, response) => void response.json(openApi(rt.settings.origin)));
  router.use((request, response, next) => {
    // Some requests need no body.
    const none = request.get("transfer-encoding") === undefined && !Number(request.get("content-length"));
    if (none || !["POST", "PUT"].includes(request.method) || request.is("application/json")) return next();
    sendProblem(response, problem(415, "not-json", "Not JSON", "Send application/json."));
  });
  router.use(express.json({ limit: "500kb" }));
  const pace = new RateLimiterMemory({ points: rt.settings.shopCallsPerSecond, duration: 1 });
  const on = (handler: Handler) => async (request: Request, response: Response, next: NextFunction) => {
    try {
      const call = await authenticate(rt, request);
      pace.points = rt.settings.shopCallsPerSecond;
      const busy = await pace.consume(call.caller.keyId).then(
        () => null,
        (reached: RateLimiterRes) => reached,
      );
      if (busy) return tooMany(rt, response, busy.msBeforeNext);
      const { status, body } = await handler(request, call);
      // Not by Express, which would make an entity tag of it that nobody asks for.
      response
        .status(status)
        .setHeader("content-type", "application/json; charset=utf-8")
        .end(JSON.stringify(body));
    } catch (error) {
      next(error);
    }
  };
  router.get(
    "/storefront",
    on(async (_, call) => ({ status: 200, body: describe(call) })),
  );
  router.put(
    "/stages",
    on((request, call) => putStages(rt, request, call)),
  );
  router.put(
    "/news-address",
    on((request, call) => putNewsAddress(rt, request, call)),
  );
  router.post(
    "/news-address/test",
    on((_, call) => postNewsTest(rt, call)),
  );
  router.post(
    "/events/:id/again",
    on((request, call) => postEventAgain(rt, request, call)),
  );
  router.post(
    "/offers",
    on((request, call) => askOffers(rt, request, call)),
  );
  router.post(
    "/embeds",
    on((request, call) => postEmbeds(rt, request, call)),
  );
  router.post(
    "/checkouts",
    on((request, call) => postCheckout(rt, request, call)),
  );
  router.get(
    "/checkouts/:id",
    on((request, call) => getCheckout(rt, request, call)),
  );
  router.get(
    "/orders",
    on((request, call) => listOrders(rt, request, call)),
  );
  router.post(
    "/orders/:reference/cancel",
    on((request, call) => postCancel(rt, request, call)),
  );
  router.post(
    "/checkouts/:id/expire",
    on((request, call) => postExpire(rt, request, call)),
  );
  router.get(
    "/payments",
    on((request, call) => listPaymentsForShop(rt, request, call)),
  );
  router.post(
    "/payments/:id/:act",
    on((request, call) => {
      const kind = String(request.params.act);
      if (!isActionKind(kind)) throw notFound("act");
      return actOnPayment(rt, request, call, kind);
    }),
  );
  router.get(
    "/events",
    on((request, call) => listEvents(rt, request, call)),
  );
  router.get(
    "/shoppers/:shopper/instruments",
    on((request, call) => listInstruments(rt, request, call)),
  );
  router.delete(
    "/shoppers/:shopper/instruments/:id",
    on((request, call) => deleteInstrument(rt, request, call)),
  );
  router.put(
    "/shoppers/:shopper/instruments/:id/name",
    on((request, call) => putName(rt, request, call)),
  );
  router.put(
    "/shoppers/:shopper/instruments/:id/usual",
    on((request, call) => putUsual(rt, request, call)),
  );
  router.post(
    "/shoppers/:shopper/page",
    on((request, call) => postShopperPage(rt, request, call)),
  );
  router.delete(
    "/shoppers/:shopper",
    on((request, call) => deleteShopper(rt, request, call)),
  );
  router.get(
    "/plans",
    on((request, call) => listPlans(rt, request, call)),
  );
  router.get(
    "/subscriptions",
    on((request, call) => listSubscriptions(rt, request, call)),
  );
  router.post(
    "/subscriptions",
    on((request, call) => postSubscription(rt, request, call)),
  );
  router.get(
    "/subscriptions/:reference",
    on((request, call) => getSubscription(rt, request, call)),
  );
  router.post(
    "/subscriptions/:reference/change",
    on((request, call) => changeSubscription(rt, request, call)),
  );
  router.post(
    "/subscriptions/:reference/instrument",
    on((request, call) => changeSubscriptionInstrument(rt, request, call)),
  );
  router.post(
    "/subscriptions/:reference/:act",
    on((request, call) => {
      const { act } = request.params;
      if (!isSubscriptionAct(act)) throw notFound("act");
      return actOnSubscription(rt, request, call, act);
    }),
  );
  router.get(
    "/purchases/:id",
    on((request, call) => getPurchase(rt, request, call)),
  );
  router.post(
    "/purchases/:id/confirm",
    on((request, call) => postConfirm(rt, request, call)),
  );
  router.get(
    "/orders/:reference",
    on((request, call) => getOrder(rt, request, call)),
  );
  router.get(
    "/payments/:id",
    on((request, call) => getPayment(rt, request, call)),
  );
  router.use((_, response) =>
    sendProblem(response, problem(404, "not-found", "Not found", "There is nothing at this address.")),
  );
  router.use(
    (error: Error & { status?: number; type?: string }, _: Request, response: Response, __: NextFunction) => {
      if (error instanceof ProblemError) return sendProblem(response, error.document);
      if (error.status === 413)
        return sendProblem(response, problem(413, "too-large", "Too large", "At most 500 kB are taken."));
      if (error.status && error.status < 500) {
        return sendProblem(response, problem(400, "malformed", "Malformed", "The body is not JSON."));
      }
      rt.log.error({ err: error }, "shop API failed");
      if (error instanceof DatabaseAway || isPassing(error)) {
        response.set("retry-after", "5");
        return sendProblem(
          response,
          problem(
            503,
            "away",
            "Away",
            "The database does not answer. Send the same again, with the same Idempotency-Key: what was done is not done twice.",
          ),
        );
      }
      sendProblem(
        response,
        problem(500, "broken", "Broken", "Something broke at our side; nothing was changed."),
      );
    },
  );
  return router;
}

/** Says when to come back (RFC 9110, section 10.2.3). */
function tooMany({ settings }: Runtime, response: Response, wait: number): void {
  response.set("retry-after", String(Math.max(1, Math.ceil(wait / 1000))));
  const says = `A key may call ${settings.shopCallsPerSecond} times a second. Come back when Retry-After is over.`;
  sendProblem(response, problem(429, "too-many", "Too many calls", says));
}

async function authenticate(rt: Runtime, request: Request): Promise<Call> {
  const key = /^Bearer ([\x21-\x7e]{10,200})$/.exec(request.get("authorization") ?? "")?.[1];
  const caller = key ? await callerOf(rt, key) : null;
  if (!caller) {
    const detail = key
      ? "This key is not known, or was revoked."
      : "Send the storefront's key as a bearer token.";
    throw new ProblemError(problem(401, "key-refused", "Key refused", detail));
  }
  const now = await mustStand(rt, caller.storefrontId, caller.standingVersion);
  return { caller, now, storefront: now.storefront };
}

const describe = ({ caller, storefront }: Call) => ({
  storefront: storefront.id,
  name: storefront.name,
  mode: caller.mode,
  currencies: storefront.currencies,
  languages: storefront.languages,
  groups: storefront.groups.map((group) => group.id),
  stages: storefront.stages,
});

const stagesBody = yup.object({
  stages: yup.array(yup.string().min(1).max(60).required()).min(1).max(50).required(),
});
const newsBody = yup.object({
  address: yup.string().max(500).required(),
  secret: yup
    .string()
    .max(200)
    .matches(/^whsec_[A-Za-z0-9+/=]{32,}$/, "must be a Standard Webhooks secret of 24 bytes or more")
    .required(),
});

async function putStages(rt: Runtime, request: Request, call: Call) {
  const { stages } = read(stagesBody, request.body);
  const declared = [...new Set(stages)];
  if (declared.join("\n") !== call.storefront.stages.join("\n"))
    await declareStages(rt, call.storefront.id, declared);
  return { status: 200, body: { stages: declared } };
}

async function putNewsAddress(rt: Runtime, request: Request, { caller }: Call) {
  const { address, secret } = read(newsBody, request.body);
  const refused = await addressRefused(rt, address);
  if (refused)
    throw fieldsRefused([
      { pointer: "/address", code: "refused", detail: `is not called (${refused.code})` },
    ]);
  if (!canSign(secret))
    throw fieldsRefused([
      { pointer: "/secret", code: "cannot-sign", detail: "is no key: it must hold 24 to 64 bytes in base64" },
    ]);
  await setNewsAddress(rt, caller, address, secret);
  return { status: 200, body: { address, mode: caller.mode } };
}

/** Whether news can be signed with a secret; one that cannot would stop all news for good. */
function canSign(secret: string): boolean {
  const encoded = secret.slice("whsec_".length);
  const bytes = Buffer.from(encoded, "base64");
  if (bytes.length < 24 || bytes.length > 64 || bytes.toString("base64") !== encoded) return false;
  try {
    sign(secret, "try", 0, "");
    return true;
  } catch (error) {
    if (error instanceof VerificationError) return false;
    throw error;
  }
}
