import { sql } from "drizzle-orm";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { jobs } from "../database/schema";
import { openTestRuntime, type TestRuntime } from "../test-runtime";
import { dueIn } from "./runner";

let world: TestRuntime;
beforeAll(async () => {
  world = await openTestRuntime();
});
afterAll(() => world.close());

interface One {
  kind: string;
  lane: string;
  runAt: number | null;
}
const NOW = 1_000;

async function put(all: readonly One[]) {
  const { orm } = world.rt.db;
  await orm.delete(jobs);
  if (all.length > 0)
    await orm
      .insert(jobs)
      .values(all.map((one, i) => ({ ...one, id: `job-${i}`, key: `key-${i}`, createdAt: 0 })));
}
const found = async (kinds: string[] = [], lanes: string[] = []) =>
  (await world.rt.db.orm.all<{ id: string }>(dueIn(NOW, { kinds, lanes }))).map(({ id }) => id);

/** What is due by the same rules, said plainly: of each lane that is not full the first eight, the oldest first. */
function plainly(all: readonly One[], kinds: string[], lanes: string[]): string[] {
  const due = all
    .map((one, i) => ({ ...one, id: `job-${i}`, at: one.runAt ?? Infinity, name: `${one.kind} ${one.lane}` }))
    .filter(({ at, kind, name }) => at <= NOW && !kinds.includes(kind) && !lanes.includes(name))
    .sort((a, b) => a.at - b.at);
  const ofLane = new Map<string, number>();
  return due
    .filter(({ name }) => {
      ofLane.set(name, (ofLane.get(name) ?? 0) + 1);
      return (ofLane.get(name) ?? 0) <= 8;
    })
    .slice(0, 100)
    .map(({ id }) => id);
}

describe("what is due", () => {
  it("is nothing where there is nothing, and where nothing is due", async () => {
    await put([]);
    expect(await found()).toEqual([]);
    await put([
      { kind: "repeat", lane: "a", runAt: NOW + 1 },
      { kind: "repeat", lane: "b", runAt: null },
    ]);
    expect(await found()).toEqual([]);
  });

  it("is the beginning of each lane that is not full, the oldest first", async () => {
    const name = fc.constantFrom("a", "b", "c d", "e%", "'", "");
    const some = fc
      .array(fc.record({ kind: name, lane: name, late: fc.nat(2) }), { maxLength: 150 })
      // Every time is another, so that there is one order.
      .map((all) =>
        all.map(({ late, ...one }, i) => ({ ...one, runAt: late === 2 ? NOW + i + 1 : NOW - i })),
      );
    await fc.assert(
      fc.asyncProperty(
        some,
        fc.array(name, { maxLength: 2 }),
        fc.array(name, { maxLength: 3 }),
        async (...given) => {
          const [all, kinds, of] = given;
          const lanes = of.flatMap((one) => [`${one} a`, `a ${one}`]);
          await put(all);
          expect(await found(kinds, lanes)).toEqual(plainly(all, kinds, lanes));
        },
      ),
      { numRuns: 60 },
    );
  });

  it("is looked for by the index alone, however much waits in a lane", async () => {
    const plan = await world.rt.db.orm.all<{ detail: string }>(
      sql`explain query plan ${dueIn(NOW, { kinds: [], lanes: [] })}`,
    );
    const ofJobs = plan.map(({ detail }) => detail).filter((one) => /\b(jobs|d|j|l)\b/.test(one));
    expect(ofJobs.length).toBeGreaterThan(4);
    // The one that begins is ended by its limit.
    expect(ofJobs.filter((one) => one.startsWith("SCAN jobs"))).toEqual([
      "SCAN jobs USING COVERING INDEX jobs_of_lane",
    ]);
    for (const one of ofJobs.filter((each) => !each.startsWith("SCAN jobs")))
      expect(one).toMatch(/^SEARCH \w+ USING (COVERING INDEX jobs_of_lane|INTEGER PRIMARY KEY)/);
    expect(ofJobs.some((one) => one.includes("(kind=? AND lane>?)"))).toBe(true);
    expect(ofJobs.some((one) => one.includes("(kind=? AND lane=? AND run_at<?)"))).toBe(true);
  });
});
