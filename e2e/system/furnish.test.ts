import { spawn } from "node:child_process";
import { randomBytes } from "node:crypto";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createClient } from "@libsql/client";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { program } from "../../scripts/programs.mjs";
import { freePort } from "../../scripts/setup.mjs";
import { environment } from "../../scripts/world.mjs";

// The furnished demo: what somebody sees who wants to look around before doing anything.

let place = "";
let said = "";
let code: number | null = null;
beforeAll(async () => {
  place = mkdtempSync(join(tmpdir(), "zahlung-furnish-"));
  const ports = { zahlung: await freePort(), standins: await freePort(), shop: await freePort() };
  const env = environment(place, ports);
  const child = spawn(process.execPath, [program("demo/furnish.ts")], {
    env: {
      ...process.env,
      ...env.zahlung,
      ZAHLUNG_MASTER_KEY: randomBytes(32).toString("base64"),
      NODE_ENV: "development",
      FURNISH_ENV: JSON.stringify(env),
    },
    stdio: ["ignore", "ignore", "pipe"],
  });
  child.stderr.on("data", (part) => (said += String(part)));
  code = await new Promise((resolve) => child.once("exit", resolve));
});
afterAll(() => rmSync(place, { recursive: true, force: true }));

describe("the furnished demo", () => {
  it("comes to its end without a complaint", () => {
    expect({ code, said }).toEqual({ code: 0, said: "" });
  });

  it("is live, with a month of payments of many kinds, and nothing left open", async () => {
    const client = createClient({ url: `file:${join(place, "zahlung.db")}` });
    const rows = async (query: string) => (await client.execute(query)).rows;
    expect(await rows("select live from connection_storefronts")).toMatchObject([{ live: "live" }]);
    const states = await rows("select state, count(*) as n from payments where mode = 'live' group by state");
    const count = (state: string) => Number(states.find((one) => one.state === state)?.n ?? 0);
    expect(count("captured")).toBeGreaterThan(50);
    for (const state of ["declined", "refunded", "partly-refunded"])
      expect(count(state), state).toBeGreaterThan(0);
    const [span] = await rows(
      "select max(created_at) - min(created_at) as days from payments where mode = 'live'",
    );
    expect(Number(span?.days) / 86_400_000).toBeGreaterThan(20);
    expect(await rows("select id from proofs where state <> 'passed'")).toEqual([]);
    expect(await rows("select id from jobs where kind = 'deliver-news'")).toEqual([]);
    expect(await rows("select number from webhooks where outcome = 'waiting'")).toEqual([]);
    client.close();
  });

  it("leaves the provider and the shop with the same orders", () => {
    const shop = JSON.parse(readFileSync(join(place, "shop.json"), "utf8")) as {
      orders: { mode: string; state: string }[];
    };
    const karvello = JSON.parse(readFileSync(join(place, "standins-karvello.json"), "utf8")) as {
      live: { bills: Record<string, { stand: string }> };
    };
    const paid = shop.orders.filter(
      (one) => one.mode === "live" && /captured|refunded/.test(one.state),
    ).length;
    const taken = Object.values(karvello.live.bills).filter((one) => one.stand === "paid").length;
    expect(paid).toBeGreaterThan(50);
    expect(paid).toBe(taken);
  });
});
