// The demo world as processes: Zahlung, the simulated providers and the demo shop, on given ports.
import { spawnSync } from "node:child_process";
import { openSync, rmSync } from "node:fs";
import { join } from "node:path";
import { program } from "./programs.mjs";
import { end, folder, root, start, untilAnswers } from "./setup.mjs";

/**
 * Environment of every process for a world in `place` (a folder) on `ports` { zahlung, standins, shop, mail? }.
 */
export function environment(place, ports, origins = {}) {
  const standins = origins.standins ?? `http://localhost:${ports.standins}`;
  const shop = origins.shop ?? `http://localhost:${ports.shop}`;
  const zahlung = origins.zahlung ?? `http://localhost:${ports.zahlung}`;
  return {
    zahlung: {
      PORT: String(ports.zahlung),
      NODE_ENV: "production",
      ZAHLUNG_DATABASE_URL: `file:${join(place, "zahlung.db")}`,
      ZAHLUNG_ORIGIN: zahlung,
      ZAHLUNG_PROFILES: join(place, "profiles"),
      ZAHLUNG_ALLOW_PRIVATE_ADDRESSES: "1",
      ZAHLUNG_LOG: "warn",
      ...(ports.mail && { ZAHLUNG_SMTP_URL: `smtp://localhost:${ports.mail}` }),
      STANDINS_ORIGIN: standins,
      SHOP_ORIGIN: shop,
    },
    standins: {
      PORT: String(ports.standins),
      STANDINS_ORIGIN: standins,
      STANDINS_STATE: join(place, "standins.json"),
      ...(ports.mail && { SMTP_PORT: String(ports.mail) }),
    },
    shop: {
      PORT: String(ports.shop),
      SHOP_ORIGIN: shop,
      SHOP_API: `${zahlung}/api/v1`,
      SHOP_STATE: join(place, "shop.json"),
    },
    origins: { zahlung, standins, shop },
  };
}

/** Puts the demo's owner, storefront and profiles in. Runs once per start; what is there stays. */
export function seed(env) {
  const done = spawnSync(process.execPath, [program("demo/seed.ts")], {
    cwd: root,
    env: { ...process.env, ...env.zahlung, NODE_ENV: "development" },
    encoding: "utf8",
  });
  if (done.status !== 0) throw new Error(`The demo could not be put in:\n${done.stderr}`);
  return JSON.parse(done.stdout.trim().split("\n").at(-1));
}

export const startZahlung = (env, log) => start("Zahlung", process.execPath, ["server.js"], env.zahlung, log);

/** Starts all three and waits until each answers. Returns them with their ending. */
export async function startWorld(place, ports, { logs = false, masterKey } = {}) {
  folder(place);
  const env = environment(place, ports);
  env.zahlung.ZAHLUNG_MASTER_KEY = masterKey ?? "";
  const log = (name) => (logs ? openSync(join(place, `${name}.log`), "a") : undefined);
  const standins = start(
    "The simulated providers",
    process.execPath,
    [program("standins/providers/main.ts")],
    env.standins,
    log("standins"),
  );
  const shop = start(
    "The demo shop",
    process.execPath,
    [program("standins/shop/main.ts")],
    env.shop,
    log("shop"),
  );
  const all = [shop, standins];
  try {
    const { signIn } = seed(env);
    const zahlung = startZahlung(env, log("zahlung"));
    all.unshift(zahlung);
    await Promise.all([
      untilAnswers("Zahlung", `${env.origins.zahlung}/readyz`, zahlung),
      untilAnswers("The simulated providers", `${env.origins.standins}/healthz`, standins),
      untilAnswers("The demo shop", `${env.origins.shop}/healthz`, shop),
    ]);
    return { env, signIn, all, zahlung, shop, standins, log, end: () => end(all) };
  } catch (error) {
    await end(all);
    throw error;
  }
}

export const forget = (place) => rmSync(place, { recursive: true, force: true });
