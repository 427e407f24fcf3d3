import { eq } from "drizzle-orm";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { housekeeping, threeDays } from "#core/jobs/back-off";
import { jobs } from "../database/schema";
import { openTestRuntime, type TestRuntime } from "../test-runtime";
import { askFor, doNow, type JobKind, seeTo } from "./jobs";
import { failingJobs } from "./list";
import { type Done, type Kind, type Kinds, Runner } from "./runner";

let world: TestRuntime;
let runners: Runner[];
beforeEach(async () => {
  world = await openTestRuntime();
  runners = [];
});
afterEach(async () => {
  await Promise.all(runners.map((one) => one.end()));
  world.close();
});

const END: Done = { end: true };
const idle: Kind = { work: async () => END, backOff: housekeeping, atOnce: 8, ofOneLane: 4 };
const all: JobKind[] = ["look-up", "deliver-news", "let-go", "undo-surplus", "apply-webhook"];
/** A runner with these kinds of work, and nothing else to do. */
function run(kinds: Partial<Kinds>): Runner {
  const rest = Object.fromEntries(all.map((kind) => [kind, idle]));
  const runner = new Runner(world.rt, { ...rest, ...kinds } as Kinds);
  runners.push(runner);
  runner.start();
  return runner;
}
const until = async (holds: () => boolean | Promise<boolean>) => {
  while (!(await holds())) await new Promise((resolve) => setTimeout(resolve, 3));
};
const ask = (kind: JobKind, keys: readonly string[], lane = "lane", at?: number) =>
  world.rt.db.write(keys.map((key) => askFor(world.rt, { kind, key, lane, ...(at && { at }) })));
const rows = () => world.rt.db.orm.select().from(jobs);
const row = async (key: string) => (await world.rt.db.orm.select().from(jobs).where(eq(jobs.key, key)))[0];
const numbered = (count: number, prefix = "n") => Array.from({ length: count }, (_, n) => `${prefix}${n}`);

describe("a job", () => {
  it("is one however often it is asked for, is done when its time has come, and is gone then", async () => {
    const done: string[] = [];
    run({ "look-up": { ...idle, work: async (_, { key }) => (done.push(key), END) } });
    await ask("look-up", ["a", "a", "b"]);
    await ask("look-up", ["later"], "lane", world.clock.now + 60_000);
    await until(async () => (await rows()).length === 1);
    expect(done.sort()).toEqual(["a", "b"]);
    world.clock.now += 60_000;
    await until(async () => (await rows()).length === 0);
    expect(done).toContain("later");
  });

  it("that is asked for while it is being done is done once more", async () => {
    let go = () => {};
    let times = 0;
    const held = new Promise<void>((resolve) => (go = resolve));
    run({
      "look-up": {
        ...idle,
        work: async () => {
          times += 1;
          if (times === 1) await held;
          return END;
        },
      },
    });
    await ask("look-up", ["a"]);
    await until(() => times === 1);
    await ask("look-up", ["a"]);
    // Seeing to it that it is there asks for nothing more.
    await world.rt.db.write([seeTo(world.rt, { kind: "look-up", key: "a", lane: "lane" })]);
    go();
    await until(async () => (await rows()).length === 0);
    expect(times).toBe(2);
  });

  it("is done by one of several runners, and by another when the first has died with it", async () => {
    const done: string[] = [];
    const kinds = {
      "look-up": { ...idle, work: async (_: unknown, { key }: { key: string }) => (done.push(key), END) },
    };
    run(kinds);
    run(kinds);
    run(kinds);
    await ask("look-up", numbered(60));
    await until(async () => (await rows()).length === 0);
    expect(done).toHaveLength(60);
    expect(new Set(done).size).toBe(60);
    // Somebody took it and was never seen again.
    await ask("look-up", ["orphan"], "lane", world.clock.now + 1_000_000);
    await world.rt.db.orm
      .update(jobs)
      .set({ lease: "lease_dead", runAt: world.clock.now + 30_000 })
      .where(eq(jobs.key, "orphan"));
    world.clock.now += 31_000;
    await until(() => done.includes("orphan"));
  });

  it("that fails backs off, is visible with what went wrong, and forgets it once it succeeds", async () => {
    let fails = true;
    run({
      "apply-webhook": {
        ...idle,
        backOff: threeDays,
        work: async () => {
          if (fails) throw new Error("the profile does not fit");
          return END;
        },
      },
    });
    await ask("apply-webhook", ["7"]);
    await until(async () => (await row("7"))?.tries === 1);
    const first = await row("7");
    expect(first).toMatchObject({ error: "the profile does not fit", lease: null });
    expect((first?.runAt ?? 0) - world.clock.now).toBe(threeDays.waits[0]);
    expect((await failingJobs(world.rt)).map((one) => one.key)).toEqual(["7"]);
    world.clock.now = first?.runAt ?? 0;
    await until(async () => (await row("7"))?.tries === 2);
    fails = false;
    expect(await doNow(world.rt, first?.id ?? "")).toBe(true);
    await until(async () => (await row("7")) === undefined);
    expect(await doNow(world.rt, first?.id ?? "")).toBe(false);
  });

  it("is given up after its time, says so, and is taken up again at a press", async () => {
    let fails = true;
    const givenUp: string[] = [];
    run({
      "apply-webhook": {
        ...idle,
        backOff: { waits: [1_000], giveUpAfter: 2_500 },
        work: async () => {
          if (fails) throw new Error("no");
          return END;
        },
        onGivenUp: async (_, { key }) => void givenUp.push(key),
      },
    });
    await ask("apply-webhook", ["7"]);
    for (let tries = 1; tries <= 3; tries++) {
      await until(async () => (await row("7"))?.tries === tries);
      world.clock.now += 1_000;
    }
    await until(() => givenUp.length > 0);
    expect(await row("7")).toMatchObject({ runAt: null, error: "no" });
    world.clock.now += 10_000_000;
    fails = false;
    await doNow(world.rt, (await row("7"))?.id ?? "");
    await until(async () => (await row("7")) === undefined);
  });
});

describe("neighbours", () => {
  it("go on as if nothing were, beside one that throws, one that never ends and a lane that hangs", async () => {
    const done: string[] = [];
    let release = () => {};
    const hanging = new Promise<void>((resolve) => (release = resolve));
    run({
      "deliver-news": {
        ...idle,
        atOnce: 12,
        ofOneLane: 4,
        work: async (_, { key, lane }) => {
          if (lane === "hangs") await hanging;
          if (key.startsWith("bad")) throw new Error("always");
          done.push(key);
          return END;
        },
      },
    });
    // All that hangs is due first, far more of it than is done at once.
    await ask("deliver-news", numbered(200, "stuck"), "hangs", world.clock.now - 10_000);
    await ask("deliver-news", numbered(40, "bad"), "fails", world.clock.now - 5_000);
    await ask("deliver-news", numbered(100, "good"), "well");
    await until(() => done.length === 100);
    expect(done.every((key) => key.startsWith("good"))).toBe(true);
    expect((await rows()).filter((one) => one.lane === "hangs" && one.lease !== null)).toHaveLength(4);
    await until(async () => (await rows()).filter((one) => one.tries === 1).length === 40);
    release();
    await until(() => done.length === 300);
  });

  it("of another kind have their own places", async () => {
    let release = () => {};
    const hanging = new Promise<void>((resolve) => (release = resolve));
    const done: string[] = [];
    run({
      "let-go": { ...idle, work: async () => (await hanging, END) },
      "look-up": { ...idle, work: async (_, { key }) => (done.push(key), END) },
    });
    await ask("let-go", numbered(51, "checkout"), "provider");
    await ask("undo-surplus", numbered(11, "surplus"), "provider");
    await ask("look-up", numbered(50), "provider");
    await until(() => done.length === 50);
    await until(async () => (await rows()).every((one) => one.kind === "let-go"));
    release();
  });
});

describe("work that comes round", () => {
  it("is there from the first start on, once, and comes again after its time, failed or not", async () => {
    let rounds = 0;
    const prune: Kind = {
      ...idle,
      every: 60_000,
      work: async () => {
        rounds += 1;
        if (rounds === 2) throw new Error("once");
        return END;
      },
    };
    run({ prune });
    run({ prune });
    await until(async () => rounds === 1 && (await row("all"))?.lease === null);
    expect(await rows()).toHaveLength(1);
    world.clock.now += 60_000;
    await until(async () => (await row("all"))?.tries === 1);
    world.clock.now += 60_000;
    await until(async () => rounds === 3 && (await row("all"))?.tries === 0);
  });
});

describe("ending", () => {
  it("waits for the jobs that are being done", async () => {
    let release = () => {};
    const held = new Promise<void>((resolve) => (release = resolve));
    let begun = false;
    const runner = run({
      "look-up": {
        ...idle,
        work: async () => {
          begun = true;
          await held;
          return END;
        },
      },
    });
    await ask("look-up", ["a", "b"]);
    await until(() => begun);
    let ended = false;
    const end = runner.end().then(() => (ended = true));
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(ended).toBe(false);
    release();
    await end;
    expect(await rows()).toEqual([]);
    expect(world.rt.onNudge.size).toBe(0);
  });
});
