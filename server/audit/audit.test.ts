import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { eq } from "drizzle-orm";
import { isConflict } from "../database/guard";
import { audit, storefronts } from "../database/schema";
import { addStorefront, storefrontOf } from "../storefronts/storefronts";
import { north, openTestRuntime, type TestRuntime } from "../test-runtime";
import { auditBreak, changeSettings, recentAudit } from "./audit";

let world: TestRuntime;
beforeEach(async () => {
  world = await openTestRuntime();
});
afterEach(() => world.close());

const rename = (name: string) =>
  world.rt.db.orm.update(storefronts).set({ name }).where(eq(storefronts.id, "north"));
const say = (action: string, statements: Parameters<typeof changeSettings>[2] = []) =>
  changeSettings(world.rt, { person: "ida", action, subject: "north", detail: { action } }, statements);

describe("the audit trail", () => {
  it("holds each change with who made it, newest first", async () => {
    await addStorefront(world.rt, "ida", north);
    world.clock.now += 5_000;
    await say("renamed", [rename("Northern")]);
    expect(
      (await recentAudit(world.rt)).map(({ number, person, action, at }) => ({ number, person, action, at })),
    ).toEqual([
      { number: 2, person: "ida", action: "renamed", at: world.clock.now },
      { number: 1, person: "ida", action: "storefront added", at: world.clock.now - 5_000 },
    ]);
    expect((await storefrontOf(world.rt, "north"))?.name).toBe("Northern");
    expect(await recentAudit(world.rt, 1)).toHaveLength(1);
  });

  it("says nothing of a change that failed, and changes nothing that it cannot say", async () => {
    await addStorefront(world.rt, "ida", north);
    const twice = addStorefront(world.rt, "enno", { ...north, name: "Other" });
    await expect(twice).rejects.toSatisfy(isConflict);
    expect((await storefrontOf(world.rt, "north"))?.name).toBe("North");
    expect(await recentAudit(world.rt)).toHaveLength(1);
    expect(await auditBreak(world.rt)).toBeNull();
  });

  it("keeps its order when many people change things at once", async () => {
    await Promise.all(Array.from({ length: 12 }, (_, n) => say(`change ${n}`)));
    const rows = await recentAudit(world.rt);
    expect(rows.map((row) => row.number)).toEqual(Array.from({ length: 12 }, (_, n) => 12 - n));
    expect(new Set(rows.map((row) => row.action)).size).toBe(12);
    expect(await auditBreak(world.rt)).toBeNull();
  });

  it.each([
    ["a changed word", "update audit set action = 'nothing' where number = 3", 3],
    ["a changed time", "update audit set at = at + 1 where number = 2", 2],
    ["a changed detail", `update audit set detail = '{"action":"x"}' where number = 1`, 1],
    ["a removed entry", "delete from audit where number = 2", 3],
    ["a hash made to fit", "update audit set hash = substr(hash, 2) || '0' where number = 4", 4],
    ["an entry of another chain", "update audit set previous = hash where number = 5", 5],
  ])("shows %s", async (_, harm, first) => {
    for (let n = 1; n <= 5; n++) await say(`change ${n}`);
    expect(await auditBreak(world.rt)).toBeNull();
    await world.rt.db.client.execute(harm);
    expect(await auditBreak(world.rt)).toBe(first);
  });

  it("numbers without gaps after an attempt that was refused", async () => {
    await addStorefront(world.rt, "ida", north);
    await expect(addStorefront(world.rt, "ida", north)).rejects.toThrow();
    await say("after");
    const numbers = (await world.rt.db.orm.select().from(audit).orderBy(audit.number)).map(
      (row) => row.number,
    );
    expect(numbers).toEqual([1, 2]);
  });
});
