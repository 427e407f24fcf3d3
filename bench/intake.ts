import autocannon from "autocannon";
import { join } from "node:path";
import { sign } from "#core/webhooks/standard-webhooks";
import { currentEndpoint } from "#server/connections/connections";
import { openEndpointSecret } from "#server/connections/webhook";
import { addConnection } from "#server/connections/connections";
import { profileOf } from "#server/profiles/profiles";
import { must } from "../demo/play";
import { freePort } from "../scripts/setup.mjs";
import { kill, startProgram, type SystemWorld } from "../e2e/system/world";
import { startBuilt } from "./built";
import { median, round } from "./figures";

const SECONDS = 5;
const CONNECTIONS = 50;

/** Requests a second and p99 of the intake and of a bare server, in turns in one run. */
export async function measureIntake(world: SystemWorld) {
  const profile = must(await profileOf(world.rt, "karvello"), "profile");
  const id = await addConnection(world.rt, "bench", { profile, storefrontId: "luvwinkel-de" });
  const endpoint = await currentEndpoint(world.rt, id, "live");
  const secret = openEndpointSecret(world.rt, endpoint);
  const { origin, end } = await startBuilt(world);
  const barePort = await freePort();
  const bare = startProgram("bench/bare.ts", {
    PORT: String(barePort),
    SECRET: secret,
    BARE_DATABASE: `file:${join(world.place, "bare.db")}`,
  });
  try {
    await new Promise((resolve) => setTimeout(resolve, 1500));
    const rates: Record<"bare" | "intake", number[]> = { bare: [], intake: [] };
    let p99 = 0;
    for (let round = 0; round < 3; round++) {
      rates.bare.push((await load(`http://localhost:${barePort}/`, secret)).rate);
      const own = await load(`${origin}/hooks/${endpoint.path}`, secret);
      rates.intake.push(own.rate);
      p99 = Math.max(p99, own.p99);
    }
    const [intake, yardstick] = [median(rates.intake), median(rates.bare)];
    return {
      perSecond: round(intake, 0),
      bareNodePerSecond: round(yardstick, 0),
      ratio: round(intake / yardstick),
      p99ms: p99,
      reach: "ratio 0.6 or more, p99 under 50 ms",
    };
  } finally {
    await Promise.all([end(), kill(bare, "SIGTERM")]);
  }
}

let sent = 0;
async function load(url: string, secret: string) {
  const filler = "x".repeat(560);
  const result = await autocannon({
    url,
    connections: CONNECTIONS,
    duration: SECONDS,
    requests: [
      {
        method: "POST",
        setupRequest(request) {
          const id = `bench-${(sent += 1)}`;
          const body = JSON.stringify({
            tell: "slip.held",
            at: "2026-01-01T00:00:00.000Z",
            about: { no: id, your_ref: id, filler },
          });
          return {
            ...request,
            body,
            headers: { "content-type": "application/json", ...sign(secret, id, Date.now(), body) },
          };
        },
      },
    ],
  });
  if (result.non2xx > 0 || result.errors > 0)
    throw new Error(`${result.non2xx} refused, ${result.errors} failed`);
  return { rate: result.requests.average, p99: result.latency.p99 };
}
