import { Webhook } from "standardwebhooks";
import { randomText, type Karvello, type Ring, type SideName } from "./books";
import { messageWeather } from "../../kit/weather";

const WAITS = [1, 2, 4, 8, 20, 60, 300, 1800].map((seconds) => seconds * 1000);

/** Puts a message for every bell of the account that listens to `what`. */
export function ring(karvello: Karvello, side: SideName, account: string, what: string, event: object) {
  const books = karvello.books(side);
  for (const bell of books.bells) {
    if (bell.account !== account || (what !== "bell.test" && !bell.tells.includes(what))) continue;
    const body = JSON.stringify(event);
    const one: Ring = {
      id: `ring_${randomText(20)}`,
      bell: bell.id,
      tell: what,
      body,
      tries: 0,
      nextAt: Date.now(),
      log: [],
      done: false,
    };
    const weather = messageWeather("karvello", side);
    if (weather?.kind === "lose") {
      one.done = true;
      one.log.push("lost on the way");
    }
    if (weather?.kind === "late" || weather?.kind === "swap") one.nextAt += weather.ms ?? 1500;
    if (weather?.kind === "double") books.rings.push({ ...one, log: [] });
    if (weather?.kind === "badly-signed") one.log.push("badly signed");
    books.rings.push(one);
  }
  karvello.shelf.changed();
  void deliver(karvello, side);
}

const busy = new Set<string>();

/** Sends what is due, in order for each bell, and puts off what is not taken. */
export async function deliver(karvello: Karvello, side: SideName) {
  const books = karvello.books(side);
  for (const bell of books.bells) {
    const lane = `${side}:${bell.id}`;
    if (busy.has(lane)) continue;
    busy.add(lane);
    try {
      for (;;) {
        const due = books.rings.find((one) => one.bell === bell.id && !one.done && one.nextAt <= Date.now());
        if (!due) break;
        await send(karvello, due, bell.address, bell.secret);
      }
    } finally {
      busy.delete(lane);
    }
  }
}

async function send(karvello: Karvello, one: Ring, address: string, secret: string) {
  const at = new Date(karvello.now());
  one.tries++;
  let outcome: string;
  try {
    const wrong = one.log.includes("badly signed")
      ? "whsec_" + Buffer.alloc(24, 1).toString("base64")
      : secret;
    const answer = await fetch(address, {
      method: "POST",
      headers: {
        "content-type": "application/json",
        "webhook-id": one.id,
        "webhook-timestamp": String(Math.floor(at.getTime() / 1000)),
        "webhook-signature": new Webhook(wrong).sign(one.id, at, one.body),
      },
      body: one.body,
      signal: AbortSignal.timeout(10_000),
    });
    one.done = answer.ok;
    outcome = `answered ${answer.status}`;
  } catch (error) {
    outcome = `no answer: ${(error as Error).message}`;
  }
  one.log.push(outcome);
  if (!one.done) {
    const wait = WAITS[one.tries - 1];
    if (wait === undefined) one.done = true;
    else one.nextAt = Date.now() + wait;
  }
  karvello.shelf.changed();
}
