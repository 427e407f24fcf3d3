import { createClient, type ResultSet } from "@libsql/client";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { keepStatements } from "./kept-statements";

keepStatements();

const must = <One>(one: One | undefined): One => {
  if (one === undefined) throw new Error("missing");
  return one;
};
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
/** Rows by the names of their columns. */
const byName = ({ rows, columns }: ResultSet) =>
  rows.map((row) => Object.fromEntries(columns.map((name) => [name, row[name]])));
const named = async (name: string) =>
  byName(await db.execute({ sql: "select * from kites where name = ?", args: [name] }));

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
    expect(byName(await longer(2))).toEqual([
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

describe("a row", () => {
  it("has its values by place and by name, of two that are called alike the first", async () => {
    await put("wren", 1.5);
    const asked = await db.execute("select id, name, 7 as id, null as none, x'0102' as bytes from kites");
    const row = must(asked.rows[0]);
    expect(row).toHaveLength(5);
    expect([row[0], row[1], row[2], row[3]]).toEqual([1, "wren", 7, null]);
    expect([row.id, row.name, row.none]).toEqual([1, "wren", null]);
    expect(new Uint8Array(row.bytes as ArrayBuffer)).toEqual(new Uint8Array([1, 2]));
    expect(Array.prototype.slice.call(row)).toHaveLength(5);
    expect(asked.columns).toEqual(["id", "name", "id", "none", "bytes"]);
  });

  it("is the caller's own", async () => {
    await put("wren");
    const [first] = (await db.execute("select name from kites")).rows;
    Object.assign(must(first), { 0: "gull", name: "gull" });
    expect((await db.execute("select name from kites")).rows[0]?.name).toBe("wren");
  });

  it("refuses a number that cannot be told from its neighbours", async () => {
    await expect(db.execute("select 9007199254740993 as many")).rejects.toThrow("9007199254740993");
    expect((await db.execute("select -9007199254740991 as many")).rows[0]?.many).toBe(-9007199254740991);
  });
});
