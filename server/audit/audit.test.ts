import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { eq } from "drizzle-orm";
import { fingerprint } from "#core/fingerprint";
import { isConflict } from "../database/guard";
import { audit, storefronts } from "../database/schema";
import { addStorefront, storefrontOf } from "../storefronts/storefronts";
import { north, openTestRuntime, type TestRuntime } from "../test-runtime";
import { auditBreak, chainNow, changeSettings, listAudit, recentAudit } from "./audit";
import { subjectsOf } from "./subjects";

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

  it("is walked in parts, however long it is, and says so while it is walked", async () => {
    for (let n = 1; n <= 3; n++) await say(`change ${n}`);
    let previous = String((await recentAudit(world.rt, 1))[0]?.hash);
    const rows = Array.from({ length: 1_200 }, (_, i) => {
      const row = {
        ...{ number: i + 4, at: world.clock.now, person: "enno", action: "renamed", subject: `s${i}` },
        ...{ detail: {}, previous },
      };
      previous = fingerprint(row);
      return world.rt.db.orm.insert(audit).values({ ...row, hash: previous });
    });
    await world.rt.db.write(rows);
    expect(await auditBreak(world.rt)).toBeNull();
    expect(await chainNow(world.rt, 60_000)).toEqual({ broken: null });
    await world.rt.db.client.execute("update audit set person = 'ida' where number = 1101");
    expect(await auditBreak(world.rt)).toBe(1101);
    // It is looked at anew once what is known is old, and whoever does not wait is told that it is.
    world.clock.now += 600_000;
    expect(await chainNow(world.rt, 0)).toBeNull();
    expect(await chainNow(world.rt, 60_000)).toEqual({ broken: 1101 });
  });

  it("is searched by who, what and of what, and takes every letter as it is", async () => {
    await say("100% renamed");
    await say("key entered");
    const found = async (text: string) =>
      (await listAudit(world.rt, null, text)).rows.map((row) => row.action);
    expect(await found("KEY")).toEqual(["key entered"]);
    expect(await found("north")).toEqual(["key entered", "100% renamed"]);
    expect(await found("ida")).toHaveLength(2);
    expect(await found("0%")).toEqual(["100% renamed"]);
    for (const none of ["%", "_", "\\"]) expect(await found(`x${none}`)).toEqual([]);
    expect(await recentAudit(world.rt, 10, "entered")).toHaveLength(1);
  });

  it("is about what people call so today", async () => {
    await addStorefront(world.rt, "ida", north);
    const named = await subjectsOf(world.rt, ["north", "north", "con_gone", ""]);
    expect([...named]).toEqual([["north", { name: north.name, storefront: null, page: null }]]);
    expect((await subjectsOf(world.rt, [])).size).toBe(0);
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
