import { spawn } from "node:child_process";
import { once } from "node:events";
import { openFront } from "#server/http/front";
import { startWorker } from "#server/jobs/worker";
import { act } from "#server/payments/actions";
import { paymentOf } from "#server/payments/record";
import { installProfiles } from "#server/profiles/profiles";
import { setListed } from "#server/costs/plan";
import { openRuntime } from "#server/runtime";
import { readSettings } from "#server/settings";
import { proveKeys } from "#server/connections/proving";
import { serveStorefront } from "#server/connections/disconnect";
import { issueApiKey } from "#server/storefronts/storefronts";
import { program } from "../scripts/programs.mjs";
import { type Account, connectAccount, editOffer, goLive, rehearseAll, standOnDomain } from "./accounts";
import { AtKarvello, cards } from "./karvello";
import { must, until, whereIs } from "./play";
import { payTwice, tradeByTransfer } from "./offline";
import { giveLook } from "./look";
import { DE, DEALERS, JP, offerAll, UK } from "./offers";
import { placeProfiles } from "./profiles";
import { demoOwner, seed } from "./scenario";
import { shop as shopAt, type Way } from "./shoppers";
import { subscribeAt } from "./subscribers";

// Plays the whole job and two months of trade through the functions that the interface uses, with every clock of the
// demo world turned back together. At the end something is wrong on purpose, so that every screen has something to say.

interface World {
  standins: Record<string, string>;
  shop: Record<string, string>;
  origins: { standins: string; shop: string };
}

const DAY = 86_400_000;
const DAYS = Number(process.env.FURNISH_DAYS ?? 60);
const world = JSON.parse(process.env.FURNISH_ENV ?? "{}") as World;
const { standins, shop } = world.origins;
const settings = readSettings(process.env, { production: false });
let offset = -(DAYS + 1) * DAY;
/** News that is under way carries the time at which it was signed: the shop would take it for an old one of another day. */
const newsArrived = async () => {
  const underWay = "select count(*) as n from jobs where kind = 'deliver-news' and lease is not null";
  for (let look = 0; look < 100; look++) {
    const { rows } = await rt.db.client.execute(underWay);
    if (rows[0]?.n === 0) return;
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
};
const setClock = async (to: number) => {
  await newsArrived();
  offset = to;
  // Each says when its clock stands there.
  await Promise.all(
    outside.map((child) => {
      const heard = once(child, "message");
      child.send(offset);
      return heard;
    }),
  );
};

const answers = (address: string) => async () => {
  try {
    return (await fetch(address)).ok;
  } catch {
    return false;
  }
};

await placeProfiles(settings.profilesFolder, standins);
const outside = [
  ["standins/providers/main.ts", world.standins] as const,
  ["standins/shop/main.ts", world.shop] as const,
].map(([file, env]) =>
  spawn(process.execPath, ["--import", "./demo/shifted-clock.mjs", program(file)], {
    env: { ...process.env, ...env, CLOCK_OFFSET: String(offset) },
    stdio: ["ignore", "ignore", "inherit", "ipc"],
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

// The shops: Luvwinkel DE's own, and the others' as their servers call.
const tell = (form: Record<string, string>) =>
  fetch(`${shop}/keeper`, {
    method: "POST",
    body: new URLSearchParams({ api: `${settings.origin}/api/v1`, ...form }),
  });
await tell({ test: await issueApiKey(rt, person, DE, "test"), mode: "test" });
await tell({ live: await issueApiKey(rt, person, DE, "live"), mode: "test" });
const serve = async (name: string, text: string) => {
  await fetch(`${shop}/keeper/files`, { method: "POST", body: new URLSearchParams({ name, text }) });
};

type Call = (method: string, path: string, body?: unknown) => Promise<Record<string, unknown>>;
const caller =
  (key: string): Call =>
  async (method, path, body) => {
    const answer = await fetch(`${settings.origin}/api/v1${path}`, {
      method,
      headers: {
        authorization: `Bearer ${key}`,
        "content-type": "application/json",
        ...(method === "POST" && { "idempotency-key": rt.ids.next("dem") }),
      },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    });
    const read = (await answer.json()) as Record<string, unknown>;
    if (!answer.ok) throw new Error(`${path}: ${JSON.stringify(read)}`);
    return read;
  };
const others: Record<string, Call> = {};
const branchOf: Record<string, string> = { [UK]: "uk", [JP]: "jp", [DEALERS]: "dealers" };
for (const id of [UK, JP, DEALERS]) {
  for (const mode of ["test", "live"] as const) {
    const key = await issueApiKey(rt, person, id, mode);
    await tell({ branch: must(branchOf[id], "branch"), [mode]: key, mode: "test" });
    others[id] = caller(key);
  }
}

// Connect: each account with its keys and its messages, on both sides where it is to go live.
const karvello = await connectAccount(rt, standins, { provider: "karvello", storefrontId: DE });
const [wallet, device, instalments, pageCards] = await Promise.all([
  connectAccount(rt, standins, { provider: "pennywhistle", storefrontId: DE }),
  connectAccount(rt, standins, { provider: "thumbra", storefrontId: DE }),
  connectAccount(rt, standins, { provider: "ratenhaus", storefrontId: DE }),
  connectAccount(rt, standins, { provider: "ostwick", storefrontId: DE, modes: ["test"] }),
]);
for (const mode of ["test", "live"] as const) await standOnDomain(rt, device, DE, mode, serve);
const handel = await connectAccount(rt, standins, {
  provider: "karvello",
  storefrontId: DEALERS,
  holder: "Luvwinkel Handel",
  name: "Karvello, dealers",
  modes: ["test"],
});
const outlet = await openOutlet();
const code = await connectAccount(rt, standins, {
  provider: "quippa",
  storefrontId: JP,
  holder: "Kabushiki",
});
await serveStorefront(rt, person, await whereIs(rt, karvello.connectionId), UK, true);
for (const profile of ["quippa", "ostwick"]) await setListed(rt, person, DE, profile, true);

/** Ostwick's outlet of the company in Britain, whose live side has to be applied for first. */
async function openOutlet(): Promise<Account> {
  const wanted = { provider: "ostwick", storefrontId: UK, holder: "Kites Ltd", name: "Ostwick, UK" };
  const { desk } = pageCards;
  const account = await desk.account("live", "Kites Ltd");
  for (const to of ["applied", "looking", "open"]) await desk.press("live", "review", { account, to });
  return connectAccount(rt, standins, wanted);
}

const offers = await offerAll(rt, { karvello, device, wallet, instalments, outlet, code, handel });
const { transfer } = offers;

// A product looked at in the shop: that page says where the shop answers its buttons.
await until("the shop's buttons", async () =>
  (await (await fetch(`${shop}/goods/sturm`)).text()).includes("<zahlung-button"),
);

// Rehearse, and cut over all that is ready.
const atKarvello = new AtKarvello(standins);
await atKarvello.signIn();
await Promise.all([DE, UK, JP, DEALERS].map((id) => rehearseAll(rt, id)));
await goLive(
  rt,
  DE,
  [karvello, wallet, device, instalments].map((one) => one.connectionId),
);
await goLive(rt, UK, [outlet.connectionId]);
await goLive(rt, JP, [code.connectionId]);

// Test purchases that a person made before, and then trade.
const orderAtShop = async (basket: string) => {
  const placed = await fetch(`${shop}/orders`, {
    method: "POST",
    headers: { cookie: `basket=${basket}` },
    body: new URLSearchParams({ email: "ida@example.org", country: "DE", language: "de" }),
    redirect: "manual",
  });
  return must(placed.headers.get("location")?.split("/").at(-1), "checkout");
};
let orderNo = 1;
const orderBy = async (id: string, currency: string, total: string, about: object) => {
  const opened = await must(others[id], "shop")("POST", "/checkouts", {
    reference: `${id === UK ? "UK" : "JP"}-${20_000 + orderNo++}`,
    currency,
    lines: [{ name: "Kite", quantity: 1, unit: total, total }],
    shipping: "0",
    tax: "0",
    taxIncluded: true,
    total,
    group: "retail",
    email: "shopper@example.org",
    returnAddress: `https://shop.example/orders/${orderNo}`,
    ...about,
  });
  return must(String(opened.address).split("/").at(-1), "checkout");
};
await tell({ mode: "test" });
const inFrame = (side: "sandbox" | "live", card: string): Way["frame"] => ({
  karvello: atKarvello,
  keys: must(karvello.keys[side === "sandbox" ? "test" : "live"], "keys"),
  side,
  card,
});
for (const card of cards.sandbox)
  await shopAt(rt, standins, await orderAtShop("moewe.1"), {
    offerId: offers.card,
    good: true,
    frame: inFrame("sandbox", card),
  });
await tell({ mode: "live" });

// The same every time, so that pictures of it can be compared.
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
const outletCards = await outlet.desk.cards("live");
const settled = async () => {
  const waiting = async (table: string, condition: string) =>
    (await rt.db.client.execute(`select count(*) as n from ${table} where ${condition}`)).rows[0]?.n === 0;
  await until(
    "webhooks and news",
    async () =>
      (await waiting("webhooks", "outcome = 'waiting'")) &&
      (await waiting("jobs", `kind = 'judge-walk' or (kind = 'deliver-news' and lane like '${DE}:%')`)) &&
      (await waiting("payments", "mode = 'live' and state in ('created', 'pending')")),
  );
  // A provider sends again within a quarter of a second; then everything about the payment has been said.
  await new Promise((resolve) => setTimeout(resolve, 60));
};

/** What one shopper of Luvwinkel DE does. */
async function atLuvwinkel() {
  const good = chance() > 0.12;
  const basket = pick(baskets);
  const [draw, card] = [chance(), pick(good ? cards.live.good : cards.live.bad)];
  const token = await orderAtShop(basket);
  const buy = (way: Way) => shopAt(rt, standins, token, way);
  if (draw < 0.16 && /sturm|werktag/.test(basket)) return buy({ offerId: offers.plan, good });
  if (draw < 0.35) return buy({ offerId: offers.wallet, good });
  if (draw < 0.42) return buy({ offerId: offers.thumb, good: true, device: true });
  return buy({ offerId: offers.card, good, frame: inFrame("live", card) });
}
async function inBritain() {
  const good = chance() > 0.1;
  const total = pick(["39.00", "12.90", "189.00", "24.50"]);
  const token = await orderBy(UK, "GBP", total, { country: "GB", language: "en" });
  return shopAt(rt, standins, token, { offerId: offers.page, good, cards: outletCards });
}
async function inJapan() {
  const good = chance() > 0.08;
  const total = pick(["6200", "2100", "28000", "3900"]);
  const token = await orderBy(JP, "JPY", total, { country: "JP", language: "ja" });
  return shopAt(rt, standins, token, { offerId: offers.code, good });
}

/** Who subscribes to what so many days before today; the last card is good only while its holder is there. */
const [goodCard = "", otherCard = ""] = cards.live.good;
const subscribers: Record<number, [plan: string, card: string]> = {
  46: ["season", goodCard],
  40: ["line-club", otherCard],
  33: ["line-club", goodCard],
  20: ["line-club", cards.live.later],
  12: ["season", otherCard],
};
/** An order so large that a person looks at it first; nobody has, and what is held of it ends tomorrow. */
const HELD_SINCE = 6;
for (let day = DAYS - 1; day >= 0; day--) {
  const subscriber = subscribers[day];
  if (subscriber) {
    await setClock(-day * DAY - DAY * 0.45);
    const [plan, card] = subscriber;
    const frame = must(inFrame("live", card), "frame");
    await subscribeAt(rt, shop, plan, { offerId: offers.card, good: true, frame });
  }
  if (day === HELD_SINCE) {
    await setClock(-day * DAY - DAY * 0.5);
    const frame = must(inFrame("live", goodCard), "frame");
    await shopAt(rt, standins, await orderAtShop("werktag.1_sturm.1"), {
      offerId: offers.card,
      good: true,
      frame,
    });
  }
  // One day in seven nobody buys kites.
  if (day % 7 === 3) continue;
  const times = Array.from({ length: chance() > 0.6 ? 2 : 1 }, () =>
    Math.floor((chance() - 1) * DAY * 0.4),
  ).sort((a, b) => a - b);
  for (const time of times) {
    await setClock(time - day * DAY);
    const [afterwards, whole] = [chance(), chance() > 0.5];
    // Chance is drawn in one order, whatever comes back first.
    const [here, , britain] = await Promise.all([
      atLuvwinkel(),
      atLuvwinkel(),
      ...(day % 3 > 0 ? [inBritain()] : [inJapan()]),
    ]);
    await settled();
    if (britain?.storefrontId === UK && day > 1) await capture(britain.id);
    const payment = here && (await paymentOf(rt, here.id));
    if (payment?.state !== "captured" || afterwards > 0.12) continue;
    const all = whole || payment.methodId === "plan" ? payment.captured : Math.floor(payment.captured / 2);
    await act(rt, person, payment, { kind: "refund", amount: all, once: "furnished" });
  }
}
/** What Luvwinkel UK sends out it captures; what is declined has nothing to capture. */
async function capture(id: string) {
  const payment = await paymentOf(rt, id);
  if (payment?.state === "authorised")
    await act(rt, person, payment, { kind: "capture", amount: payment.authorised, once: "furnished" });
}
await settled();

// What is wrong on purpose: an address fallen silent, a key revoked over there, an edit that waits for its cutover.
await setClock(-DAY * 0.3);
await fetch(`${standins}/weather/quippa`, {
  method: "POST",
  headers: { "content-type": "application/json" },
  body: JSON.stringify({ side: "live", kind: "lose", calls: 20 }),
});
for (let i = 0; i < 2; i++) await inJapan();
await until("what a look-up settles", async () => {
  await setClock(offset + 60_000);
  const open = await rt.db.client.execute(
    "select count(*) as n from payments where mode = 'live' and state in ('created', 'pending')",
  );
  return open.rows[0]?.n === 0;
});
await setClock(0);
// What was sold so far is paid out, by cards and in instalments; what is sold after that waits for the next time.
await atKarvello.press("live", "send-out");
await outlet.desk.press("live", "close-day", { account: await outlet.desk.account("live", "Kites Ltd") });
await instalments.desk.press("live", "pay-out");
await until("the payouts", async () => {
  const read = await rt.db.client.execute(
    "select count(*) as n from payouts where is_read = 1 and told = state",
  );
  return read.rows[0]?.n === 3;
});
await tradeByTransfer(rt, transfer, { order: orderAtShop, setClock });
await payTwice(rt, transfer, {
  ...{ order: orderAtShop, setClock },
  byCard: (token) =>
    shopAt(rt, standins, token, {
      ...{ offerId: offers.card, good: true, frame: must(inFrame("live", otherCard), "frame") },
    }),
});
// A card holder whose bank asks, a few days before it wants an answer.
const [charged] = (
  await rt.db.client.execute(
    `select p.id, p.provider_ref from payments p join connections c on c.id = p.connection_id
     where p.mode = 'live' and p.state = 'captured' and c.profile_id = 'karvello' order by p.created_at desc limit 1`,
  )
).rows;
await atKarvello.press("live", "play", { slip: String(charged?.provider_ref), what: "complain" });
await until("the dispute", async () => (await paymentOf(rt, String(charged?.id)))?.dispute === "open");
const account = await outlet.desk.account("live", "Kites Ltd");
await outlet.desk.press("live", "passphrase", { account });
await proveKeys(rt, await whereIs(rt, outlet.connectionId), "live");
await giveLook(rt, DE, shop);
await editOffer(rt, DE, offers.card, { limits: { EUR: { least: null, greatest: 75_000 } } });
await rehearseAll(rt, DE);

server.closeAllConnections();
server.close();
await endWorker();
for (const child of outside) {
  child.kill("SIGTERM");
  await once(child, "exit");
}
rt.db.close();
