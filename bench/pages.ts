import { readFileSync } from "node:fs";
import { join } from "node:path";
import { gzipSync } from "node:zlib";
import { checkoutAddress } from "#server/checkouts/checkouts";
import { openKite, type SystemWorld } from "../e2e/system/world";
import { startBuilt } from "./built";
import { percentile, round } from "./figures";

const REQUESTS = 200;

/** Puts payments in by SQL, as many as wanted in all, spread over a year. */
async function fill(world: SystemWorld, total: number) {
  const { client } = world.rt.db;
  const have = Number((await client.execute("select count(*) as n from payments")).rows[0]?.n);
  const [one] = (await client.execute("select * from payments limit 1")).rows;
  if (!one) throw new Error("one payment is needed to copy");
  const columns = (await client.execute("select name from pragma_table_info('payments')")).rows.map((row) =>
    String(row.name),
  );
  const states = "json_array('captured','captured','captured','captured','declined','refunded')";
  const change: Record<string, string> = {
    id: "'pay_b' || printf('%09d', n)",
    reference: "'z-b' || n",
    order_reference: "'LW-B' || n",
    provider_ref: "'SB' || n",
    state: `json_extract(${states}, '$[' || (n % 6) || ']')`,
    mode: "'live'",
    origin: "'shop'",
    archived_at: "null",
    created_at: `${Date.now()} - n * 31000`,
  };
  for (let from = have; from < total; from += 100_000) {
    const to = Math.min(total, from + 100_000);
    await client.execute(
      `insert into payments (${columns.join(",")}) with recursive seq(n) as (select ${from} union all select n + 1 from seq where n + 1 < ${to})
       select ${columns.map((name) => change[name] ?? `payments.${name}`).join(",")} from seq, (select * from payments limit 1) as payments`,
    );
  }
  await client.execute("analyze");
}

/** Server time to first byte of the checkout and of the payments list, and the scripts of first screen and checkout. */
export async function measurePages(world: SystemWorld) {
  const { origin, cookie, end } = await startBuilt(world);
  try {
    const checkout = checkoutAddress(world.rt, await openKite(world.rt)).replace(world.origin, origin);
    const at = `${origin}/s/luvwinkel-de`;
    const list = `${at}/operate?mode=live`;
    const figures = async () => ({
      checkout: await firstByte(checkout, cookie),
      list: await firstByte(list, cookie),
      // As many rows among a thousand as among a million.
      search: await firstByte(`${list}&q=LW-B1`, cookie),
    });
    await fill(world, 1_000);
    await figures();
    const few = await figures();
    await fill(world, 1_000_000);
    // The connection kept from before has been closed while the rows were made.
    await fetch(checkout).catch(() => undefined);
    await figures();
    const many = await figures();
    const rare = await whileLooking(`${list}&with=Nobody`, `${origin}/healthz`, cookie);
    const both = (name: keyof typeof few) => ({
      p95msWith1000: few[name].p95,
      p95msWith1000000: many[name].p95,
      // Of the medians: one hiccup among two hundred requests says nothing about how many payments there are.
      ratio: round(many[name].p50 / few[name].p50),
      reach: "p95 under 60 ms, ratio 1.3 at most",
    });
    return {
      timeToFirstByte: { checkout: both("checkout"), payments: both("list"), paymentSearch: both("search") },
      rareAmong1000000: { ...rare, reach: "others wait under 100 ms" },
      scripts: {
        firstScreenGzipKb: await scriptsOf(at, cookie),
        checkoutGzipKb: await scriptsOf(checkout, ""),
        reach: "first screen under 200 kB, checkout under 150 kB",
      },
    };
  } finally {
    await end();
  }
}

async function firstByte(address: string, cookie: string) {
  const times: number[] = [];
  for (let n = 0; n < REQUESTS; n++) {
    const start = performance.now();
    const response = await fetch(address, { headers: { cookie } });
    times.push(performance.now() - start);
    const text = await response.text();
    if (!response.ok || !text.includes("</html>")) throw new Error(`${address} answered ${response.status}`);
  }
  return { p50: percentile(times, 0.5), p95: round(percentile(times, 0.95)) };
}

/** How long looking for something rare takes, and how long the slowest of others that ask meanwhile waits. */
async function whileLooking(address: string, other: string, cookie: string) {
  const start = performance.now();
  let looking = true;
  const found = fetch(address, { headers: { cookie } })
    .then((response) => response.text())
    .finally(() => (looking = false));
  let longest = 0;
  while (looking) {
    const asked = performance.now();
    await (await fetch(other)).text();
    longest = Math.max(longest, performance.now() - asked);
  }
  if (!(await found).includes("</html>")) throw new Error(`${address} gave no page`);
  return { ms: round(performance.now() - start, 0), othersWaitMs: round(longest, 0) };
}

/** What a page loads as script at once; the list of all other pages' scripts is named in it as well, and not loaded. */
const LOADED = /(?:<link rel="modulepreload" href=|import(?: \* as \w+ from)? )"(\/assets\/[\w.-]+\.js)"/g;

/** Everything a page loads as script at once, gzipped, in kB. */
async function scriptsOf(address: string, cookie: string): Promise<number> {
  const page = await (await fetch(address, { headers: { cookie } })).text();
  const files = new Set([...page.matchAll(LOADED)].map(([, file = ""]) => file));
  if (files.size === 0) throw new Error(`${address} loads no scripts`);
  let size = 0;
  for (const file of files) size += gzipSync(readFileSync(join("build/client", file))).length;
  return round(size / 1000, 1);
}
