import express, { type NextFunction, type Response, type Router } from "express";

export type SideName = "sandbox" | "live";

export interface Weather {
  provider: string;
  side: SideName;
  /** For calls: latency, time-out, error, error-after (done, and then a fault), busy, html, reset. For messages: lose, double, late, swap, badly-signed. */
  kind: string;
  calls: number;
  ms?: number;
  /** The one method that it is for, such as POST; any by default. */
  only?: string;
}

const CALLS = ["latency", "time-out", "error", "error-after", "busy", "html", "reset"];
const MESSAGES = ["lose", "double", "late", "swap", "badly-signed"];
const skies: Weather[] = [];

function next(provider: string, side: SideName, kinds: string[], method?: string): Weather | undefined {
  const found = skies.find(
    (one) =>
      one.provider === provider &&
      one.side === side &&
      kinds.includes(one.kind) &&
      one.calls > 0 &&
      (one.only === undefined || one.only === method),
  );
  if (found) found.calls--;
  return found;
}
/** Bad weather at a provider that is still to come. */
export const skiesOf = (provider: string): readonly Weather[] =>
  skies.filter((one) => one.provider === provider && one.calls > 0);
export const messageWeather = (provider: string, side: SideName) => next(provider, side, MESSAGES);

/** Bad weather for one call; `broken` answers in the provider's own way that something broke. */
export function callWeather(
  provider: string,
  side: SideName,
  response: Response,
  next_: NextFunction,
  broken: (response: Response) => void,
) {
  const sky = next(provider, side, CALLS, response.req.method);
  if (!sky) return next_();
  if (sky.kind === "error") return broken(response);
  if (sky.kind === "busy") {
    response.set("retry-after", String(Math.ceil((sky.ms ?? 1000) / 1000)));
    return void response.status(429).type("text/plain").send("Come back later");
  }
  if (sky.kind === "error-after") {
    const [json, send] = [response.json.bind(response), response.send.bind(response)];
    const fails = () => {
      Object.assign(response, { json, send });
      broken(response);
      return response;
    };
    Object.assign(response, { json: fails, send: fails });
    return next_();
  }
  if (sky.kind === "html") return void response.status(502).type("html").send("<h1>Bad gateway</h1>");
  if (sky.kind === "reset") return void response.socket?.destroy();
  if (sky.kind === "latency") return void setTimeout(next_, sky.ms ?? 500);
  // A time-out does the work and never answers.
  response.send = () => response;
  response.json = () => response;
  next_();
}

/** The address by which tests make weather for the next N calls and clear it. */
export function weatherRoutes(provider: string): Router {
  const router = express.Router();
  router.use(express.json());
  router.get("/", (_, response) => void response.json({ skies: skiesOf(provider) }));
  router.post("/", (request, response) => {
    const { side, kind, calls, ms, only } = request.body as Weather;
    if (!["sandbox", "live"].includes(side) || ![...CALLS, ...MESSAGES].includes(kind)) {
      response.status(400).json({ fault: "side or kind is not known", kinds: [...CALLS, ...MESSAGES] });
      return;
    }
    skies.push({
      provider,
      side,
      kind,
      calls: Number(calls) || 1,
      ...(ms !== undefined && { ms: Number(ms) }),
      ...(only !== undefined && { only: String(only) }),
    });
    response.json({ skies: skiesOf(provider) });
  });
  router.delete("/", (_, response) => {
    for (const one of skies.filter((sky) => sky.provider === provider)) skies.splice(skies.indexOf(one), 1);
    response.json({ skies: [] });
  });
  return router;
}
