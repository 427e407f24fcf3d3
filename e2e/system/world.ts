import { type ChildProcess, spawn } from "node:child_process";
import { randomBytes } from "node:crypto";
import { mkdtempSync, rmSync } from "node:fs";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Order } from "#core/order/order";
import { type Checkout, openCheckout } from "#server/checkout/checkouts";
import { openFront } from "#server/http/front";
import { startWorker } from "#server/jobs/worker";
import { installProfiles } from "#server/profiles/profiles";
import { openRuntime, type Runtime } from "#server/runtime";
import { readSettings } from "#server/settings";
import { connectKarvello, type Connected, offerCard } from "../../demo/play";
import { placeProfiles } from "../../demo/profiles";
import { seed } from "../../demo/scenario";
import { program } from "../../scripts/programs.mjs";
import { freePort, untilAnswers } from "../../scripts/setup.mjs";

/** Zahlung in this process, so that a test can turn the clock and cut the wire, and Karvello in its own. */
export interface SystemWorld extends Connected {
  rt: Runtime;
  offerId: string;
  place: string;
  env: Record<string, string>;
  origin: string;
  standins: string;
  /** Added to the clock, milliseconds. */
  clock: { offset: number };
  /** When set, called instead of the network. */
  wire: { http: typeof fetch | null };
  /** Lets the next order to a provider time out after `ms`, and gives the ones after it all the time they need. */
  impatient(ms: number): void;
  /** How many calls of a kind of weather are still to come. */
  weatherLeft(kind: string): Promise<number>;
  weather(kind: string, calls?: number, ms?: number, side?: "sandbox" | "live"): Promise<void>;
  end(): Promise<void>;
}

export interface WorldOptions {
  worker?: boolean;
  /** Whether to connect Karvello and offer the card. */
  connect?: boolean;
}

export async function openWorld({ worker = true, connect = true }: WorldOptions = {}): Promise<SystemWorld> {
  const place = mkdtempSync(join(tmpdir(), "zahlung-system-"));
  const [port, standinsPort] = [await freePort(), await freePort()];
  const standins = `http://localhost:${standinsPort}`;
  const origin = `http://localhost:${port}`;
  const outside = startProgram("standins/providers/main.ts", {
    PORT: String(standinsPort),
    STANDINS_ORIGIN: standins,
  });
  const env = {
    ZAHLUNG_DATABASE_URL: `file:${join(place, "zahlung.db")}`,
    ZAHLUNG_MASTER_KEY: randomBytes(32).toString("base64"),
    ZAHLUNG_ORIGIN: origin,
    PORT: String(port),
    ZAHLUNG_PROFILES: join(place, "profiles"),
    ZAHLUNG_ALLOW_PRIVATE_ADDRESSES: "1",
    ZAHLUNG_PROVIDER_TIMEOUT: "60000",
    ZAHLUNG_REHEARSAL_PATIENCE: "60000",
    ZAHLUNG_LOG: "silent",
  };
  const settings = readSettings(env, { production: true });
  const clock = { offset: 0 };
  const wire: SystemWorld["wire"] = { http: null };
  await placeProfiles(settings.profilesFolder, standins);
  const rt = await openRuntime(settings, {
    root: process.cwd(),
    now: () => Date.now() + clock.offset,
    http: (input, init) => (wire.http ?? fetch)(input, init),
  });
  await installProfiles(rt, settings.profilesFolder);
  await seed(rt, "http://localhost:1");
  const { server } = openFront(rt);
  await new Promise<void>((resolve) =>
    server.listen((server.address() as AddressInfo | null)?.port ?? port, resolve),
  );
  const endWorker = worker ? startWorker(rt) : async () => {};
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
    origin,
    standins,
    clock,
    wire,
    async weatherLeft(kind) {
      const response = await fetch(`${standins}/weather/karvello`);
      const { skies } = (await response.json()) as { skies: { kind: string; calls: number }[] };
      return skies.filter((one) => one.kind === kind).reduce((sum, one) => sum + one.calls, 0);
    },
    impatient(ms) {
      const { providerTimeout } = rt.settings;
      rt.settings.providerTimeout = ms;
      wire.http = async (input, init) => {
        if (init?.method === "POST" && String(input).startsWith(standins)) {
          wire.http = null;
          rt.settings.providerTimeout = providerTimeout;
        }
        return fetch(input, init);
      };
    },
    async weather(kind, calls = 1, ms, side = "sandbox") {
      await fetch(`${standins}/weather/karvello`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ side, kind, calls, ms }),
      });
    },
    async end() {
      await endWorker();
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await kill(outside, "SIGTERM");
      rt.db.close();
      rmSync(place, { recursive: true, force: true });
    },
  };
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
