import { eq } from "drizzle-orm";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { checkoutOf } from "#server/checkouts/checkouts";
import { pay } from "#server/checkouts/pay";
import type { Payment } from "#server/database/rows";
import { facts, jobs, payments } from "#server/database/schema";
import { followDisputes, readDisputes } from "#server/disputes/read";
import { listFindings as listFindingsSaid } from "#server/findings/findings";
import { followStandings } from "#server/findings/standing";
import { call, lineOf } from "#server/gateway/gateway";
import { paymentOf } from "#server/payments/record";
import { until } from "../../demo/play";
import { speaking } from "../../scripts/english";
import { must } from "./at-providers";
import { openKite, openWorld, type SystemWorld } from "./world";

// Disputes that the provider lists: known although no message of them came.

const listFindings = speaking(listFindingsSaid);
const DE = "luvwinkel-de";
let world: SystemWorld;
beforeAll(async () => {
  world = await openWorld({ beside: false });
});
afterAll(() => world.end());

const rt = () => world.rt;
const key = () => `${world.connectionId}:test`;
const now = async ({ id }: Payment) => must(await paymentOf(rt(), id));

async function buy(reference: string): Promise<Payment> {
  const checkout = must(await checkoutOf(rt(), (await openKite(rt(), { reference })).id));
  const paid = await pay(rt(), checkout, world.offerId, "play-approved", { patient: true });
  if (paid.kind !== "payment") throw new Error(paid.kind);
  await until("it is captured", async () => (await now(paid.payment)).state === "captured");
  return paid.payment;
}
/** What a bank does to a payment over there, while the message of it is lost. */
async function unheard(payment: Payment, answer: string) {
  await world.weather("lose", 1);
  const line = must(await lineOf(rt(), payment));
  const { providerRef: ref } = await now(payment);
  const played = await call(rt(), line, "actForShopper", { ref, answer });
  expect(played.kind).toBe("answered");
}
const findings = async (kind: string) => {
  await followStandings(rt());
  return (await listFindings(rt(), DE, { mode: "test", open: true, after: null })).rows.filter(
    (one) => one.kind === kind,
  );
};
/** What was told of a payment's disputes by themselves; messages about the rest of it may come at any time. */
const disputesTold = async ({ id }: Payment) =>
  (await rt().db.orm.select().from(facts).where(eq(facts.paymentId, id)))
    .map(({ statement }) => statement)
    .filter(({ object }) => object === "dispute");

describe("a dispute whose message was lost", () => {
  it("is known once the provider’s list was read, with its date, and is told of as a finding", async () => {
    const payment = await buy("DIS-1");
    await unheard(payment, "complain");
    expect(await now(payment)).toMatchObject({ state: "captured", inDispute: 0 });
    expect(await readDisputes(rt(), key())).toMatchObject({ again: 6 * 3_600_000 });
    expect(await now(payment)).toMatchObject({
      ...{ state: "disputed", inDispute: 4390, dispute: "open" },
      disputeDue: expect.any(Number),
    });
    expect(await findings("dispute")).toMatchObject([{ orderReference: "DIS-1" }]);
  });

  it("is told once, however often the list is read, and its end is known as well", async () => {
    const [payment] = await rt().db.orm.select().from(payments).where(eq(payments.orderReference, "DIS-1"));
    await readDisputes(rt(), key());
    await readDisputes(rt(), key());
    expect(await disputesTold(must(payment))).toHaveLength(1);
    await unheard(must(payment), "for-holder");
    await readDisputes(rt(), key());
    expect(await now(must(payment))).toMatchObject({ state: "disputed", inDispute: 0, lost: 4390 });
    expect(await findings("dispute")).toEqual([]);
  });

  it("adds nothing where its message came", async () => {
    const payment = await buy("DIS-2");
    const line = must(await lineOf(rt(), payment));
    await call(rt(), line, "actForShopper", { ref: (await now(payment)).providerRef, answer: "complain" });
    await until("it is told", async () => (await now(payment)).dispute === "open");
    await readDisputes(rt(), key());
    expect(await disputesTold(payment)).toEqual([]);
  });
});

describe("a list of disputes", () => {
  it("is read page by page, every six hours, at every account whose provider has one", async () => {
    const asked: string[] = [];
    world.wire.http = async (input, init) => {
      const url = String(input instanceof Request ? input.url : input);
      if (!url.includes("/complaints")) return fetch(input, init);
      asked.push(new URL(url).searchParams.get("after") ?? "none");
      const answer = (await (await fetch(input, init)).json()) as { complaints: { no: string }[] };
      const from = asked.at(-1) === "" ? 0 : answer.complaints.length;
      const all = asked.at(-1) === "" ? answer.complaints.slice(from, from + 1) : answer.complaints;
      const more = asked.at(-1) === "" ? all[0]?.no : null;
      return Response.json({ complaints: all, more });
    };
    expect(await readDisputes(rt(), key())).not.toBeNull();
    expect(asked).toHaveLength(2);
    expect(asked[0]).toBe("");
    expect(asked[1]).not.toBe("");
    world.wire.http = null;
    await rt().db.orm.delete(jobs).where(eq(jobs.kind, "read-disputes"));
    await followDisputes(rt());
    const wanted = await rt().db.orm.select().from(jobs).where(eq(jobs.kind, "read-disputes"));
    expect(wanted.map((one) => one.key).sort()).toEqual([`${world.connectionId}:live`, key()]);
    expect(await readDisputes(rt(), "no-such-account:test")).toBeNull();
  });

  it("tells of an open one about no payment that is known here, until there is none", async () => {
    const answer = (state: string) =>
      Response.json({
        complaints: [
          ...[{ no: "C-9", slip: "elsewhere", your_ref: "pos-7", coin: "EUR", round: 1, sum: 1250 }].map(
            (one) => ({
              ...{ ...one, stand: state, why: "not recognised", answer_by: "2027-01-01T00:00:00Z" },
            }),
          ),
        ],
        more: null,
      });
    // As background work does it, whichever process that is in.
    const reads = async (state: string) => {
      world.wire.http = async (input, init) =>
        String(input instanceof Request ? input.url : input).includes("/complaints")
          ? answer(state)
          : fetch(input, init);
      const { again, progress } = must(await readDisputes(rt(), key()));
      await rt()
        .db.orm.update(jobs)
        .set({ progress, runAt: rt().now() + again, lease: null })
        .where(eq(jobs.key, key()));
    };
    await reads("open");
    expect(await findings("dispute-unknown")).toMatchObject([
      {
        title: "Karvello: a dispute about no payment that is known here",
        says: expect.stringContaining("A dispute of €12.50 is open (“C-9” over there).") as string,
        to: `/s/luvwinkel-de/connect/${world.connectionId}`,
      },
    ]);
    await reads("for_shop");
    expect(await findings("dispute-unknown")).toEqual([]);
    world.wire.http = null;
  });

  it("says what a provider answered instead of a list, and is tried again", async () => {
    world.wire.http = async (input, init) =>
      String(input instanceof Request ? input.url : input).includes("/complaints")
        ? new Response("{}", { status: 503 })
        : fetch(input, init);
    await expect(readDisputes(rt(), key())).rejects.toThrow();
    world.wire.http = null;
  });
});
