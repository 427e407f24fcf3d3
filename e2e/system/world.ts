import { type ChildProcess, spawn } from "node:child_process";
import { randomBytes } from "node:crypto";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Mode } from "#core/mode";
import type { Order } from "#core/orders/order";
import type { Checkout } from "#server/database/rows";
import { openCheckout } from "#server/checkouts/checkouts";
import { openFront } from "#server/http/front";
import { candidatesIn } from "#server/offers/candidates";
import { partsOf } from "#server/offers/parts";
import { mustStand, type OfferWithRevisions } from "#server/storefronts/now";
import { startWorker } from "#server/jobs/worker";
import { installProfiles } from "#server/profiles/profiles";
import { openRuntime, type Runtime } from "#server/runtime";
import { readSettings, type Settings } from "#server/settings";
import { connectKarvello, type Connected, offerCard } from "../../demo/play";
import { placeProfiles } from "../../demo/profiles";
import { seed } from "../../demo/scenario";
import { tell } from "../../scripts/english";
import { program } from "../../scripts/programs.mjs";
import { type LibsqlServer, openLibsqlServer } from "./libsql-server";
import { freePort, untilAnswers } from "../../scripts/setup.mjs";

/** Zahlung in this process, so that a test can turn the clock and cut the wire, and Karvello in its own. */
export interface SystemWorld extends Connected {
  rt: Runtime;
  offerId: string;
  place: string;
  env: Record<string, string>;
  /** The libSQL server that all is on; null when it is a file. */
  database: LibsqlServer | null;
  origin: string;
  standins: string;
  /** What the runtime was told; a test may change it. */
  settings: Settings;
  /** Added to the clock, milliseconds. */
  clock: { offset: number };
  /** When set, called instead of the network. */
  wire: { http: typeof fetch | null };
  /** Lets the next order to a provider time out after `ms`, and gives the ones after it all the time they need. */
  impatient(ms: number): void;
  /** How many calls of a kind of weather are still to come. */
  weatherLeft(kind: string): Promise<number>;
  weather(
    kind: string,
    calls?: number,
    ms?: number,
    side?: "sandbox" | "live",
    /** The one method that it is for. */
    only?: string,
  ): Promise<void>;
  end(): Promise<void>;
}

export interface WorldOptions {
  worker?: boolean;
  /** Whether to connect Karvello and offer the card. */
  connect?: boolean;
  /**
   * Whether another process serves and works on the same database, where that is on a server. It has the true clock and
   * wire: a test that turns either goes without.
   */
  beside?: boolean;
  /** Whether all is on a libSQL server rather than a file. */
  server?: boolean;
}

/** How long a rehearsal of every case may take on a busy machine: a limit that tells a hang, and nothing about speed. */
export const wholeRehearsal = 500_000;

/** Whether the tests run on a libSQL server instead of a file. */
export const onServer = process.env.TEST_DATABASE === "server";

export async function openWorld({
  worker = true,
  connect = true,
  beside = true,
  server: aside = onServer,
}: WorldOptions = {}): Promise<SystemWorld> {
  const place = mkdtempSync(join(tmpdir(), "zahlung-system-"));
  const [port, standinsPort] = [await freePort(), await freePort()];
  const standins = `http://localhost:${standinsPort}`;
  const origin = `http://localhost:${port}`;
  const database = aside ? await openLibsqlServer() : null;
  const outside = startProgram("standins/providers/main.ts", {
    PORT: String(standinsPort),
    STANDINS_ORIGIN: standins,
  });
  const env = {
    ZAHLUNG_DATABASE_URL: database?.url ?? `file:${join(place, "zahlung.db")}`,
    ZAHLUNG_MASTER_KEY: randomBytes(32).toString("base64"),
    ZAHLUNG_ORIGIN: origin,
    PORT: String(port),
    ZAHLUNG_PROFILES: join(place, "profiles"),
    ZAHLUNG_ALLOW_PRIVATE_ADDRESSES: "1",
    ZAHLUNG_PROVIDER_TIMEOUT: "60000",
    // Weather that a test makes is to be met, not to be waited out, unless a test is about just that.
    ZAHLUNG_MOST_FAILURES: "1000000",
    ZAHLUNG_SHOP_CALLS_PER_SECOND: "1000000",
    ZAHLUNG_REHEARSAL_PATIENCE: "60000",
    ZAHLUNG_LOG: "silent",
  };
  const settings = readSettings(env, { production: true });
  const clock = { offset: 0 };
  const wire: SystemWorld["wire"] = { http: null };
  await placeProfiles(settings.profilesFolder, standins);
  const rt = await openRuntime(settings, {
    root: process.cwd(),
    speak: tell,
    now: () => Date.now() + clock.offset,
    http: (input, init) => (wire.http ?? fetch)(input, init),
  });
  await installProfiles(rt, settings.profilesFolder);
  await seed(rt, "http://localhost:1");
  const { server } = openFront(rt);
  await new Promise<void>((resolve, reject) => {
    server.once("error", reject);
    server.listen(port, resolve);
  });
  const endWorker = worker ? startWorker(rt) : async () => {};
  const other = database && beside && worker ? await anotherZahlung(env) : null;
  await untilAnswers("Karvello", `${standins}/healthz`, outside);
  let connected: Connected & { offerId: string } = {
    connectionId: "",
    karvello: null as never,
    keys: null as never,
    offerId: "",
  };
  if (connect) {
    await rt.db.client.execute(
      `update storefronts set stages = '["Reserved","Paid: to the loft","Refused","Handed back","Under question"]'`,
    );
    const made = await connectKarvello(rt, standins);
    connected = { ...made, offerId: await offerCard(rt, made.connectionId) };
  }
  return {
    ...connected,
    rt,
    place,
    env,
    database,
    origin,
    standins,
    settings,
    clock,
    wire,
    async weatherLeft(kind) {
      const response = await fetch(`${standins}/weather/karvello`);
      const { skies } = (await response.json()) as { skies: { kind: string; calls: number }[] };
      return skies.filter((one) => one.kind === kind).reduce((sum, one) => sum + one.calls, 0);
    },
    impatient(ms) {
      const { providerTimeout } = settings;
      settings.providerTimeout = ms;
      wire.http = async (input, init) => {
        if (init?.method === "POST" && String(input).startsWith(standins)) {
          wire.http = null;
          settings.providerTimeout = providerTimeout;
        }
        return fetch(input, init);
      };
    },
    async weather(kind, calls = 1, ms, side = "sandbox", only) {
      await fetch(`${standins}/weather/karvello`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ side, kind, calls, ms, only }),
      });
    },
    async end() {
      await endWorker();
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      if (other) await kill(other.child, "SIGTERM");
      await kill(outside, "SIGTERM");
      rt.db.close();
      await database?.end();
      rmSync(place, { recursive: true, force: true });
    },
  };
}

/** Another Zahlung on the same database, at a port of its own. */
export async function anotherZahlung(env: Record<string, string>) {
  const port = await freePort();
  const child = startProgram("e2e/system/zahlung.ts", { ...env, PORT: String(port) });
  await untilAnswers("another Zahlung", `http://localhost:${port}/readyz`, child);
  return { child, origin: `http://localhost:${port}` };
}

/** Starts a TypeScript program as a process of its own, which ends with this one at the latest. */
export function startProgram(file: string, env: Record<string, string>): ChildProcess {
  const child = spawn(process.execPath, [program(file)], {
    env: { ...process.env, ...env },
    stdio: ["ignore", "ignore", "inherit"],
  });
  process.once("exit", () => child.kill("SIGKILL"));
  return child;
}

export const kill = (child: ChildProcess, signal: "SIGTERM" | "SIGKILL") =>
  new Promise<void>((resolve) => {
    if (child.exitCode !== null || child.signalCode !== null) return resolve();
    child.once("exit", () => resolve());
    child.kill(signal);
  });

/** An offer of Luvwinkel DE, to be switched. */
export const inTest = (offerId: string) => ({ storefrontId: "luvwinkel-de", offerId });

/** Every offer of a storefront as the decision sees it now. */
export const candidatesAt = async (rt: Runtime, storefrontId: string, mode: Mode) =>
  candidatesIn(await mustStand(rt, storefrontId), mode);

/** What a test result of an offer depends on now. */
export const partsNow = async (rt: Runtime, one: OfferWithRevisions) =>
  partsOf(rt, await mustStand(rt, one.offer.storefrontId), one);

let orders = 0;
/** An order for the kite, with changes. Amounts in cents. */
export const kiteOrder = (change: Partial<Order> = {}): Order => ({
  reference: `LW-${(orders += 1)}`,
  currency: "EUR",
  lines: [{ name: "Einleiner „Möwe“", quantity: 1, unit: 3900, total: 3900 }],
  shipping: 490,
  tax: 701,
  taxIncluded: true,
  total: 4390,
  country: "DE",
  language: "de",
  group: "retail",
  email: "ida@example.org",
  returnAddress: "http://localhost:1/orders",
  ...change,
});

export const openKite = (
  rt: Runtime,
  change: Partial<Order> = {},
  mode: "test" | "live" = "test",
): Promise<Checkout> =>
  openCheckout(
    rt,
    { storefrontId: "luvwinkel-de", mode, origin: "shop", order: kiteOrder(change) },
    { at: rt.now(), from: "shop", to: "zahlung", label: "opens a checkout", ok: true },
  );
