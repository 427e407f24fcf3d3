import { afterAll, beforeAll, expect, it } from "vitest";
import { listAudit } from "../audit/audit";
import { cutoversOf } from "../cutover/cutover";
import { firstLivePayments } from "../cutover/first-payment";
import { chargedIn } from "../costs/charged";
import { seenTotals } from "../costs/plan";
import { standingsOf } from "../cutover/standing";
import { exportedExchanges, listExchanges } from "../exchanges/list";
import { type KeptFilter, listKept } from "../instruments/list";
import { listWebhooks } from "../intake/list";
import { failingJobs } from "../jobs/list";
import { lookRevisionsOf } from "../looks/revisions";
import { removedZones, zoneRevisionsOf } from "../offers/zone-revisions";
import { filterFrom, listPayments } from "../payments/list";
import { listOrdersHere, type OrderFilter } from "../orders/list";
import { entriesAfter } from "../payouts/list";
import { allPeople } from "../people/people";
import { listSubscriptionsHere, type SubscriptionFilter } from "../subscriptions/list";
import { mustStand } from "../storefronts/now";
import { addStorefront, allStorefronts, issueApiKey } from "../storefronts/storefronts";
import { north, openTestRuntime, type TestRuntime } from "../test-runtime";

// Every list is read in the order of an index: SQLite says itself how it would carry out each statement.

let world: TestRuntime;
const asked: { sql: string; args: unknown[] }[] = [];
beforeAll(async () => {
  world = await openTestRuntime();
  await addStorefront(world.rt, "ida", north);
  await issueApiKey(world.rt, "ida", north.id, "test");
  const { client } = world.rt.db;
  const note = (one: unknown) => {
    const { sql, args } = typeof one === "string" ? { sql: one, args: [] } : (one as (typeof asked)[number]);
    if (/^\s*(select|with)/i.test(sql)) asked.push({ sql, args });
  };
  const [execute, batch] = [client.execute.bind(client), client.batch.bind(client)];
  client.execute = ((one: never) => (note(one), execute(one))) as typeof client.execute;
  client.batch = ((list: never[], mode: never) => (
    list.forEach(note),
    batch(list, mode)
  )) as typeof client.batch;
});
afterAll(() => world.close());

const payments = (query: string) =>
  listPayments(world.rt, north.id, filterFrom(new URLSearchParams(query), "live"));
const subscriptions = (change: Partial<SubscriptionFilter>) =>
  listSubscriptionsHere(world.rt, north.id, { mode: "live", state: null, query: "", after: null, ...change });
const kept = (change: Partial<KeptFilter>) =>
  listKept(world.rt, north.id, { mode: "live", shopper: "", after: null, ...change });
const filter = { connection: null, mode: null, operation: null, result: null, from: null, to: null };
const orders = (change: Partial<OrderFilter> = {}) =>
  listOrdersHere(world.rt, north.id, {
    ...{ mode: "live", state: null, query: "", connection: null, offer: null, amount: null },
    ...{ from: null, to: null, after: null, ...change },
  });
const lists: [string, () => Promise<unknown>][] = [
  ["payments, the newest", () => payments("")],
  ["payments, further on", () => payments("after=1700000000000-pay_1")],
  ["payments of a state", () => payments("state=captured&after=1700000000000-pay_1")],
  ["payments of before the cutover", () => payments("mode=test&archived=1&rehearsals=1")],
  ["payments that were searched for", () => payments("q=LW-1")],
  ["payments that were searched for, further on", () => payments("q=LW-1&after=pay_1")],
  ["payments that were searched for in a state", () => payments("q=LW-1&state=captured")],
  ["payments of an account", () => payments("connection=con_1&after=1700000000000-pay_1")],
  ["payments of an offer", () => payments("offer=off_1&after=1700000000000-pay_1")],
  ["payments of some days", () => payments("from=2026-01-01&to=2026-01-31&with=Norda")],
  ["payments, the oldest", () => payments("sort=time&after=1700000000000-pay_1")],
  ["payments, the largest", () => payments("sort=-amount&after=4390-1700000000000-pay_1")],
  [
    "payments of an amount",
    () => listPayments(world.rt, north.id, filterFrom(new URLSearchParams(), "live", { amount: 4390 })),
  ],
  ["payments by e-mail", () => payments("q=ida@example.org")],
  ["payments by last four digits", () => payments("q=0019")],
  ["subscriptions", () => subscriptions({})],
  ["subscriptions, further on", () => subscriptions({ after: "sub_1" })],
  ["subscriptions of a state", () => subscriptions({ state: "behind", after: "sub_1" })],
  ["subscriptions by number", () => subscriptions({ query: "LW-1" })],
  ["subscriptions by digits alone, further on", () => subscriptions({ query: "1", after: "sub_1" })],
  ["what a payout is made of", () => entriesAfter(world.rt, north.id, "out_1", "", 51)],
  ["what a payout is made of, further on", () => entriesAfter(world.rt, north.id, "out_1", "ent_1", 51)],
  ["what is kept", () => kept({})],
  ["what is kept, further on", () => kept({ after: "ins_1" })],
  ["what a shopper has kept", () => kept({ shopper: "customer-7" })],
  ["orders", () => orders()],
  [
    "orders of a filter",
    () => orders({ state: "paid", connection: "c", offer: "o", amount: 1, from: 1, to: 9 }),
  ],
  ["orders by what is known of them", () => orders({ query: "0099" })],
  ["orders by their number", () => orders({ query: "LW-1" })],
  ["orders by their number, further on", () => orders({ query: "LW-1", state: "paid", after: "ord_1" })],
  ["orders by their number in small letters", () => orders({ query: "lw-1" })],
  ["orders by e-mail", () => orders({ query: "ida@example.org" })],
  ["orders, further on", () => orders({ after: "ord_1" })],
  ["totals that were seen", () => seenTotals(world.rt, north.id, "DKK")],
  [
    "what accounts charged",
    async () => chargedIn(world.rt, await mustStand(world.rt, north.id), "live", { from: 1, to: 9 }),
  ],
  ["webhooks", () => listWebhooks(world.rt, north.id, "live", null)],
  [
    "webhooks, further on",
    () => listWebhooks(world.rt, north.id, "live", 7, { connection: "c", result: "left" }),
  ],
  ["exchanges", () => listExchanges(world.rt, north.id, filter, null)],
  ["exchanges, further on", () => listExchanges(world.rt, north.id, filter, "17-exc_1")],
  [
    "exchanges of a filter",
    () =>
      listExchanges(
        world.rt,
        north.id,
        { ...filter, connection: "c", mode: "test", operation: "create", result: "bad", from: 1, to: 9 },
        "17-exc_1",
      ),
  ],
  ["exchanges for an export", () => exportedExchanges(world.rt, north.id, filter)],
  ["the audit trail", () => listAudit(world.rt, null)],
  ["the audit trail, further on", () => listAudit(world.rt, 40)],
  ["the audit trail, searched", () => listAudit(world.rt, 40, "key")],
  ["looks that were worked on", () => lookRevisionsOf(world.rt, north.id, null)],
  ["looks that were worked on, further on", () => lookRevisionsOf(world.rt, north.id, 40)],
  ["revisions of a zone", () => zoneRevisionsOf(world.rt, "zon_1", 40)],
  ["zones that were removed", () => removedZones(world.rt)],
  ["movements of the lever", () => cutoversOf(world.rt, north.id)],
  ["first live payments", () => firstLivePayments(world.rt, north.id)],
  ["work that fails", () => failingJobs(world.rt)],
  ["people", () => allPeople(world.rt)],
  ["storefronts", () => allStorefronts(world.rt)],
  ["where connections stand", async () => standingsOf(world.rt, await mustStand(world.rt, north.id))],
];

it.each(lists)("%s come in the order of an index", async (_, read) => {
  asked.length = 0;
  await read();
  expect(asked.length).toBeGreaterThan(0);
  for (const { sql, args } of [...asked]) {
    const plan = await world.rt.db.client.execute({
      sql: `explain query plan ${sql}`,
      args: args as never[],
    });
    const steps = plan.rows.map((row) => String(row.detail));
    expect(
      steps.filter((step) => /TEMP B-TREE/.test(step)),
      sql,
    ).toEqual([]);
  }
});
