import { sql } from "drizzle-orm";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openCheckout } from "#server/checkouts/checkouts";
import { pay } from "#server/checkouts/pay";
import { orders } from "#server/database/schema";
import { askFor } from "#server/jobs/jobs";
import { failingJobs } from "#server/jobs/list";
import { newsOfCheckout } from "#server/outbox/news";
import { paymentOf } from "#server/payments/record";
import { addStorefront, setNewsAddress } from "#server/storefronts/storefronts";
import { until } from "../../demo/play";
import { luvwinkelDe } from "../../demo/scenario";
import { anotherZahlung, kill, kiteOrder, onServer, openKite, openWorld, type SystemWorld } from "./world";

// Work that fails, hangs or never succeeds, beside work that does not: the others go on, and it is seen.

let world: SystemWorld;
let shop: Server;
const heard: string[] = [];
const secret = `whsec_${Buffer.alloc(32, 3).toString("base64")}`;
/** What the shop does with the next news about a reference. */
let manner: (reference: string) => "takes" | "hangs" | { after: number } = () => "takes";
beforeAll(async () => {
  world = await openWorld({ beside: false });
  await addStorefront(world.rt, "ida", { ...luvwinkelDe("http://localhost:2"), id: "other", name: "Other" });
  shop = createServer((request, response) => {
    let body = "";
    request.on("data", (part: Buffer) => (body += part.toString("utf8")));
    request.on("end", () => {
      const reference = /"order":"([^"]+)"/.exec(body)?.[1] ?? "";
      const does = manner(reference);
      if (does === "hangs") return;
      heard.push(reference);
      setTimeout(() => response.writeHead(204).end(), does === "takes" ? 0 : does.after);
    });
  });
  await new Promise<void>((resolve) => shop.listen(0, resolve));
  const address = `http://localhost:${(shop.address() as AddressInfo).port}/news`;
  for (const storefrontId of ["luvwinkel-de", "other"])
    await setNewsAddress(world.rt, { storefrontId, mode: "test" }, address, secret);
});
afterAll(async () => {
  shop.closeAllConnections();
  shop.close();
  await world.end();
});

const rows = async (sql: string) => (await world.rt.db.client.execute(sql)).rows;
const clearUp = () => fetch(`${world.standins}/weather/karvello`, { method: "DELETE" });

/** Tells a storefront's shop of a checkout, as background work does. */
async function tell(storefrontId: string, reference: string) {
  const { rt } = world;
  const order = kiteOrder({ reference });
  const said = { at: rt.now(), from: "shop", to: "zahlung", label: "opens a checkout", ok: true } as const;
  const checkout = await openCheckout(rt, { storefrontId, mode: "test", origin: "shop", order }, said);
  await rt.db.write([...newsOfCheckout(rt, checkout, "expired")]);
  rt.nudge();
}
const isTold = (reference: string) => until(`news of ${reference}`, () => heard.includes(reference));

/** How many stand in one queue; fewer on a server, where each takes long to make. */
const many = onServer ? 12 : 51;

describe("the others go on", () => {
  it("while many checkouts cannot be let go, each of which is seen, and let go once it can", async () => {
    for (let n = 0; n < many; n++) {
      const paid = await pay(world.rt, await openKite(world.rt), world.offerId, "play-ask");
      if (paid.kind !== "payment") throw new Error(paid.kind);
    }
    await until(
      "all are asked by the bank",
      async () => (await rows("select 1 from payments where state = 'pending'")).length === many,
    );
    await world.weather("error", 1_000_000);
    world.clock.offset = 46 * 60_000;
    world.rt.nudge();
    await until("all of them failed", async () => {
      const failing = await rows("select 1 from jobs where kind = 'let-go' and tries > 0");
      return failing.length === many;
    });
    expect((await failingJobs(world.rt)).filter((job) => job.kind === "let-go" && job.error).length).toBe(
      many,
    );
    await tell("other", "beside-many");
    await isTold("beside-many");
    expect(await rows("select 1 from jobs where kind = 'let-go'")).toHaveLength(many);
    await clearUp();
    world.clock.offset += 24 * 3_600_000;
    world.rt.nudge();
    await until(
      "they are let go",
      async () => (await rows("select 1 from jobs where kind = 'let-go'")).length === 0,
    );
    expect(await rows("select distinct state from payments where state = 'pending'")).toEqual([]);
    world.clock.offset = 0;
  });

  it("while eleven surplus payments cannot be given back, each of which is once it can", async () => {
    const ids: string[] = [];
    for (let n = 0; n < 11; n++) {
      const paid = await pay(world.rt, await openKite(world.rt), world.offerId, "play-approved");
      if (paid.kind !== "payment") throw new Error(paid.kind);
      ids.push(paid.payment.id);
    }
    for (const id of ids)
      await until("captured", async () => (await paymentOf(world.rt, id))?.state === "captured");
    await world.weather("error", 1_000_000);
    await world.rt.db.write(
      ids.flatMap((id) => [
        // As if another payment had paid the order; counted as a change, so that whoever writes just now reads it again.
        world.rt.db.orm
          .update(orders)
          .set({
            payingPaymentId: "pay_elsewhere",
            parts: { pay_elsewhere: { amount: 4390, whole: true, held: 0, paid: 4390, refunded: 0 } },
            version: sql`version + 1`,
          })
          .where(
            sql`id = (select c.order_id from checkouts c join payments p on p.checkout_id = c.id where p.id = ${id})`,
          ),
        askFor(world.rt, { kind: "undo-surplus", key: id, lane: world.connectionId }),
      ]),
    );
    world.rt.nudge();
    const unknown = "select 1 from payment_operations where kind = 'refund' and state = 'unknown'";
    await until("what became of each is not known", async () => (await rows(unknown)).length === 11);
    await tell("other", "beside-11");
    await isTold("beside-11");
    await clearUp();
    world.clock.offset = 24 * 3_600_000;
    world.rt.nudge();
    await until(
      "they are given back",
      async () => (await rows("select 1 from jobs where kind in ('undo-surplus', 'operation')")).length === 0,
    );
    for (const id of ids) expect((await paymentOf(world.rt, id))?.refunded).toBe(4390);
    world.clock.offset = 0;
  });

  it("while a shop hangs with all that it is told", async () => {
    manner = (reference) => (reference.startsWith("hangs") ? "hangs" : "takes");
    for (let n = 0; n < 60; n++) await tell("luvwinkel-de", `hangs-${n}`);
    await tell("other", "beside-hanging");
    await isTold("beside-hanging");
    expect(heard.some((one) => one.startsWith("hangs"))).toBe(false);
    manner = () => "takes";
    shop.closeAllConnections();
    world.clock.offset = 24 * 3_600_000;
    world.rt.nudge();
    await until("it is told all", () => heard.filter((one) => one.startsWith("hangs")).length >= 60);
    world.clock.offset = 0;
  });
});

it("ended by SIGTERM, a process ends what it is doing first, and nothing is done twice", async () => {
  const reference = "slowly-told";
  manner = (one) => (one === reference ? { after: 3_000 } : "takes");
  const { child } = await anotherZahlung(world.env);
  // Of the two, whichever takes it: the other is told to end, or has nothing to do with it.
  await tell("luvwinkel-de", reference);
  await isTold(reference);
  await kill(child, "SIGTERM");
  expect(child.exitCode).toBe(0);
  await until("it is settled", async () => {
    const told = `select delivered_at from outbox where body like '%"order":"${reference}"%'`;
    return (await rows(told)).every((row) => row.delivered_at !== null);
  });
  expect(heard.filter((one) => one === reference)).toHaveLength(1);
});
