import { eq } from "drizzle-orm";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Profile } from "#core/profiles/profile";
import { checkoutOf } from "#server/checkouts/checkouts";
import { pay } from "#server/checkouts/pay";
import { takeUpVersion } from "#server/profiles/take-up";
import type { Payment } from "#server/database/rows";
import { facts, webhooks } from "#server/database/schema";
import { call, lineOf } from "#server/gateway/gateway";
import { installVersion, profileOf, versionsOf } from "#server/profiles/profiles";
import { paymentOf } from "#server/payments/record";
import { until, whereIs } from "../../demo/play";
import { must } from "./at-providers";
import { openKite, openWorld, type SystemWorld } from "./world";

// Messages about one refund or one dispute, which say nothing of the rest of their payment.

let world: SystemWorld;
beforeAll(async () => {
  world = await openWorld({ beside: false });
  await takeUp((profile) => {
    const { webhooks: told } = profile;
    if (!told) throw new Error("it tells nothing");
    told.kinds = { ...told.kinds, "slip.given_back": "refund", "slip.complained": "dispute" };
    const last = (list: string) =>
      `'id': ${list}[-1].no, 'amount': ${list}[-1].sum, 'state': ${list}[-1].stand`;
    told.refund = `about.{'ref': no, 'currency': coin, ${last("backs")}}`;
    told.dispute = `about.{'reference': your_ref, 'currency': coin, 'due': complaints[-1].answer_by, ${last("complaints")}}`;
  });
});
afterAll(() => world.end());
const rt = () => world.rt;

/** The provider by another profile from now on. */
async function takeUp(change: (profile: Profile) => void) {
  const where = await whereIs(rt(), world.connectionId);
  const variant = structuredClone(must(await profileOf(rt(), "karvello")));
  change(variant);
  const [major, minor, patch] = variant.version.split(".").map(Number);
  variant.version = `${major}.${minor}.${(patch ?? 0) + (await versionsOf(rt(), "karvello")).length}`;
  await installVersion(rt(), "ida", variant, "file");
  const newest = must((await versionsOf(rt(), "karvello")).find((one) => one.version === variant.version));
  await takeUpVersion(rt(), "ida", where, newest.id);
}

const now = async ({ id }: Payment) => must(await paymentOf(rt(), id));
async function buy(reference: string): Promise<Payment> {
  const checkout = must(await checkoutOf(rt(), (await openKite(rt(), { reference })).id));
  const paid = await pay(rt(), checkout, world.offerId, "play-approved", { patient: true });
  if (paid.kind !== "payment") throw new Error(paid.kind);
  await until("it is captured", async () => (await now(paid.payment)).state === "captured");
  return now(paid.payment);
}
/** Something that is done over there, of which nothing is known here but by its message. */
async function overThere(payment: Payment, what: "refund" | "actForShopper", more: Record<string, unknown>) {
  const line = must(await lineOf(rt(), payment));
  const { providerRef: ref, currency } = await now(payment);
  const answer = await call(rt(), line, what, {
    ...{ ref, currency, idempotencyKey: `${payment.id}-${String(more.amount)}` },
    ...more,
  });
  expect(answer.kind).toBe("answered");
}
const toldOf = async ({ id }: Payment) =>
  (await rt().db.orm.select().from(facts).where(eq(facts.paymentId, id)))
    .map(({ statement }) => statement)
    .filter(({ object }) => object !== "report");
const outcomes = async (event: string) =>
  (await rt().db.orm.select().from(webhooks).where(eq(webhooks.event, event))).map(({ outcome }) => outcome);

describe("a message about a refund", () => {
  it("is counted with the others of its payment, once however often it comes", async () => {
    const payment = await buy("ALONE-1");
    await overThere(payment, "refund", { amount: 1_000 });
    await until("the first", async () => (await now(payment)).refunded === 1_000);
    await world.weather("double", 1);
    await overThere(payment, "refund", { amount: 500 });
    await until("both", async () => (await now(payment)).refunded === 1_500);
    await until("the repetition", async () => (await outcomes("slip.given_back")).length === 3);
    expect(await now(payment)).toMatchObject({ state: "partly-refunded", refunded: 1_500, captured: 4_390 });
    expect((await toldOf(payment)).filter(({ object }) => object === "refund")).toHaveLength(2);
    expect((await outcomes("slip.given_back")).sort()).toEqual(["applied", "applied", "repeated"]);
  });
});

describe("a message about a dispute", () => {
  it("is its payment's dispute, with its date, until it is decided", async () => {
    const payment = await buy("ALONE-2");
    await overThere(payment, "actForShopper", { answer: "complain" });
    await until("it is disputed", async () => (await now(payment)).state === "disputed");
    expect(await now(payment)).toMatchObject({ inDispute: 4_390, disputeDue: expect.any(Number) });
    await overThere(payment, "actForShopper", { answer: "for-shop" });
    await until("it is won", async () => (await now(payment)).dispute === "won");
    expect(await now(payment)).toMatchObject({ state: "captured", inDispute: 0, lost: 0 });
  });
});

it("one about no payment here is kept and shown as that, and one that holds nothing as not understood", async () => {
  const before = await outcomes("slip.given_back");
  // As it is when the profile leads to nothing, or to somebody else's payment.
  for (const refund of [
    "about.{'ref': 'elsewhere', 'currency': coin, 'id': 'B', 'amount': 1, 'state': 'done'}",
    "about.none",
  ]) {
    await takeUp((profile) => {
      if (profile.webhooks)
        Object.assign(profile.webhooks, {
          refund,
          kinds: { ...profile.webhooks.kinds, "slip.given_back": "refund" },
        });
    });
    const payment = await buy(`ALONE-${refund.length}`);
    await overThere(payment, "refund", { amount: 100 });
    await until("it is taken", async () => (await outcomes("slip.given_back")).length > before.length);
    before.push("applied");
  }
  expect((await outcomes("slip.given_back")).slice(-2)).toEqual(["unknown-payment", "not-understood"]);
});
