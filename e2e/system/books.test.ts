import { fork } from "node:child_process";
import { once } from "node:events";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { ActionKind } from "#core/payments/actions";
import type { Profile } from "#core/profiles/profile";
import { pay } from "#server/checkouts/pay";
import type { Payment } from "#server/database/rows";
import { call, lineOf } from "#server/gateway/gateway";
import { operationsOf } from "#server/operations/operations";
import { act } from "#server/payments/actions";
import { paymentOf } from "#server/payments/record";
import { installVersion, versionsOf } from "#server/profiles/profiles";
import { takeUpVersion } from "#server/profiles/take-up";
import { until, whereIs } from "../../demo/play";
import { program } from "../../scripts/programs.mjs";
import { must } from "./at-providers";
import { chanceOf } from "./chance";
import { kill, openKite, openWorld, type SystemWorld } from "./world";

// Two sets of books, the provider's and ours: whatever happens on the way, they agree to the minor unit in the end.

let world: SystemWorld;
beforeAll(async () => {
  world = await openWorld({ beside: false, server: false });
});
afterAll(() => world.end());

const rt = () => world.rt;
const now = async ({ id }: Pick<Payment, "id">) => must(await paymentOf(rt(), id));
const calm = () => fetch(`${world.standins}/weather/karvello`, { method: "DELETE" });

async function held(token = "play-approved"): Promise<Payment> {
  const paid = await pay(rt(), await openKite(rt()), world.offerId, token, {
    capture: "later",
    patient: true,
  });
  if (paid.kind !== "payment") throw new Error(paid.kind);
  return paid.payment;
}

/** What has moved, as each side has it. */
async function bothBooks(payment: Payment) {
  const line = must(await lineOf(rt(), payment));
  const answer = await call(rt(), line, "read", { ref: (await now(payment)).providerRef });
  if (answer.kind !== "answered") throw new Error("not read");
  const sum = (list: { amount: number; state: string }[] = []) =>
    list.reduce((total, one) => total + (one.state === "done" ? one.amount : 0), 0);
  const { captures, releases, refunds } = answer.value;
  const ours = await now(payment);
  return {
    ours: { captured: ours.captured, released: ours.released, refunded: ours.refunded },
    theirs: { captured: sum(captures), released: sum(releases), refunded: sum(refunds) },
    refunds: refunds?.length ?? 0,
    /** Whether a slow bank has still to answer. */
    waits: refunds?.some((one) => one.state === "under_way") ?? false,
  };
}

/** Waits until nothing of a payment is under way any more, however long that takes by the clock. */
async function known(payment: Payment) {
  await calm();
  world.wire.http = null;
  await until("every end is known", async () => {
    world.clock.offset += 120_000;
    rt().nudge();
    const open = (await operationsOf(rt(), payment.id)).filter((one) => !one.endedAt);
    return open.length === 0;
  });
  await until("what it told of is applied", async () => {
    // A message of it may have been lost: then only a look-up tells.
    world.clock.offset += 120_000;
    rt().nudge();
    const { ours, theirs, waits } = await bothBooks(payment);
    return !waits && JSON.stringify(ours) === JSON.stringify(theirs);
  });
  world.clock.offset = 0;
}

const forgetful = (profile: Profile) => {
  for (const name of ["capture", "void", "release", "refund"] as const) {
    const operation = must(profile.operations[name]);
    operation.idempotent = false;
    operation.request.headers = { "Once-Only": "nonce" };
  }
};

const seeds = Array.from({ length: Number(process.env.BOOKS_RUNS ?? 8) }, (_, i) => 4_711 + i);

describe.each(["recognises repetitions", "recognises none"])("where the provider %s", (kind) => {
  beforeAll(async () => {
    if (kind === "recognises repetitions") return;
    const where = await whereIs(rt(), world.connectionId);
    const variant = structuredClone(where.versions.test.profile);
    forgetful(variant);
    variant.version = "99.0.0";
    await installVersion(rt(), "ida", variant, "file");
    const newest = must((await versionsOf(rt(), "karvello")).find((one) => one.version === "99.0.0"));
    await takeUpVersion(rt(), "ida", where, newest.id);
  });

  it.each(seeds)("the books agree after faults of every kind (%i)", async (seed) => {
    const { next, pick } = chanceOf(seed);
    const payment = await held(pick(["play-approved", "play-slow-back", "play-no-back"]));
    let wanted = 0;
    for (let turn = 0; turn < 6; turn++) {
      const fault = pick(["none", "error", "error-after", "busy", "reset", "gone", "none"]);
      if (fault === "gone")
        world.wire.http = (input, init) =>
          init?.method === "POST"
            ? fetch(input, init).then(() => Promise.reject(new TypeError("lost")))
            : fetch(input, init);
      else if (fault !== "none")
        await world.weather(fault, 1 + Math.floor(next() * 3), 1_000, "sandbox", "POST");
      await world.weather(pick(["lose", "double", "late", "swap"]), 1);
      const press: ActionKind = pick(["capture", "capture", "refund", "refund", "release"]);
      const amount = 1 + Math.floor(next() * 1_500);
      const acted = await act(rt(), "ida", await now(payment), {
        ...{ kind: press, amount, once: `${seed} ${turn}`, patience: 0 },
        final: next() > 0.8,
      });
      wanted += acted.ok ? 1 : 0;
      await calm();
      world.wire.http = null;
      if (!acted.ok && acted.open && next() > 0.5) await known(payment);
    }
    await known(payment);
    const { ours, theirs, refunds } = await bothBooks(payment);
    expect(ours).toEqual(theirs);
    // Nobody's press has moved money twice, and none that was done is missing over there.
    const done = (await operationsOf(rt(), payment.id)).filter((one) => one.state === "done");
    expect(done.filter((one) => one.kind === "refund")).toHaveLength(refunds);
    const pressed = done.filter((one) => one.kind === "capture").reduce((sum, one) => sum + one.amount, 0);
    expect(theirs.captured).toBe(pressed);
    expect(done.length).toBeGreaterThanOrEqual(wanted);
  });
});

describe("killed while money moves", () => {
  it.each([
    ["capture", 0],
    ["capture", 25],
    ["refund", 5],
    ["refund", 40],
    ["void", 15],
    ["void", 60],
  ] as const)("has moved it once or not at all, and knows which: %s after %i ms", async (kind, delay) => {
    const payment = await held();
    if (kind === "refund") await act(rt(), "ida", payment, { kind: "capture", amount: 4390, once: "first" });
    const child = fork(program("e2e/system/act-once.ts"), {
      env: { ...process.env, ...world.env, PAYMENT: payment.id, KIND: kind, AMOUNT: "4390" },
    });
    await once(child, "message");
    child.send("go");
    await new Promise((resolve) => setTimeout(resolve, delay));
    await kill(child, "SIGKILL");
    await known(payment);
    const { ours, theirs, refunds } = await bothBooks(payment);
    expect(ours).toEqual(theirs);
    const moved = { capture: theirs.captured, refund: theirs.refunded, void: theirs.released }[kind];
    expect([0, 4390]).toContain(moved);
    expect(refunds).toBeLessThanOrEqual(1);
    const asked = (await operationsOf(rt(), payment.id)).filter((one) => one.once === "killed");
    for (const one of asked) expect(one.state === "done").toBe(moved === 4390);
  });
});
