import express, { type NextFunction, type Request, type Response, type Router } from "express";
import type { Books, SideName } from "./house";
import { Fault } from "./provider";
import { callWeather } from "./weather";

/** A router for a JSON API with weather; `fault` writes a fault the provider's own way. */
export function jsonApi(
  provider: string,
  side: SideName,
  fault: (response: Response, fault: Fault) => void,
  largest = "100kb",
): { router: Router; close: () => void } {
  const router = express.Router();
  router.use(express.json({ limit: largest }));
  router.use((_, response, next) =>
    callWeather(provider, side, response, next, (broken) =>
      fault(broken, new Fault(500, "broken", "Something broke")),
    ),
  );
  return {
    router,
    close() {
      router.use(() => {
        throw new Fault(404, "no_such_address", "There is nothing at this address");
      });
      router.use((error: Error & { status?: number }, _: Request, response: Response, __: NextFunction) =>
        fault(
          response,
          error instanceof Fault
            ? error
            : new Fault(error.status ?? 500, error.status ? "unreadable" : "broken", error.message),
        ),
      );
    },
  };
}

/** What an idempotency key has done already. The same key with something else is `clash`. */
export function onceOf(books: Books, key: string, said: string, clash: () => Fault) {
  const before = books.onces[key];
  if (before && before.said !== said) throw clash();
  return { seen: before?.no, keep: (no: string) => void (books.onces[key] = { no, said }) };
}
