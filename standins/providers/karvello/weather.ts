import express, { type Router } from "express";
import type { SideName } from "./books";

export interface Weather {
  side: SideName;
  /** For calls: latency, time-out, error, html, reset. For bells: lose, double, late, swap, badly-signed. */
  kind: string;
  calls: number;
  ms?: number;
}

const CALLS = ["latency", "time-out", "error", "html", "reset"];
const BELLS = ["lose", "double", "late", "swap", "badly-signed"];
const skies: Weather[] = [];

function next(side: SideName, kinds: string[]): Weather | undefined {
  const found = skies.find((one) => one.side === side && kinds.includes(one.kind) && one.calls > 0);
  if (found) found.calls--;
  return found;
}
export const callWeather = (side: SideName) => next(side, CALLS);
export const bellWeather = (side: SideName) => next(side, BELLS);

/** The address by which tests make weather for the next N calls and clear it. */
export function weatherRoutes(): Router {
  const router = express.Router();
  router.use(express.json());
  router.get("/", (_, response) => void response.json({ skies }));
  router.post("/", (request, response) => {
    const { side, kind, calls, ms } = request.body as Weather;
    if (!["sandbox", "live"].includes(side) || ![...CALLS, ...BELLS].includes(kind)) {
      response.status(400).json({ fault: "side or kind is not known", kinds: [...CALLS, ...BELLS] });
      return;
    }
    skies.push({ side, kind, calls: Number(calls) || 1, ...(ms !== undefined && { ms: Number(ms) }) });
    response.json({ skies });
  });
  router.delete("/", (_, response) => {
    skies.length = 0;
    response.json({ skies });
  });
  return router;
}
