import { eq, sql } from "drizzle-orm";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { checkoutOf } from "#server/checkouts/checkouts";
import { pay } from "#server/checkouts/pay";
import type { Payment, Payout } from "#server/database/rows";
import { connectionStorefronts, outbox, payouts } from "#server/database/schema";
import { listFindings as listFindingsSaid } from "#server/findings/findings";
import { followStandings } from "#server/findings/standing";
import { act } from "#server/payments/actions";
import { paymentOf } from "#server/payments/record";
import { entriesAfter, exportedEntries, listPayouts, payoutAccounts, payoutHere } from "#server/payouts/list";
import { askForPayouts, followPayouts, readPayouts } from "#server/payouts/read";
import { mustStand } from "#server/storefronts/now";
import { type AtDashboard, atDashboard } from "../../demo/dashboards";
import { enterKeys } from "#server/connections/keys";
import { until, whereIs } from "../../demo/play";
import { speaking } from "../../scripts/english";
import { must } from "./at-providers";
import { openKite, openWorld, type SystemWorld } from "./world";

// Where the money goes that was taken: what a provider paid out, and which payments are in it.

const listFindings = speaking(listFindingsSaid);
const DE = "luvwinkel-de";

let world: SystemWorld;
let desk: AtDashboard;
beforeAll(async () => {
  world = await openWorld({ beside: false });
  desk = await atDashboard(world.standins, "karvello");
});
afterAll(() => world.end());

const rt = () => world.rt;
const now = async ({ id }: Payment) => must(await paymentOf(rt(), id));
const account = async () => must(await mustStand(rt(), DE));
const key = () => `${world.connectionId}:test`;

async function buy(reference: string): Promise<Payment> {
  const checkout = must(await checkoutOf(rt(), (await openKite(rt(), { reference })).id));
  const paid = await pay(rt(), checkout, world.offerId, "play-approved", { patient: true });
  if (paid.kind !== "payment") throw new Error(paid.kind);
  await until("it is captured", async () => (await now(paid.payment)).state === "captured");
  return paid.payment;
}
const refund = async (payment: Payment, amount: number) =>
  act(rt(), "ida", await now(payment), { kind: "refund", amount, once: `r${amount}` });
const send = () =>
  desk.press("sandbox", "send-out", { account: must(world.keys.test)["account-code"] ?? "" });
const bounce = () =>
  desk.press("sandbox", "bounce", { account: must(world.keys.test)["account-code"] ?? "" });
const page = async (after: string | null = null) =>
  listPayouts(rt(), await account(), { mode: "test", connectionId: null, after });
const newest = async (): Promise<Payout> => must((await page()).rows[0]);
const findings = async () =>
  (await listFindings(rt(), DE, { mode: "test", open: true, after: null })).rows
    .filter(({ kind }) => kind.startsWith("payout"))
    .map(({ kind, title, says, to }) => ({ kind, title, says, to }));

describe("payouts", () => {
  it("are read when the provider tells of one, and each payment knows that it is in it", async () => {
    const [one, two] = [await buy("OUT-1"), await buy("OUT-2")];
    await refund(two, 1000);
    const before = Number(
      (
        await rt()
          .db.orm.select({ n: sql`count(*)` })
          .from(outbox)
      )[0]?.n,
    );
    await send();
    await until("the payments are paid out", async () => (await now(one)).paidOut === 4390);
    await until("both are", async () => (await now(two)).paidOut === 3390);
    await until("all is told", async () => (await newest()).told === "paid");
    const payout = await newest();
    // 1.35 percent and 22 of each, and nothing for the refund.
    expect(payout).toMatchObject({ amount: 2 * (4390 - 81) - 1000, sum: 2 * (4390 - 81) - 1000, entries: 3 });
    expect(payout).toMatchObject({ state: "paid", told: "paid", isRead: true, odd: false });
    const shown = must(await payoutHere(rt(), DE, payout.id, null));
    expect(shown.entries.map(({ kind, order, here, amount }) => [kind, order, here, amount])).toEqual(
      expect.arrayContaining([
        ["payment", "OUT-1", true, 4390],
        ["payment", "OUT-2", true, 4390],
        ["refund", "OUT-2", true, -1000],
      ]),
    );
    const times = shown.entries.map(({ at }) => at ?? 0);
    expect(times).toEqual(times.toSorted((a, b) => a - b));
    const ids = shown.entries.map(({ id }) => id);
    const after = await entriesAfter(rt(), DE, payout.id, must(ids[0]), 10);
    expect(after.map(({ id }) => id)).toEqual(ids.slice(1));
    expect(shown.sums).toEqual(
      expect.arrayContaining([{ kind: "payment", entries: 2, fee: 162, net: 8618, strange: 0 }]),
    );
    // The shop's orders are as they were: it is told nothing.
    expect(
      Number(
        (
          await rt()
            .db.orm.select({ n: sql`count(*)` })
            .from(outbox)
        )[0]?.n,
      ),
    ).toBe(before);
    await followStandings(rt());
    expect(await findings()).toEqual([]);
  });

  it("are read page by page, go on where a reading broke off, and come to nothing twice", async () => {
    const many = await Promise.all(Array.from({ length: 4 }, (_, i) => buy(`MANY-${i}`)));
    await send();
    await until(
      "they are read",
      async () => (await newest()).told === "paid" && (await newest()).entries === 4,
    );
    // As if it had been read to half, and the payments told nothing yet.
    const { id } = await newest();
    await rt().db.client.execute({
      sql: "delete from payout_entries where payout_id = ? and id > (select min(id) from payout_entries where payout_id = ?)",
      args: [id, id],
    });
    await rt()
      .db.orm.update(payouts)
      .set({ isRead: false, told: null, entries: 1 })
      .where(eq(payouts.id, id));
    expect(await readPayouts(rt(), key())).toBeGreaterThan(0);
    expect(await newest()).toMatchObject({ entries: 4, isRead: true, told: "paid", odd: false });
    for (const payment of many) expect((await now(payment)).paidOut).toBe(4390);
    await readPayouts(rt(), key());
    expect((await page()).rows).toHaveLength(2);
    const all = must(await exportedEntries(rt(), DE, id));
    expect(all.entries).toHaveLength(4);
  });

  it("that come back are told of, and their payments count as not paid out", async () => {
    const payment = await buy("BACK");
    await send();
    await until("it is paid out", async () => (await now(payment)).paidOut === 4390);
    await bounce();
    await until("it came back", async () => (await now(payment)).paidOut === 0);
    await followStandings(rt());
    const { id } = await newest();
    expect(await findings()).toMatchObject([
      {
        kind: "payout-failed",
        title: expect.stringMatching(/came back/) as string,
        to: `/s/luvwinkel-de/operate/payouts/${id}`,
      },
    ]);
  });

  it("count again once they are sent once more", async () => {
    const [back] = (await page()).rows;
    const [entry] = must(await payoutHere(rt(), DE, must(back).id, null)).entries;
    const paid = async () => must(await paymentOf(rt(), entry?.paymentId ?? "")).paidOut;
    expect([must(back).state, await paid()]).toEqual(["failed", 0]);
    for (const [press, paidOut] of [
      ["send-again", 4390],
      ["bounce", 0],
    ] as const) {
      await desk.press("sandbox", press);
      await until(`${paidOut} of it are paid out`, async () => (await paid()) === paidOut);
    }
  });

  it("that do not add up are told of until they do", async () => {
    const { id } = must((await page()).rows[1]);
    const amount = async (change: number) => {
      await rt().db.client.execute({
        sql: "update payouts set amount = amount + ?, odd = ? where id = ?",
        args: [change, change > 0 ? 1 : 0, id],
      });
      await followStandings(rt());
      return (await findings()).filter((one) => one.to.endsWith(id)).map((one) => one.kind);
    };
    expect(await amount(5)).toEqual(["payout-off"]);
    expect(await amount(-5)).toEqual([]);
  });

  it("hold what was sold elsewhere through the same account, which is kept and shown", async () => {
    const payment = await buy("ELSEWHERE");
    await rt().db.client.execute({
      sql: "update payments set reference = 'other-1', provider_ref = 'other-2', version = version + 1 where id = ?",
      args: [payment.id],
    });
    await send();
    await until("it is read", async () => {
      const { rows } = await page();
      return rows.length === 4 && rows[0]?.isRead === true;
    });
    const shown = must(await payoutHere(rt(), DE, (await newest()).id, null));
    expect(shown.entries).toMatchObject([{ kind: "payment", paymentId: null, order: null, here: false }]);
    expect(shown.sums[0]?.strange).toBe(1);
    expect((await now(payment)).paidOut).toBe(0);
  });

  it("say at which account money is missed, and what a provider answered instead", async () => {
    const missed = async () =>
      must((await payoutAccounts(rt(), await account(), "test")).find((one) => one.tells));
    expect((await missed()).missed).toEqual([]);
    world.clock.offset += 8 * 86_400_000;
    // What came back, and what nobody knows by its name.
    expect((await missed()).missed).toEqual([{ currency: "EUR", payments: 2, amount: 8780 }]);
    await fetch(`${world.standins}/weather/karvello`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ side: "sandbox", kind: "error", calls: 8 }),
    });
    // Whatever else asks meanwhile meets the same weather.
    await expect(readPayouts(rt(), key())).rejects.toThrow();
    expect((await missed()).outcome).not.toBeNull();
    await until("it answers again", () =>
      readPayouts(rt(), key()).then(
        () => true,
        () => false,
      ),
    );
    expect((await missed()).outcome).toBeNull();
    world.clock.offset = 0;
  });

  it("are asked for at every account whose provider tells of them, and at no other", async () => {
    await rt().db.client.execute("delete from jobs where kind = 'read-payouts'");
    await followPayouts(rt());
    const { rows } = await rt().db.client.execute("select key from jobs where kind = 'read-payouts'");
    expect(rows.map((row) => row.key).sort()).toEqual([`${world.connectionId}:live`, key()]);
    expect(await readPayouts(rt(), "no-such-account:test")).toBeNull();
    await rt().db.write([askForPayouts(rt(), world.connectionId, "test")]);
  });
});

describe("what stands wrong at a live account", () => {
  it("is told of as a finding that goes away by itself", async () => {
    await rt()
      .db.orm.update(connectionStorefronts)
      .set({ live: "live" })
      .where(eq(connectionStorefronts.connectionId, world.connectionId));
    const live = async () => {
      await followStandings(rt());
      return (await listFindings(rt(), DE, { mode: "live", open: true, after: null })).rows;
    };
    const rows = await live();
    expect(rows.length).toBeGreaterThan(0);
    expect(rows.every(({ kind }) => kind === "gate-slipped")).toBe(true);
    expect(rows.map(({ title }) => title)[0]).toMatch(/^A gate of .* slipped: /);
    expect(rows.map(({ title }) => title).join()).toMatch(/called with its live key/);
    expect(await live()).toHaveLength(rows.length);
    // Keys that are refused are one finding, and not one for each gate that follows from them.
    await enterKeys(rt(), "ida", await whereIs(rt(), world.connectionId), "live", {
      "server-key": `kvs.l.${"a".repeat(32)}`,
    });
    const refused = await live();
    expect(refused.filter(({ kind }) => kind === "key-refused")).toMatchObject([
      {
        title: expect.stringMatching(/refuses its live keys$/) as string,
        says: expect.stringMatching(
          /^Key refused by Karvello.* Payments go on with the keys from before/,
        ) as string,
        to: `/s/luvwinkel-de/connect/${world.connectionId}`,
      },
    ]);
    expect(refused.map(({ title }) => title).join()).not.toMatch(/Live keys proven|may charge/);
    await rt()
      .db.orm.update(connectionStorefronts)
      .set({ live: "never" })
      .where(eq(connectionStorefronts.connectionId, world.connectionId));
    expect(await live()).toEqual([]);
  });
});
