import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { call, openLine } from "#server/gateway/gateway";
import { pay } from "#server/checkouts/pay";
import { checkoutOf } from "#server/checkouts/checkouts";
import { rebuildProjections } from "#server/payments/rebuild";
import { callerOf, issueApiKey, setNewsAddress } from "#server/storefronts/storefronts";
import { must } from "../demo/play";
import type { SystemWorld } from "../e2e/system/world";
import { percentile, round } from "./figures";
import { order, shopHeaders } from "./throughput";

const ORDERS = 400;
const AT_ONCE = 8;

/** Does a piece of work so often, some at once; the milliseconds that each took, and a second's count. */
async function repeated(work: (i: number) => Promise<void>, times = ORDERS) {
  const took: number[] = [];
  let next = 0;
  const started = performance.now();
  const one = async () => {
    for (let i = next++; i < times; i = next++) {
      const at = performance.now();
      await work(i);
      took.push(performance.now() - at);
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, one));
  return { perSecond: (times / (performance.now() - started)) * 1000, took };
}

/** A shop that takes news and says when an order is paid. */
async function listening() {
  const waiting = new Map<string, () => void>();
  const server: Server = createServer((request, response) => {
    let body = "";
    request.on("data", (part: Buffer) => (body += part.toString("utf8")));
    request.on("end", () => {
      response.writeHead(204).end();
      const { type, data } = JSON.parse(body || "{}") as {
        type?: string;
        data?: { order?: { order: string; paid: string } };
      };
      const told = data?.order;
      if (type === "order.changed" && told && told.paid !== "0.00") waiting.get(told.order)?.();
    });
  });
  await new Promise<void>((resolve) => server.listen(0, resolve));
  return {
    address: `http://localhost:${(server.address() as AddressInfo).port}/news`,
    paid: (reference: string) => new Promise<void>((resolve) => waiting.set(reference, resolve)),
    close: () => server.close(),
  };
}

/**
 * Whole orders, from the shop's question to the news that it is paid (opened over the shop API, paid at the simulated
 * provider, told by its webhook, news taken by the shop), beside the same parts each alone: a checkout opened, a payment made
 * at the provider, a piece of news taken.
 */
export async function measureOrders(world: SystemWorld) {
  const { rt } = world;
  const key = await issueApiKey(rt, "bench", "luvwinkel-de", "test");
  const shop = await listening();
  const secret = `whsec_${Buffer.alloc(32, 7).toString("base64")}`;
  const headers = shopHeaders(key);
  const open = async (body: string) => {
    const answer = await fetch(`${world.origin}/api/v1/checkouts`, {
      method: "POST",
      headers: { "content-type": "application/json", ...headers() },
      body,
    });
    if (answer.status !== 201) throw new Error(`a checkout was answered ${answer.status}`);
    return ((await answer.json()) as { checkout: string }).checkout;
  };
  const opened = await repeated(async () => void (await open(order())));
  const line = must(await openLine(rt, { connectionId: world.connectionId, mode: "test" }), "keys");
  const asked = await repeated(async (i) => {
    const input = { amount: 4390, currency: "EUR", token: "play-approved", capture: "at-once" };
    const reference = `bench-${i}-${rt.ids.next("b")}`;
    const rest = { authentication: "issuer", statement: "LUVWINKEL", returnAddress: world.origin };
    const answer = await call(rt, line, "create", {
      ...input,
      ...rest,
      reference,
      idempotencyKey: reference,
    });
    if (answer.kind !== "answered") throw new Error(answer.kind);
  });
  const told = await repeated(async () => {
    await fetch(shop.address, { method: "POST", body: "{}" });
  });
  await setNewsAddress(rt, must(await callerOf(rt, key), "caller"), shop.address, secret);
  const whole = await repeated(async () => {
    const body = order();
    const paid = shop.paid((JSON.parse(body) as { reference: string }).reference);
    const checkout = must(await checkoutOf(rt, await open(body)), "checkout");
    const made = await pay(rt, checkout, world.offerId, "play-approved");
    if (made.kind !== "payment") throw new Error(made.kind);
    await paid;
  });
  shop.close();
  const parts = 1 / opened.perSecond + 1 / asked.perSecond + 1 / told.perSecond;
  return {
    perSecond: round(whole.perSecond, 1),
    p50ms: round(percentile(whole.took, 0.5), 0),
    p99ms: round(percentile(whole.took, 0.99), 0),
    parts: {
      checkoutsPerSecond: round(opened.perSecond, 0),
      paymentsAtProviderPerSecond: round(asked.perSecond, 0),
      newsPerSecond: round(told.perSecond, 0),
      sumPerSecond: round(1 / parts, 0),
    },
    ratio: round(whole.perSecond * parts),
  };
}

const PAYMENTS = 1_000_000;

/** Folds a million payments anew, of three facts each, one in a thousand of which is wrong. */
export async function measureRebuild(world: SystemWorld) {
  const { rt } = world;
  await pay(
    rt,
    must(await checkoutOf(rt, await oneCheckout(world)), "checkout"),
    world.offerId,
    "play-approved",
    { patient: true },
  );
  const { client } = rt.db;
  const [paid] = (await client.execute("select id from payments limit 1")).rows;
  const columns = (await client.execute("select name from pragma_table_info('payments')")).rows.map((row) =>
    String(row.name),
  );
  const own: Record<string, string> = { id: "'pay_m' || printf('%07d', n)", reference: "'m-' || n" };
  const names = columns.map((name) => `"${name}"`).join(", ");
  const values = columns.map((name) => own[name] ?? `p."${name}"`).join(", ");
  const numbers = `with recursive n(n) as (select 1 union all select n + 1 from n where n < ${PAYMENTS})`;
  const id = String(paid?.id);
  await client.execute({
    sql: `insert into payments (${names}) ${numbers} select ${values} from n, payments p where p.id = ?`,
    args: [id],
  });
  await client.execute({
    sql: `insert into facts (payment_id, key, source, at, recorded_at, statement)
          ${numbers} select 'pay_m' || printf('%07d', n), f.key, f.source, f.at, f.recorded_at, f.statement
          from n, (select * from facts where payment_id = ? order by number limit 3) f`,
    args: [id],
  });
  await rebuildProjections(rt);
  await client.execute("update payments set captured = captured + 1 where id like 'pay_m%000'");
  const started = performance.now();
  let steps = 0;
  const { done, mended } = await rebuildProjections(rt, () => (steps += 1));
  return {
    seconds: round((performance.now() - started) / 1000, 1),
    payments: done,
    mended,
    steps,
    memoryMb: round(process.memoryUsage().rss / 1_048_576, 0),
    reach: "under 60 s, with progress",
  };
}

async function oneCheckout({ rt, origin }: SystemWorld): Promise<string> {
  const key = await issueApiKey(rt, "bench", "luvwinkel-de", "test");
  const answer = await fetch(`${origin}/api/v1/checkouts`, {
    method: "POST",
    headers: { "content-type": "application/json", ...shopHeaders(key)() },
    body: order(),
  });
  return ((await answer.json()) as { checkout: string }).checkout;
}
