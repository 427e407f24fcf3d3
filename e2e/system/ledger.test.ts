import { eq } from "drizzle-orm";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import type { Profile } from "#core/profiles/profile";
import { sign } from "#core/webhooks/standard-webhooks";
import { checkoutOf } from "#server/checkouts/checkouts";
import { pay } from "#server/checkouts/pay";
import { currentEndpoint } from "#server/connections/connections";
import type { Payment } from "#server/database/rows";
import { facts } from "#server/database/schema";
import { call, lineOf } from "#server/gateway/gateway";
import { enterKeys } from "#server/connections/keys";
import { proveKeys } from "#server/connections/proving";
import { takeNewerKeys } from "#server/payments/newer-keys";
import { operationsOf } from "#server/operations/operations";
import { followHolds } from "#server/findings/held";
import { findingsAbout as findingsAboutSaid } from "#server/findings/findings";
import { settle } from "#server/operations/settle";
import { act as actSaid, actionsOf as actionsOfSaid } from "#server/payments/actions";
import { rebuildProjections } from "#server/payments/rebuild";
import { paymentOf } from "#server/payments/record";
import { installVersion, profileOf, versionsOf } from "#server/profiles/profiles";
import { takeUpVersion } from "#server/profiles/take-up";
import { until, whereIs } from "../../demo/play";
import { speaking } from "../../scripts/english";
import { must } from "./at-providers";
import { openKite, openWorld, type SystemWorld } from "./world";

// What happens to money, as the provider's own books tell it afterwards.

const act = speaking(actSaid);
const actionsOf = speaking(actionsOfSaid);
const findingsAbout = speaking(findingsAboutSaid);

let world: SystemWorld;
beforeAll(async () => {
  world = await openWorld({ beside: false });
});
afterAll(() => world.end());
beforeEach(async () => {
  await fetch(`${world.standins}/weather/karvello`, { method: "DELETE" });
});

const rt = () => world.rt;
/** Bad weather for the next request that moves money; questions go through it unharmed. */
const storm = (kind: string, ms?: number) => world.weather(kind, 1, ms, "sandbox", "POST");
const now = async ({ id }: Payment) => must(await paymentOf(rt(), id));
const stands = (payment: Payment, state: string) =>
  until(`it is ${state}`, async () => (await now(payment)).state === state);

async function buy(token: string, capture: "at-once" | "later" = "at-once"): Promise<Payment> {
  const paid = await pay(rt(), await openKite(rt()), world.offerId, token, { capture, patient: true });
  if (paid.kind !== "payment") throw new Error(paid.kind);
  return paid.payment;
}
const press = async (
  payment: Payment,
  kind: "capture" | "release" | "void" | "refund",
  amount: number,
  rest: { once?: string; final?: boolean } = {},
) => act(rt(), "ida", await now(payment), { kind, amount, once: `${kind} ${amount}`, ...rest });

/** The payment as the provider has it. */
async function theirs(payment: Payment) {
  const line = must(await lineOf(rt(), payment));
  const answer = await call(rt(), line, "read", { ref: (await now(payment)).providerRef });
  if (answer.kind !== "answered") throw new Error("not read");
  return answer.value;
}
/** How the refunds of a payment stood, report after report. */
async function refundsTold({ id }: Payment): Promise<string[]> {
  const known = await rt().db.orm.select().from(facts).where(eq(facts.paymentId, id)).orderBy(facts.number);
  return known.flatMap(({ statement }) =>
    statement.object === "report"
      ? (statement.parts ?? []).flatMap((part) => (part.object === "refund" ? [part.state] : []))
      : [],
  );
}
/** What banks and time do, as the sandbox plays it. */
async function play(payment: Payment, answer: string) {
  const line = must(await lineOf(rt(), payment));
  const answered = await call(rt(), line, "actForShopper", { ref: (await now(payment)).providerRef, answer });
  expect(answered.kind).toBe("answered");
}

/** The same provider by another profile, until the returned function is called. */
async function withProfile(change: (profile: Profile) => void): Promise<() => Promise<void>> {
  const before = must(await profileOf(rt(), "karvello"));
  const where = await whereIs(rt(), world.connectionId);
  const variant = structuredClone(where.versions.test.profile);
  change(variant);
  const [major, minor, patch] = before.version.split(".").map(Number);
  variant.version = `${major}.${minor}.${(patch ?? 0) + 1 + (await versionsOf(rt(), "karvello")).length}`;
  await installVersion(rt(), "ida", variant, "file");
  const newest = must((await versionsOf(rt(), "karvello")).find((one) => one.version === variant.version));
  await takeUpVersion(rt(), "ida", where, newest.id);
  return async () => {
    await takeUpVersion(rt(), "ida", await whereIs(rt(), world.connectionId), where.versions.test.id);
  };
}
/** Takes away that the provider recognises a repetition: each request has a key of its own. */
const forgetful = (profile: Profile) => {
  for (const name of ["capture", "void", "release", "refund"] as const) {
    const operation = must(profile.operations[name]);
    operation.idempotent = false;
    operation.request.headers = { "Once-Only": "nonce" };
  }
};

describe("an operation whose answer is lost", () => {
  it.each(["time-out", "error-after"])("is done once where repetitions are recognised: %s", async (kind) => {
    const payment = await buy("play-approved");
    await storm(kind);
    if (kind === "time-out") world.impatient(400);
    expect(await press(payment, "refund", 1000)).toMatchObject({ ok: true });
    expect((await theirs(payment)).refunds).toMatchObject([{ amount: 1000 }]);
    expect(await now(payment)).toMatchObject({ refunded: 1000, state: "partly-refunded" });
  });

  it.each(["time-out", "error-after"])(
    "is looked up, never sent again, where they are not: %s",
    async (kind) => {
      const restore = await withProfile(forgetful);
      try {
        const payment = await buy("play-approved");
        await stands(payment, "captured");
        await storm(kind);
        if (kind === "time-out") world.impatient(400);
        expect(await press(payment, "refund", 1000)).toMatchObject({ ok: true });
        expect((await theirs(payment)).refunds).toHaveLength(1);
        const [, refund] = await operationsOf(rt(), payment.id);
        expect(refund).toMatchObject({ state: "done", asks: 1, looked: "there" });
        expect((await now(payment)).refunded).toBe(1000);
      } finally {
        await restore();
      }
    },
  );

  it("comes to nothing, and can be pressed again, when the provider has no trace of it", async () => {
    const restore = await withProfile(forgetful);
    try {
      const payment = await buy("play-approved");
      await stands(payment, "captured");
      await storm("error");
      const pressed = await act(rt(), "ida", await now(payment), {
        ...{ kind: "refund", amount: 1000, once: "lost", patience: 0 },
      });
      expect(pressed).toMatchObject({ ok: false, open: true });
      expect(await press(payment, "refund", 1000)).toMatchObject({
        ok: false,
        says: "Something else is under way with this payment. It has to be known how that ended first.",
      });
      world.clock.offset = 100_000;
      rt().nudge();
      const lost = async () => (await operationsOf(rt(), payment.id)).find((one) => one.once === "lost");
      await until("it came to nothing", async () => (await lost())?.state === "nothing");
      world.clock.offset = 0;
      expect(await press(payment, "refund", 1000, { once: "again" })).toMatchObject({ ok: true });
      expect((await theirs(payment)).refunds).toHaveLength(1);
    } finally {
      await restore();
    }
  });

  it("is a person's to say when it can be neither looked up nor repeated", async () => {
    const restore = await withProfile((profile) => {
      forgetful(profile);
      delete profile.operations.read;
      delete profile.operations.find;
    });
    try {
      const payment = await buy("play-approved");
      await stands(payment, "captured");
      await storm("error-after");
      expect(await press(payment, "refund", 1000)).toMatchObject({
        ok: false,
        says: expect.stringContaining("Look at the payment over there") as string,
      });
      const [, question] = await operationsOf(rt(), payment.id);
      expect(question?.state).toBe("question");
      expect(await settle(rt(), "ida", payment, must(question).id, "done")).toEqual({ ok: true });
      expect((await settle(rt(), "ida", payment, must(question).id, "done")).ok).toBe(false);
      expect(await now(payment)).toMatchObject({ refunded: 1000, state: "partly-refunded" });
    } finally {
      await restore();
    }
  });

  it("waits for a provider that is busy as long as it wants", async () => {
    const payment = await buy("play-approved");
    await storm("busy", 1_000);
    expect(await press(payment, "refund", 500)).toMatchObject({ ok: true });
    const [, refund] = await operationsOf(rt(), payment.id);
    expect(refund).toMatchObject({ asks: 2, state: "done" });
    expect((await theirs(payment)).refunds).toHaveLength(1);
  });

  it("is refused by its status when the provider's code is in no list, and the form can be used anew", async () => {
    const payment = await buy("play-approved");
    world.wire.http = (input, init) =>
      init?.method === "POST"
        ? Promise.resolve(Response.json({ fault: { code: "K-999", text: "not today" } }, { status: 422 }))
        : fetch(input, init);
    try {
      expect(await press(payment, "refund", 700)).toMatchObject({
        ok: false,
        code: "K-999",
        says: "Karvello says: not today (K-999)",
      });
    } finally {
      world.wire.http = null;
    }
    expect(await press(payment, "refund", 700, { once: "another form" })).toMatchObject({ ok: true });
  });
});

describe("money that goes in parts", () => {
  it("is captured several times, and the rest is released", async () => {
    const payment = await buy("play-approved", "later");
    expect(payment).toMatchObject({ state: "authorised", held: 4390 });
    expect(payment.heldUntil).toBeGreaterThan(rt().now());
    expect(await press(payment, "capture", 1000)).toMatchObject({ ok: true });
    expect(await press(payment, "capture", 2000)).toMatchObject({ ok: true });
    expect(await now(payment)).toMatchObject({ state: "partly-captured", captured: 3000, held: 1390 });
    expect(await press(payment, "release", 390)).toMatchObject({ ok: true });
    expect(await press(payment, "capture", 500, { final: true })).toMatchObject({ ok: true });
    expect(await now(payment)).toMatchObject({ captured: 3500, released: 890, held: 0, heldUntil: null });
    expect((await theirs(payment)).captures).toHaveLength(3);
    expect(await press(payment, "capture", 1)).toMatchObject({ ok: false, says: "It has been captured." });
  });

  it("comes back when a refund fails, and can be refunded again", async () => {
    const payment = await buy("play-no-back");
    await stands(payment, "captured");
    expect(await press(payment, "refund", 4390)).toMatchObject({ ok: true });
    expect((await now(payment)).state).toMatch(/captured/);
    await until("the refund has failed", async () => {
      return (await refundsTold(payment)).includes("failed");
    });
    expect(await now(payment)).toMatchObject({ state: "captured", refunded: 0, refunding: 0 });
    const { profile } = await rt().library.version(payment.profileVersionId ?? "");
    expect((await actionsOf(rt(), await now(payment), profile)).refund).toMatchObject({ most: 4390 });
  });

  it("is on its way back while a slow bank takes its time", async () => {
    const payment = await buy("play-slow-back");
    await stands(payment, "captured");
    await press(payment, "refund", 1000);
    await until("it is given back", async () => (await now(payment)).refunded === 1000);
    expect(new Set(await refundsTold(payment))).toEqual(new Set(["pending", "succeeded"]));
  });

  it("is told of while it is held and before it ends, until it is captured", async () => {
    const payment = await buy("play-approved", "later");
    const told = async () =>
      (await findingsAbout(rt(), payment.id)).filter((one) => one.kind === "held-ends");
    await followHolds(rt());
    expect(await told()).toEqual([]);
    world.clock.offset = 6 * 86_400_000;
    await followHolds(rt());
    await followHolds(rt());
    expect(await told()).toMatchObject([
      { state: "open", says: expect.stringContaining("€43.90 is held until") as string },
    ]);
    await press(payment, "capture", 4390);
    expect(await told()).toMatchObject([{ state: "resolved", person: null }]);
    world.clock.offset = 0;
  });

  it("ends by itself when nobody captures it in time", async () => {
    const payment = await buy("play-approved", "later");
    await play(payment, "lapse");
    await stands(payment, "expired");
    expect(await now(payment)).toMatchObject({ held: 0, released: 4390 });
    expect(await press(payment, "capture", 4390)).toMatchObject({ ok: false });
  });
});

describe("a dispute", () => {
  it("keeps the money from being refunded, and ends when it is won", async () => {
    const payment = await buy("play-approved");
    await stands(payment, "captured");
    await play(payment, "complain");
    await stands(payment, "disputed");
    expect(await now(payment)).toMatchObject({ dispute: "open", inDispute: 4390 });
    expect((await now(payment)).disputeDue).toBeGreaterThan(rt().now());
    expect(await press(payment, "refund", 100)).toMatchObject({
      ok: false,
      says: "A dispute is about this money; a refund as well would give it back twice.",
    });
    await play(payment, "for-shop");
    await stands(payment, "captured");
    expect(await now(payment)).toMatchObject({ dispute: "won", inDispute: 0 });
    await play(payment, "complain");
    await stands(payment, "disputed");
    await play(payment, "for-holder");
    await until("it is lost", async () => (await now(payment)).lost === 4390);
  });

  it("is not a check for fraud, which holds back a capture while it is open", async () => {
    const payment = await buy("play-watched", "later");
    expect(payment).toMatchObject({ state: "authorised", review: "open" });
    expect(await press(payment, "capture", 4390)).toMatchObject({
      ok: false,
      says: "The provider is still checking it for fraud.",
    });
    await play(payment, "clear");
    await until("the check is over", async () => (await now(payment)).review === "passed");
    expect(await press(payment, "capture", 4390, { once: "then" })).toMatchObject({ ok: true });
    await stands(payment, "captured");
  });
});

describe("what does not fit", () => {
  /** Sends a message about a payment, signed as the provider signs. */
  async function message(about: Record<string, unknown>) {
    const endpoint = await currentEndpoint(rt(), world.connectionId, "test");
    const secret = rt().seal.open(endpoint.secret, `endpoint:${endpoint.id}`);
    const body = JSON.stringify({ tell: "slip.taken", at: new Date().toISOString(), about });
    const answer = await fetch(`${world.origin}/hooks/${endpoint.path}`, {
      method: "POST",
      headers: {
        "content-type": "application/json",
        ...sign(secret, rt().ids.next("odd"), Date.now(), body),
      },
      body,
    });
    expect(answer.status).toBe(204);
  }
  const slip = (payment: Payment, change: Record<string, unknown>) => ({
    ...{
      no: payment.providerRef,
      your_ref: payment.reference,
      sum: 4390,
      coin: "EUR",
      stand: "taken",
      turn: 99,
    },
    ...{ held: 4390, taken: 4390, given_back: 0, card: { network: "Norda", last: "0019" } },
    ...change,
  });
  const statements = async ({ id }: Payment) =>
    (await rt().db.orm.select().from(facts).where(eq(facts.paymentId, id))).map((fact) => fact.statement);

  it("is kept, and no money is counted of it: another amount", async () => {
    const payment = await buy("play-approved");
    await stands(payment, "captured");
    await message(slip(payment, { sum: 99_999_999, taken: 99_999_999, held: 99_999_999 }));
    await until("it is kept", async () =>
      (await statements(payment)).some((one) => one.object === "misfit" && one.amount === 99_999_999),
    );
    expect(await now(payment)).toMatchObject({ state: "captured", captured: 4390 });
    expect((await findingsAbout(rt(), payment.id)).map((one) => [one.kind, one.says])).toEqual([
      [
        "other-amount",
        "The provider told of €999,999.99 for a payment of €43.90. No money was counted of it.",
      ],
    ]);
  });

  it("is kept, with the provider's word: a status that nobody has mapped", async () => {
    const payment = await buy("play-approved");
    await stands(payment, "captured");
    await message(slip(payment, { stand: "frozen" }));
    await until("it is kept", async () =>
      (await statements(payment)).some((one) => one.object === "report" && one.word === "frozen"),
    );
    expect((await findingsAbout(rt(), payment.id)).map((one) => one.kind)).toContain("unknown-status");
  });
});

describe("a payment whose keys are gone over there", () => {
  it("goes on with newer proven keys of the same account, by a press", async () => {
    const payment = await buy("play-approved");
    await stands(payment, "captured");
    expect(await takeNewerKeys(rt(), "ida", await now(payment)), "there are none yet").toBe(false);
    const newer = await world.karvello.keys("sandbox");
    const where = await whereIs(rt(), world.connectionId);
    await enterKeys(rt(), "ida", where, "test", newer);
    await proveKeys(rt(), where, "test");
    world.wire.http = (input, init) => {
      const { authorization } = Object.fromEntries(new Headers(init?.headers)) as Record<string, string>;
      return authorization?.endsWith(newer["server-key"] ?? "-")
        ? fetch(input, init)
        : Promise.resolve(Response.json({ fault: { code: "K-402", text: "not known" } }, { status: 401 }));
    };
    try {
      expect(await press(payment, "refund", 100)).toMatchObject({ ok: false, code: "K-402" });
      expect(await takeNewerKeys(rt(), "ida", await now(payment))).toBe(true);
      expect(await press(payment, "refund", 100, { once: "then" })).toMatchObject({ ok: true });
    } finally {
      world.wire.http = null;
    }
  });
});

describe("a pending payment", () => {
  const outlives = async (change: (profile: Profile) => void) => {
    const restore = await withProfile(change);
    try {
      const checkout = await openKite(rt());
      const paid = await pay(rt(), checkout, world.offerId, "play-ask", { patient: true });
      if (paid.kind !== "payment") throw new Error(paid.kind);
      world.clock.offset = 46 * 60_000;
      rt().nudge();
      const state = async () => (await checkoutOf(rt(), checkout.id))?.state;
      await until("its time was looked at", async () => {
        const now = await checkoutOf(rt(), checkout.id);
        return now?.state !== "open" || now.expiresAt > checkout.expiresAt;
      });
      const [after, then] = [await state(), await now(paid.payment)];
      world.clock.offset = 0;
      return { checkout: after, payment: paid.payment, state: then.state, state$: state };
    } finally {
      world.clock.offset = 0;
      await restore();
    }
  };
  const waits = (waitsFor: "shopper" | "provider", asked: boolean) => (profile: Profile) => {
    for (const method of profile.methods) method.pending = { lives: 7_200, waitsFor };
    if (!asked) profile.payment = (profile.payment ?? "").replace("'challenge': ask_at, ", "");
  };

  it("outlives its checkout where the provider takes its time", async () => {
    const seen = await outlives(waits("provider", false));
    expect(seen).toMatchObject({ checkout: "open", state: "pending" });
    await play(seen.payment, "pass");
    await stands(seen.payment, "captured");
    expect(await seen.state$()).toBe("paid");
  });

  it("is let go of with its checkout while it is the shopper who has something to do", async () => {
    for (const change of [waits("provider", true), waits("shopper", false)])
      expect((await outlives(change)).checkout).toBe("expired");
  });
});

describe("what is kept beside the facts", () => {
  it("is brought in line with them by folding all of them anew, and nothing else is touched", async () => {
    const payment = await buy("play-approved");
    await until("captured", async () => (await now(payment)).captured > 0);
    const steps: number[] = [];
    const untouched = await rebuildProjections(rt(), ({ done }) => steps.push(done));
    expect(untouched).toMatchObject({ mended: 0, done: untouched.of });
    expect(steps.at(-1)).toBe(untouched.of);
    const { version: _, updatedAt: __, ...wanted } = await now(payment);
    // A message that comes just then mends the row by itself.
    await until("a row that says otherwise is mended", async () => {
      await rt().db.client.execute({
        sql: "update payments set captured = 1, held = 7, state = 'created', fee = null, paid_out = 3 where id = ?",
        args: [payment.id],
      });
      return (await rebuildProjections(rt())).mended === 1;
    });
    const { version: ___, updatedAt: ____, ...rest } = await now(payment);
    expect(rest).toEqual(wanted);
  });
});
