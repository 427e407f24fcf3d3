import autocannon from "autocannon";
import { writeFileSync } from "node:fs";
import { join } from "node:path";
import { checkoutAddress } from "#server/checkouts/checkouts";
import { addConnection } from "#server/connections/connections";
import { addOffer } from "#server/offers/offers";
import { profileOf } from "#server/profiles/profiles";
import { mustStand } from "#server/storefronts/now";
import { issueApiKey } from "#server/storefronts/storefronts";
import { must } from "../demo/play";
import { freePort, untilAnswers } from "../scripts/setup.mjs";
import { kill, kiteOrder, openKite, startProgram, type SystemWorld } from "../e2e/system/world";
import { startBuilt } from "./built";
import { median, round } from "./figures";

const SECONDS = 4;
const ROUNDS = 3;
const CONNECTIONS = 20;

/** Fills a storefront up to six connections and ten offers, which all count in test. */
export async function makeBusy(world: SystemWorld): Promise<{ connections: number; offers: number }> {
  const { rt } = world;
  const add = async (provider: string, methods: string[]) => {
    const profile = must(await profileOf(rt, provider), provider);
    const id = await addConnection(rt, "bench", {
      profile,
      storefrontId: "luvwinkel-de",
      name: `${provider} ${methods[0]}`,
    });
    const { storefront, connections } = await mustStand(rt, "luvwinkel-de");
    const where = must(
      connections.find((one) => one.connection.id === id),
      "connection",
    );
    for (const method of methods) await addOffer(rt, "bench", where, storefront, method, { inPlace: true });
  };
  await add("pennywhistle", ["wallet", "later"]);
  await add("pennywhistle", ["wallet", "later"]);
  await add("pennywhistle", ["wallet", "later"]);
  await add("ostwick", ["card"]);
  await add("quippa", ["scan"]);
  await add("ratenhaus", ["plan"]);
  await rt.db.client.execute("update offers set off_in_test = 0");
  const { connections, offers } = await mustStand(rt, "luvwinkel-de");
  return { connections: connections.length, offers: offers.length };
}

export const order = () => {
  const { lines, ...rest } = kiteOrder();
  return JSON.stringify({
    ...rest,
    lines: lines.map((line) => ({ ...line, unit: "39.00", total: "39.00" })),
    shipping: "4.90",
    tax: "7.01",
    total: "43.90",
  });
};

interface Asked {
  method?: "GET" | "POST";
  body?: () => string;
  headers?: () => Record<string, string>;
  seconds?: number;
  connections?: number;
}

/** Requests a second at an address. Every answer must be a good one. */
export async function load(url: string, asked: Asked = {}): Promise<number> {
  const { method = "GET", body, headers = () => ({}), seconds = SECONDS, connections = CONNECTIONS } = asked;
  const result = await autocannon({
    url,
    connections,
    duration: seconds,
    requests: [
      {
        method,
        setupRequest: (request) => ({
          ...request,
          headers: { ...(body && { "content-type": "application/json" }), ...headers() },
          ...(body && { body: body() }),
        }),
      },
    ],
  });
  if (result.non2xx > 0 || result.errors > 0)
    throw new Error(`${url}: ${result.non2xx} refused, ${result.errors} failed`);
  return result.requests.average;
}

let once = 0;
export const shopHeaders = (key: string) => () => ({
  authorization: `Bearer ${key}`,
  "idempotency-key": `b${process.pid}-${(once += 1)}`,
});

/** What a shop and its people ask for, against bare routes of the same kind, in turns in one run. */
export async function measureThroughput(world: SystemWorld) {
  const stands = await makeBusy(world);
  const key = await issueApiKey(world.rt, "bench", "luvwinkel-de", "test");
  const { origin, cookie, end } = await startBuilt(world);
  const barePort = await freePort();
  const bare = `http://localhost:${barePort}`;
  let yardstick: ReturnType<typeof startProgram> | undefined;
  try {
    const pages = {
      hosted: checkoutAddress(world.rt, await openKite(world.rt)).replace(world.origin, origin),
      payments: `${origin}/s/luvwinkel-de/operate?mode=test`,
      home: `${origin}/s/luvwinkel-de`,
    };
    const question = order();
    const asks = { method: "POST" as const, body: () => question, headers: shopHeaders(key) };
    const answer = await fetch(`${origin}/api/v1/offers`, {
      method: "POST",
      headers: { "content-type": "application/json", ...asks.headers() },
      body: question,
    });
    const files: Record<string, string> = {};
    for (const [name, url] of Object.entries(pages)) {
      files[name] = join(world.place, `${name}.html`);
      writeFileSync(files[name], await (await fetch(url, { headers: { cookie } })).text());
    }
    yardstick = startProgram("bench/bare-express.tsx", {
      PORT: String(barePort),
      BARE_DATABASE: `file:${join(world.place, "bare-express.db")}`,
      ANSWER: await answer.text(),
      PAGES: JSON.stringify(files),
      NODE_ENV: "production",
    });
    await untilAnswers("the yardstick", `${bare}/healthz`, yardstick);
    const posted = { method: "POST" as const, body: () => question };
    const signed = { headers: () => ({ cookie }) };
    const both = async (own: () => Promise<number>, yard: () => Promise<number>, reach: number) => {
      const rates: [number[], number[]] = [[], []];
      for (let turn = 0; turn < ROUNDS; turn++) {
        rates[1].push(await yard());
        rates[0].push(await own());
      }
      const [mine, theirs] = [median(rates[0]), median(rates[1])];
      return {
        perSecond: round(mine, 0),
        barePerSecond: round(theirs, 0),
        ratio: round(mine / theirs),
        reach: `ratio ${reach} or more`,
      };
    };
    return {
      stands,
      // What the framework itself takes: the least that a page of it can cost, on which nothing is read but the version.
      smallestPage: { perSecond: round(await load(`${origin}/sign-in`), 0) },
      offers: await both(
        () => load(`${origin}/api/v1/offers`, asks),
        () => load(`${bare}/row`, posted),
        0.5,
      ),
      checkouts: await both(
        () => load(`${origin}/api/v1/checkouts`, { ...asks, body: order }),
        () => load(`${bare}/insert`, { ...posted, body: order }),
        0.4,
      ),
      hostedPage: await both(
        () => load(pages.hosted),
        () => load(`${bare}/page/hosted`),
        0.7,
      ),
      payments: await both(
        () => load(pages.payments, signed),
        () => load(`${bare}/page/payments`),
        0.4,
      ),
      home: await both(
        () => load(pages.home, signed),
        () => load(`${bare}/page/home`),
        0.4,
      ),
    };
  } finally {
    await end();
    if (yardstick) await kill(yardstick, "SIGTERM");
  }
}
