import { afterEach, beforeEach, expect, it } from "vitest";
import { openTestRuntime, type TestRuntime } from "../test-runtime";
import { startWorker } from "./worker";

let world: TestRuntime;
beforeEach(async () => {
  world = await openTestRuntime();
});
afterEach(() => world.close());

it("looks for work at every nudge, does its housekeeping at its own pace, and ends when told", async () => {
  const { rt } = world;
  const deletes: string[] = [];
  const { write } = rt.db;
  rt.db.write = (statements) => {
    deletes.push(...statements.map((one) => one.toSQL().sql).filter((sql) => sql.startsWith("delete")));
    return write(statements);
  };
  let reads = 0;
  const { execute } = rt.db.client;
  rt.db.client.execute = ((...call: Parameters<typeof execute>) => {
    reads += 1;
    return execute.apply(rt.db.client, call);
  }) as typeof execute;
  const end = startWorker(rt);
  const until = async (holds: () => boolean) => {
    while (!holds()) await new Promise((resolve) => setTimeout(resolve, 5));
  };
  await until(() => deletes.length > 0);
  for (let nudge = 0; nudge < 5; nudge++) {
    const before = reads;
    rt.nudge();
    await until(() => reads > before);
  }
  await end();
  expect(deletes).toEqual([expect.stringContaining("api_answers")]);
  expect(rt.onNudge.size).toBe(0);
});
