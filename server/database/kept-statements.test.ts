import { createClient } from "@libsql/client";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { keepStatements } from "./kept-statements";

keepStatements();

let place: string;
const open = (name: string) => createClient({ url: `file:${join(place, name)}`, concurrency: 1 } as never);
let db: ReturnType<typeof open>;
beforeEach(async () => {
  place = mkdtempSync(join(tmpdir(), "zahlung-statements-"));
  db = open("a.db");
  await db.execute("create table kites (id integer primary key, name text unique, metres real)");
});
afterEach(() => {
  db.close();
  rmSync(place, { recursive: true, force: true });
});
const put = (name: string | null, metres: number | null = null) =>
  db.execute({ sql: "insert into kites (name, metres) values (?, ?)", args: [name, metres] });
const named = async (name: string) =>
  (await db.execute({ sql: "select * from kites where name = ?", args: [name] })).rows.map((row) => ({
    ...row,
  }));

describe("a statement that is asked for again", () => {
  it("goes by its own values, and finds what was written in between", async () => {
    expect(await named("wren")).toEqual([]);
    await put("wren", 1.5);
    await put("gull");
    expect(await named("wren")).toEqual([{ id: 1, name: "wren", metres: 1.5 }]);
    expect(await named("gull")).toEqual([{ id: 2, name: "gull", metres: null }]);
    expect(await named("owl")).toEqual([]);
  });

  it("says how much it changed and what it gives back", async () => {
    const first = await put("wren");
    expect([first.rowsAffected, first.lastInsertRowid, first.columns]).toEqual([1, 1n, []]);
    await put("gull");
    const longer = (metres: number) =>
      db.execute({ sql: "update kites set metres = ? returning name, metres", args: [metres] });
    expect((await longer(2)).rows.map((row) => ({ ...row }))).toEqual([
      { name: "wren", metres: 2 },
      { name: "gull", metres: 2 },
    ]);
    expect((await longer(3)).columns).toEqual(["name", "metres"]);
    const gone = () => db.execute("delete from kites where metres = 3");
    expect([(await gone()).rowsAffected, (await gone()).rowsAffected]).toEqual([2, 0]);
  });

  it("is as good as new after it failed, by itself and among others", async () => {
    await put("wren");
    await expect(put("wren")).rejects.toThrow("UNIQUE");
    await put("gull");
    const two = (one: string, other: string) =>
      db.batch(
        [one, other].map((name) => ({ sql: "insert into kites (name, metres) values (?, 1)", args: [name] })),
        "write",
      );
    await expect(two("owl", "gull")).rejects.toThrow("UNIQUE");
    expect(await named("owl")).toEqual([]);
    await two("owl", "kestrel");
    expect(await named("owl")).toHaveLength(1);
  });

  it("holds nothing that keeps others from writing", async () => {
    await put("wren");
    await named("wren");
    const beside = open("a.db");
    await beside.execute({ sql: "insert into kites (name, metres) values (?, ?)", args: ["gull", null] });
    beside.close();
    expect(await named("gull")).toHaveLength(1);
    expect((await db.execute("pragma wal_checkpoint(truncate)")).rows[0]?.[0]).toBe(0);
  });

  it("knows a table that has changed", async () => {
    await put("wren");
    await named("wren");
    await db.execute("alter table kites add column colour text default 'red'");
    expect(await named("wren")).toEqual([{ id: 1, name: "wren", metres: null, colour: "red" }]);
    await db.execute("alter table kites drop column metres");
    expect(await named("wren")).toEqual([{ id: 1, name: "wren", colour: "red" }]);
  });

  it("is its connection's own", async () => {
    const other = open("b.db");
    await other.execute("create table kites (id integer primary key, name text)");
    await other.execute("insert into kites (name) values ('owl')");
    await put("wren");
    const all = "select * from kites";
    const [here, there] = [await db.execute(all), await other.execute(all)];
    expect([here.columns, there.columns]).toEqual([
      ["id", "name", "metres"],
      ["id", "name"],
    ]);
    other.close();
    expect((await db.execute(all)).rows).toHaveLength(1);
  });

  it("is found among more texts than are kept", async () => {
    await put("wren");
    for (let i = 0; i < 2_500; i++) await db.execute(`select name from kites where id = 1 and 1 < ${i + 2}`);
    expect(await named("wren")).toHaveLength(1);
    const again = await db.execute("select name from kites where id = 1 and 1 < 2");
    expect(again.rows[0]?.name).toBe("wren");
  });
});
