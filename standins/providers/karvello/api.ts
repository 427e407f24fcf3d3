import express, { type NextFunction, type Request, type Response, type Router } from "express";
import {
  type Books,
  randomText,
  type Karvello,
  type Right,
  type ServerKey,
  type SideName,
  type Slip,
} from "./books";
import { ring } from "./bells";
import { answer, drop, Fault, giveBack, LEAST, makeSlip, take } from "./slips";
import { callWeather } from "../../kit/weather";

interface Call extends Request {
  account: string;
  rights: Right[];
}

export const TELLS = [
  "slip.asking",
  "slip.held",
  "slip.taken",
  "slip.turned_down",
  "slip.broken",
  "slip.dropped",
  "slip.given_back",
  "account.changed",
];
const text = (value: unknown, most: number): value is string =>
  typeof value === "string" && value.length > 0 && value.length <= most;

/** Karvello's API for one side. */
export function apiRoutes(karvello: Karvello, side: SideName): Router {
  const books = karvello.books(side);
  const router = express.Router();
  router.use(express.json({ limit: "100kb" }));
  // After the body is read: a caller that goes away in bad weather has been heard all the same.
  router.use((_, response, next) =>
    callWeather("karvello", side, response, next, (broken) =>
      broken.status(500).json({ fault: { code: "K-500", text: "Something broke at Karvello" } }),
    ),
  );
  router.use((request, _, next) => {
    const { account, rights } = keyOf(karvello, side, request);
    Object.assign(request, { account, rights });
    next();
  });
  const needs = (right: Right) => (request: Request, _: Response, next: NextFunction) => {
    if (!(request as Call).rights.includes(right))
      throw new Fault(403, "K-405", `This server key was issued without the right “${right}”`);
    next();
  };
  router.use("/bells", needs("bells"));
  router.post("/slips/:no/give-back", needs("give-back"));
  router.get("/slips", (request, response, next) =>
    request.query.your_ref === undefined ? needs("list")(request, response, next) : next(),
  );
  const slipOf = (request: Request): Slip => {
    const slip = books.slips[String(request.params.no)];
    if (!slip || books.backs[slip.no]?.account !== (request as unknown as Call).account) {
      throw new Fault(404, "K-410", "There is no such slip");
    }
    return slip;
  };
  const changed = (response: Response, slip: Slip) => {
    karvello.shelf.changed();
    response.json(slip);
  };

  router.get("/account", (request, response) => {
    const account = books.accounts.find((one) => one.code === (request as unknown as Call).account);
    response.json(account);
  });
  router.get("/frame-keys/:key", (request, response) => {
    const found = books.frameKeys.find((one) => one.key === request.params.key);
    if (!found) throw new Fault(404, "K-411", "This frame key is not known here");
    response.json({ account: found.account, issued_at: found.at });
  });

  router.post("/slips", (request, response) => {
    const { account } = request as unknown as Call;
    const once = onceOf(books, request as unknown as Call, "slips");
    if (once.seen) return void response.json(books.slips[once.seen]);
    const order = readOrder(karvello, side, account, request.body as Record<string, unknown>);
    const slip = makeSlip(karvello, side, account, order);
    once.keep(slip.no);
    changed(response.status(201), slip);
  });
  router.get("/slips", (request, response) => {
    const mine = Object.values(books.slips).filter(
      (one) => books.backs[one.no]?.account === (request as unknown as Call).account,
    );
    const ref = request.query.your_ref;
    const found = typeof ref === "string" ? mine.filter((one) => one.your_ref === ref) : mine;
    response.json({ slips: found.slice(-200).reverse() });
  });
  router.get("/slips/:no", (request, response) => void response.json(slipOf(request)));
  const moves: Record<string, (slip: Slip, body: unknown) => void> = {
    take: (slip, body) => take(karvello, side, slip, sumOf(body)),
    drop: (slip) => drop(karvello, side, slip),
    "give-back": (slip, body) => giveBack(karvello, side, slip, sumOf(body)),
  };
  for (const [name, move] of Object.entries(moves)) {
    router.post(`/slips/:no/${name}`, (request, response) => {
      const slip = slipOf(request);
      const once = onceOf(books, request as unknown as Call, `${slip.no}/${name}`);
      if (!once.seen) {
        move(slip, request.body);
        once.keep(slip.no);
      }
      changed(response, slip);
    });
  }
  if (side === "sandbox") {
    router.post("/slips/:no/play", (request, response) => {
      const slip = slipOf(request);
      answer(karvello, side, slip, (request.body as { answer?: string }).answer === "pass");
      changed(response, slip);
    });
  }

  router.post("/bells", (request, response) => {
    const { address, secret, tells } = request.body as Record<string, unknown>;
    if (!text(address, 500) || !URL.canParse(address))
      throw new Fault(422, "K-441", "The bell's address is not one");
    if (!text(secret, 200) || Buffer.from(secret.replace("whsec_", ""), "base64").length < 24) {
      throw new Fault(422, "K-442", "The bell's secret must hold 24 bytes or more");
    }
    const wanted = Array.isArray(tells)
      ? tells.filter((one) => TELLS.includes(String(one))).map(String)
      : TELLS;
    const bell = {
      id: `bell_${randomText(10)}`,
      account: (request as unknown as Call).account,
      address,
      secret,
      tells: wanted,
    };
    books.bells.push(bell);
    karvello.shelf.changed();
    response.status(201).json({ id: bell.id, address, tells: wanted });
  });
  router.get("/bells", (request, response) => {
    const mine = books.bells.filter((one) => one.account === (request as unknown as Call).account);
    response.json({ bells: mine.map(({ id, address, tells }) => ({ id, address, tells })) });
  });
  router.delete("/bells/:id", (request, response) => {
    const at = books.bells.findIndex(
      (one) => one.id === request.params.id && one.account === (request as unknown as Call).account,
    );
    if (at < 0) throw new Fault(404, "K-412", "There is no such bell");
    books.bells.splice(at, 1);
    karvello.shelf.changed();
    response.json({ gone: true });
  });
  router.post("/bells/:id/ring", (request, response) => {
    const bell = books.bells.find(
      (one) => one.id === request.params.id && one.account === (request as unknown as Call).account,
    );
    if (!bell) throw new Fault(404, "K-412", "There is no such bell");
    ring(karvello, side, bell.account, "bell.test", {
      tell: "bell.test",
      at: new Date(karvello.now()).toISOString(),
      about: null,
    });
    response.json({ rung: true });
  });

  router.use((_, __) => {
    throw new Fault(404, "K-400", "There is nothing at this address");
  });
  router.use((error: Error & { status?: number }, _: Request, response: Response, __: NextFunction) => {
    const fault =
      error instanceof Fault
        ? error
        : new Fault(error.status ?? 500, error.status ? "K-440" : "K-500", error.message);
    response.status(fault.status).json({ fault: { code: fault.code, text: fault.message } });
  });
  return router;
}

function keyOf(karvello: Karvello, side: SideName, request: Request): ServerKey {
  const key = /^Bearer (.+)$/.exec(request.get("authorization") ?? "")?.[1];
  if (!key) throw new Fault(401, "K-401", "No server key was sent");
  const found = karvello.books(side).serverKeys.find((one) => one.key === key);
  if (!found) {
    if (key.startsWith(side === "sandbox" ? "kvs.l." : "kvs.s.")) {
      throw new Fault(401, "K-403", `This key is not for the ${side} side`);
    }
    throw new Fault(401, "K-402", "This server key is not known");
  }
  const account = request.get("karvello-account");
  if (account !== found.account)
    throw new Fault(403, "K-404", `This key belongs to ${found.account}, not to ${account ?? "nobody"}`);
  return found;
}

function readOrder(karvello: Karvello, side: SideName, code: string, body: Record<string, unknown>) {
  const account = karvello.books(side).accounts.find((one) => one.code === code);
  if (!account?.open_for_business)
    throw new Fault(403, "K-450", account?.closed_because ?? "The account may not charge");
  const {
    sum,
    coin,
    token,
    take = "now",
    ask = "issuer",
    statement = "",
    your_ref,
    go_back_to = null,
  } = body;
  if (!account.coins.some((one) => one.coin === coin))
    throw new Fault(422, "K-420", `This account takes no ${String(coin)}`);
  if (!Number.isSafeInteger(sum)) throw new Fault(400, "K-440", "sum must be whole minor units");
  if ((sum as number) < LEAST) throw new Fault(422, "K-421", `The least sum is ${LEAST}`);
  if (!text(token, 100) || !text(your_ref, 100))
    throw new Fault(400, "K-440", "token and your_ref are needed");
  if ((take !== "now" && take !== "later") || (ask !== "issuer" && ask !== "always"))
    throw new Fault(400, "K-440", "take or ask is not known");
  if (String(statement).length > 22) throw new Fault(422, "K-443", "The statement is longer than 22");
  return {
    sum: sum as number,
    coin: coin as string,
    token,
    take,
    ask,
    statement: String(statement),
    your_ref,
    go_back_to: typeof go_back_to === "string" ? go_back_to : null,
  } as const;
}

/** What a once-only key has done already, if anything. The same key with other contents is a fault. */
function onceOf(books: Books, call: Call, what: string) {
  const once = call.get("once-only");
  if (!text(once, 100)) throw new Fault(400, "K-440", "The once-only header is missing");
  const key = `${call.account}:${once}`;
  const body = `${what} ${JSON.stringify(call.body)}`;
  const before = books.onces[key];
  if (before && before.body !== body)
    throw new Fault(409, "K-460", "This once-only key came with something else");
  return { seen: before?.no, keep: (no: string) => void (books.onces[key] = { no, body }) };
}

function sumOf(body: unknown): number {
  const sum = (body as { sum?: unknown } | undefined)?.sum;
  if (!Number.isSafeInteger(sum) || (sum as number) <= 0)
    throw new Fault(400, "K-440", "sum must be whole minor units");
  return sum as number;
}
