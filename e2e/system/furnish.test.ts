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

/** Two weeks are played the same way as two months. */
const DAYS = 14;

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
      FURNISH_DAYS: String(DAYS),
      ZAHLUNG_REHEARSAL_PATIENCE: "60000",
      ZAHLUNG_PROVIDER_TIMEOUT: "60000",
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

  it("has live storefronts with payments of many kinds, something wrong on purpose, and nothing left open", async () => {
    const client = createClient({ url: `file:${join(place, "zahlung.db")}` });
    const rows = async (query: string) => (await client.execute(query)).rows;
    const live = await rows(
      "select storefront_id as id, count(*) as n from connection_storefronts where live = 'live' group by 1 order by 1",
    );
    expect(live.map((row) => [row.id, row.n])).toEqual([
      ["luvwinkel-de", 4],
      ["luvwinkel-jp", 1],
      ["luvwinkel-uk", 1],
    ]);
    const paying = await rows("select distinct method_id as method from payments where mode = 'live'");
    expect(paying.length).toBeGreaterThan(2);
    const states = await rows(
      "select state, count(*) as n from payments where mode = 'live' and connection_id is not null group by state",
    );
    const count = (state: string) => Number(states.find((one) => one.state === state)?.n ?? 0);
    expect(count("captured")).toBeGreaterThan(15);
    expect(count("created") + count("pending")).toBe(0);
    // Of what is paid by transfer some came, one is overdue, and of one a part came.
    const transfers = await rows(
      "select state, captured > 0 as came, count(*) as n from payments where mode = 'live' and connection_id is null group by 1, 2 order by 1, 2",
    );
    expect(transfers.map(({ state, came, n }) => [state, came, n])).toEqual([
      ["captured", 1, 3],
      ["pending", 0, 2],
      ["pending", 1, 1],
    ]);
    const [span] = await rows(
      "select max(created_at) - min(created_at) as days from payments where mode = 'live'",
    );
    expect(Number(span?.days) / 86_400_000).toBeGreaterThan(DAYS - 4);
    expect(await rows("select case_id, error, verdicts from proofs where state <> 'passed'")).toEqual([]);
    expect(
      await rows("select id from jobs where kind = 'deliver-news' and lane like 'luvwinkel-de:%'"),
    ).toEqual([]);
    expect(await rows("select number from webhooks where outcome = 'waiting'")).toEqual([]);
    // The key that was revoked over there was found out, and an edit waits for its cutover.
    const [check] = await rows(
      "select wrong from key_checks where mode = 'live' order by at desc, id desc limit 1",
    );
    expect(check?.wrong).not.toBe("{}");
    const disputes = await rows(
      "select f.kind, p.dispute from findings f join payments p on p.id = f.payment_id where f.state = 'open' and f.mode = 'live' order by f.kind",
    );
    // An order that nobody has looked at yet, whose money goes back tomorrow; and one that was paid twice.
    expect(disputes.map(({ kind, dispute }) => [kind, dispute])).toEqual([
      ["dispute", "open"],
      ["held-back", null],
      ["held-ends", null],
      ["surplus", null],
    ]);
    const waiting = await rows("select id from offers where live_id is not null and live_id <> working_id");
    expect(waiting).toHaveLength(1);
    client.close();
  });

  it("leaves Zahlung, the provider and the shop with the same orders", async () => {
    const shop = JSON.parse(readFileSync(join(place, "shop.json"), "utf8")) as {
      orders: { mode: string; state: string }[];
    };
    const karvello = JSON.parse(readFileSync(join(place, "standins-karvello.json"), "utf8")) as {
      live: { bills: Record<string, { stand: string }> };
    };
    const client = createClient({ url: `file:${join(place, "zahlung.db")}` });
    const paid = async (condition: string) =>
      Number(
        (
          await client.execute(
            `select count(distinct p.order_reference) as n from payments p left join connections c on c.id = p.connection_id
             where p.mode = 'live' and p.captured > 0 and p.state <> 'pending' and ${condition}`,
          )
        ).rows[0]?.n,
      );
    const there = shop.orders.filter(
      (one) => one.mode === "live" && /captured|refunded|disputed/.test(one.state),
    ).length;
    expect(there).toBeGreaterThan(10);
    expect(there).toBe(await paid("p.storefront_id = 'luvwinkel-de'"));
    expect(Object.values(karvello.live.bills).filter((one) => one.stand === "paid").length).toBe(
      await paid("c.profile_id = 'karvello'"),
    );
    client.close();
  });
});
