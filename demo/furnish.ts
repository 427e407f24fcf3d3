import { spawn } from "node:child_process";
import { writeFileSync } from "node:fs";
import { once } from "node:events";
import { join } from "node:path";
import { caseIds } from "#core/rehearsal/cases";
import { checkoutByToken } from "#server/checkouts/checkouts";
import { pay } from "#server/checkouts/pay";
import { openFront } from "#server/http/front";
import { startWorker } from "#server/jobs/worker";
import { act } from "#server/payments/actions";
import { installProfiles } from "#server/profiles/profiles";
import { boardOf } from "#server/rehearsal/boards";
import { startRehearsal } from "#server/rehearsal/run";
import { openRuntime } from "#server/runtime";
import { readSettings } from "#server/settings";
import { issueApiKey } from "#server/storefronts/storefronts";
import { program } from "../scripts/programs.mjs";
import { cards } from "./karvello";
import { connectKarvello, cutOverNow, must, offerCard, offerNow, until } from "./play";
import { placeProfiles } from "./profiles";
import { demoOwner, seed } from "./scenario";

// Plays the whole job and a month of trade through the functions that the interface uses, with every clock of the
// demo world turned back together.

interface World {
  standins: Record<string, string>;
  shop: Record<string, string>;
  origins: { standins: string; shop: string };
}

const DAY = 86_400_000;
const world = JSON.parse(process.env.FURNISH_ENV ?? "{}") as World;
const { standins, shop } = world.origins;
const settings = readSettings(process.env, { production: false });
const clockFile = join(settings.profilesFolder, "..", "clock");
let offset = -31 * DAY;
const setClock = async (to: number) => {
  offset = to;
  writeFileSync(clockFile, String(offset));
  await new Promise((resolve) => setTimeout(resolve, 40));
};

const answers = (address: string) => async () => {
  try {
    return (await fetch(address)).ok;
  } catch {
    return false;
  }
};

await placeProfiles(settings.profilesFolder, standins);
await setClock(offset);
const outside = [
  ["standins/providers/main.ts", world.standins] as const,
  ["standins/shop/main.ts", world.shop] as const,
].map(([file, env]) =>
  spawn(process.execPath, ["--import", "./demo/shifted-clock.mjs", program(file)], {
    env: { ...process.env, ...env, CLOCK_FILE: clockFile },
    stdio: ["ignore", "ignore", "inherit"],
  }),
);
// Whatever happens, the processes started here end with this one.
process.on("exit", () => outside.forEach((child) => child.kill("SIGTERM")));
const rt = await openRuntime(settings, { root: process.cwd(), now: () => Date.now() + offset });
await installProfiles(rt, settings.profilesFolder);
await seed(rt, shop);
const { server } = openFront(rt);
server.listen(settings.port);
const endWorker = startWorker(rt);
await until("the outside world", answers(`${standins}/healthz`));
await until("the shop", answers(`${shop}/healthz`));

const person = demoOwner.email;
// Connect.
const { connectionId, karvello, keys } = await connectKarvello(rt, standins);
const tell = (form: Record<string, string>) =>
  fetch(`${shop}/keeper`, {
    method: "POST",
    body: new URLSearchParams({ api: `${settings.origin}/api/v1`, ...form }),
  });
await tell({ test: await issueApiKey(rt, person, "luvwinkel-de", "test"), mode: "test" });
await tell({ live: await issueApiKey(rt, person, "luvwinkel-de", "live"), mode: "test" });

// Offer.
const offerId = await offerCard(rt, connectionId);

/** A shopper buys: basket, order, checkout, card. Returns the payment. */
async function buy(side: "sandbox" | "live", basket: string, card: string) {
  const placed = await fetch(`${shop}/orders`, {
    method: "POST",
    headers: { cookie: `basket=${basket}` },
    body: new URLSearchParams({ email: "ida@example.org", country: "DE", language: "de" }),
    redirect: "manual",
  });
  const token = must(placed.headers.get("location")?.split("/").at(-1), "checkout");
  const checkout = must(await checkoutByToken(rt, token), "checkout");
  const paid = await pay(
    rt,
    checkout,
    offerId,
    await karvello.token(side, keys[side === "sandbox" ? "test" : "live"], card),
  );
  return paid.kind === "payment" ? paid.payment : null;
}

// Rehearse.
for (const card of cards.sandbox) await buy("sandbox", "moewe.1", card);
await startRehearsal(rt, person, await offerNow(rt, offerId), [...caseIds]);
await until("the rehearsal", async () => {
  const board = await boardOf(rt, await offerNow(rt, offerId));
  return board.running === null && board.cells.every((cell) => cell.proof !== null);
});

// Cut over.
const moved = await cutOverNow(rt, person, connectionId);
if (!moved.ok) throw new Error(moved.says);
await tell({ mode: "live" });

// A month of trade: the same every time, so that pictures of it can be compared.
let seedOfChance = 20261124;
const chance = () => (seedOfChance = (seedOfChance * 1103515245 + 12345) % 2147483648) / 2147483648;
const pick = <T>(list: readonly T[]): T => must(list[Math.floor(chance() * list.length)], "choice");
const baskets = [
  "moewe.1",
  "leine.2",
  "sturm.1",
  "band.3",
  "stab.1_leine.1",
  "moewe.2_band.1",
  "sturm.1_leine.2",
  "werktag.1",
];
const settled = async () => {
  const waiting = async (table: string, condition: string) =>
    (await rt.db.client.execute(`select count(*) as n from ${table} where ${condition}`)).rows[0]?.n === 0;
  await until(
    "webhooks and news",
    async () =>
      (await waiting("webhooks", "outcome = 'waiting'")) &&
      (await waiting("jobs", "kind in ('deliver-news', 'judge-walk')")),
  );
  // Karvello rings again within a quarter of a second; then everything about the payment has been said.
  await new Promise((resolve) => setTimeout(resolve, 60));
};
for (let day = 30; day >= 0; day--) {
  const times = Array.from({ length: 2 + Math.floor(chance() * 5) }, () =>
    Math.floor((chance() - 1) * DAY * 0.4),
  );
  for (const time of times.sort((a, b) => a - b)) {
    await settled();
    await setClock(time - day * DAY);
    const good = chance() > 0.14;
    const payment = await buy("live", pick(baskets), pick(good ? cards.live.good : cards.live.bad));
    if (payment?.state !== "captured" || chance() > 0.15) continue;
    const part = chance() > 0.5 ? payment.captured : Math.floor(payment.captured / 2);
    await act(rt, person, payment, "refund", part, "furnished");
  }
}
await settled();
await setClock(0);

server.closeAllConnections();
server.close();
await endWorker();
for (const child of outside) {
  child.kill("SIGTERM");
  await once(child, "exit");
}
rt.db.close();
