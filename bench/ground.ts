import { readFileSync } from "node:fs";
import { cpus } from "node:os";
import { setTimeout as wait } from "node:timers/promises";
import { addStorefront, issueApiKey } from "#server/storefronts/storefronts";
import { housekeeping } from "#core/jobs/back-off";
import { askFor } from "#server/jobs/jobs";
import { type Kinds, Runner } from "#server/jobs/runner";
import { openTestRuntime } from "#server/test-runtime";
import { luvwinkelDe } from "../demo/scenario";
import { anotherZahlung, kill, openWorld } from "../e2e/system/world";
import { round } from "./figures";
import { order, shopHeaders } from "./throughput";

const SECONDS = 60;
const SENDERS = 40;
const TODAY = 60;

/** Opening checkouts on a libSQL server: a rate, and the longest that nothing was answered. */
export async function measureServer() {
  const world = await openWorld({ beside: false, connect: false, worker: false, server: true });
  const key = await issueApiKey(world.rt, "bench", "luvwinkel-de", "test");
  await addStorefront(world.rt, "bench", { ...luvwinkelDe("http://localhost:2"), id: "b", name: "B" });
  const env = { ...world.env, ZAHLUNG_ROLES: "web" };
  const processes = [await anotherZahlung(env), await anotherZahlung(env)];
  const headers = shopHeaders(key);
  const opening = async (count: number, seconds: number) => {
    const busy = cores({
      server: world.database?.pid,
      zahlung: processes.slice(0, count).map(({ child }) => child.pid),
      senders: process.pid,
    });
    const end = performance.now() + seconds * 1_000;
    let opened = 0;
    let last = performance.now();
    let stall = 0;
    const sender = async (n: number) => {
      const { origin } = processes[n % count] as { origin: string };
      while (performance.now() < end) {
        const { status } = await fetch(`${origin}/api/v1/checkouts`, {
          method: "POST",
          headers: { "content-type": "application/json", ...headers() },
          body: order(),
        });
        if (status !== 201) throw new Error(`a checkout was answered ${status}`);
        opened += 1;
        stall = Math.max(stall, performance.now() - last);
        last = performance.now();
      }
    };
    await Promise.all(Array.from({ length: SENDERS }, (_, n) => sender(n)));
    return {
      perSecond: round(opened / seconds, 0),
      longestStallMs: round(stall, 0),
      coresBusy: busy(),
    };
  };
  try {
    await opening(1, 5);
    const one = await opening(1, SECONDS);
    const two = await opening(2, SECONDS);
    return {
      oneProcess: one,
      twoProcesses: two,
      ofToday: round(one.perSecond / TODAY, 1),
      twoToOne: round(two.perSecond / one.perSecond),
      reach:
        "no stall over 1 s, 5 times today’s 60 a second, two processes 1.5 times one or no core left free",
    };
  } finally {
    await Promise.all(processes.map(({ child }) => kill(child, "SIGTERM")));
    await world.end();
  }
}

/** Seconds on a processor that a process has used, in user and in system time. */
function usedBy(pid: number | undefined): number {
  const stat = readFileSync(`/proc/${pid ?? "self"}/stat`, "utf8");
  // After the name, which may hold anything, the 12th and 13th field; a hundred ticks are a second.
  const fields = stat.slice(stat.lastIndexOf(")") + 2).split(" ");
  return (Number(fields[11]) + Number(fields[12])) / 100;
}

/** Begins to watch processes; what it returns tells how many cores each name has kept busy since, and all together. */
function cores(watched: Record<string, number | undefined | (number | undefined)[]>) {
  const used = () =>
    Object.entries(watched).map(([name, pids]) => [name, [pids].flat().map(usedBy)] as const);
  const [from, before] = [performance.now(), used()];
  return () => {
    const seconds = (performance.now() - from) / 1_000;
    const sum = (all: readonly number[]) => all.reduce((total, one) => total + one, 0);
    const each = used().map(
      ([name, now], i) => [name, (sum(now) - sum(before[i]?.[1] ?? [])) / seconds] as const,
    );
    return {
      ...Object.fromEntries(each.map(([name, busy]) => [name, round(busy)])),
      together: round(sum(each.map(([, busy]) => busy))),
      of: cpus().length,
    };
  };
}

const JOBS = 10_000;

/** The good nine tenths of ten thousand jobs that are due at once, with a tenth that fails and without it. */
export async function measureJobs() {
  const seconds = async (failing: boolean) => {
    const world = await openTestRuntime();
    let done = 0;
    const kind = {
      work: async (_: unknown, job: { key: string }) => {
        if (job.key.startsWith("bad")) throw new Error("it fails");
        done += 1;
        return { end: true as const };
      },
      backOff: housekeeping,
      atOnce: 24,
      ofOneLane: 6,
    };
    const runner = new Runner(world.rt, new Proxy({ "look-up": kind } as unknown as Kinds, {}));
    const keys = Array.from({ length: JOBS }, (_, n) => (n % 10 === 0 ? `bad-${n}` : `good-${n}`));
    const asked = keys.filter((key) => failing || !key.startsWith("bad"));
    for (let from = 0; from < asked.length; from += 500)
      await world.rt.db.write(
        asked
          .slice(from, from + 500)
          .map((key, n) => askFor(world.rt, { kind: "look-up", key, lane: `lane-${n % 20}` })),
      );
    const begun = performance.now();
    runner.start();
    while (done < (JOBS * 9) / 10) await wait(5);
    const took = (performance.now() - begun) / 1_000;
    await runner.end();
    world.close();
    return took;
  };
  await seconds(false);
  const [without, withFailing] = [await seconds(false), await seconds(true)];
  return {
    secondsWithout: round(without),
    secondsWithATenthFailing: round(withFailing),
    ratio: round(without / withFailing),
    reach: "ratio 0.9 or more",
  };
}
