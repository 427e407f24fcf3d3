import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { eq, sql } from "drizzle-orm";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { guard, guardFailed, guardNone, isConflict } from "./guard";
import { type Database, openDatabase } from "./open";
import { people } from "./schema";

let place: string;
let db: Database;
const open = () =>
  openDatabase(`file:${join(place, "deep", "z.db")}`, "server/database/migrations", Date.now);
beforeEach(async () => {
  place = mkdtempSync(join(tmpdir(), "zahlung-database-"));
  db = await open();
});
afterEach(() => {
  db.close();
  rmSync(place, { recursive: true, force: true });
});

const person = (id: string, email = `${id}@example.org`) =>
  db.orm.insert(people).values({ id, email, name: id, role: "viewer", passwordHash: "x", createdAt: 1 });
const names = async () => (await db.orm.select().from(people).orderBy(people.id)).map((one) => one.id);

describe("a write", () => {
  it("does all of it", async () => {
    await db.write([
      person("a"),
      person("b"),
      db.orm.update(people).set({ role: "owner" }),
      db.orm.update(people).set({ name: "c" }).where(eq(people.id, "nobody")),
    ]);
    expect(await names()).toEqual(["a", "b"]);
  });

  it("does none of it when one statement fails, and that is a conflict", async () => {
    await db.write([person("a")]);
    const failing = db.write([person("b"), person("c", "a@example.org"), person("d")]);
    await expect(failing).rejects.toSatisfy(isConflict);
    expect(await names()).toEqual(["a"]);
  });

  it("tells a conflict from anything else that goes wrong", async () => {
    const wrong = await db.client.execute("select * from nowhere").catch((error: unknown) => error);
    expect(isConflict(wrong)).toBe(false);
    expect(isConflict(new Error("time-out"))).toBe(false);
    expect(isConflict("SQLITE_CONSTRAINT")).toBe(false);
    expect(
      isConflict(new Error("outer", { cause: new Error("UNIQUE constraint failed: people.email") })),
    ).toBe(true);
  });

  it("under a condition does nothing when it does not hold at that moment, and says that it was the condition", async () => {
    await db.write([person("a")]);
    const held = db.write([
      guard(people, eq(people.role, "viewer")),
      guardNone(people, eq(people.id, "b")),
      person("b"),
    ]);
    await expect(held).resolves.toBeUndefined();
    for (const failing of [guard(people, eq(people.role, "owner")), guardNone(people, eq(people.id, "b"))]) {
      const error: unknown = await db.write([person("c"), failing, person("d")]).catch((one: unknown) => one);
      expect([guardFailed(error), isConflict(error)]).toEqual([true, true]);
    }
    const unique: unknown = await db.write([person("a")]).catch((one: unknown) => one);
    expect([guardFailed(unique), isConflict(unique)]).toEqual([false, true]);
    expect(await names()).toEqual(["a", "b"]);
  });

  it("that waits with others goes into one commit with them; one that fails spoils none of the others", async () => {
    let commits = 0;
    const { batch } = db.client;
    db.client.batch = ((...call: Parameters<typeof batch>) => {
      commits += 1;
      return batch.apply(db.client, call);
    }) as typeof batch;
    const writes = Array.from({ length: 30 }, (_, n) =>
      db.write(n === 7 ? [person("p7"), person("twice", "p1@example.org")] : [person(`p${n}`)]),
    );
    const ended = await Promise.allSettled(writes);
    expect(ended.map((one, n) => (one.status === "rejected" ? n : null)).filter((n) => n !== null)).toEqual([
      7,
    ]);
    expect(await names()).toHaveLength(29);
    expect(await names()).not.toContain("p7");
    expect(commits).toBeLessThanOrEqual(3);
  });

  it("takes many writers at once, one after the other", async () => {
    const other = await open();
    const writers = Array.from({ length: 40 }, (_, n) => (n % 2 ? db : other).write([person(`p${n}`)]));
    await Promise.all(writers);
    expect(await names()).toHaveLength(40);
    other.close();
  });
});

describe("a database file", () => {
  it("is opened for durability, with its references held", async () => {
    const pragma = async (name: string) =>
      Object.values((await db.client.execute(`pragma ${name}`)).rows[0] ?? {})[0];
    expect(await pragma("journal_mode")).toBe("wal");
    expect(await pragma("synchronous")).toBe(2);
    expect(await pragma("foreign_keys")).toBe(1);
    await expect(
      db.client.execute(
        "insert into sessions (token_hash, person_id, created_at, seen_at, expires_at) values ('t', 'nobody', 1, 1, 1)",
      ),
    ).rejects.toSatisfy(isConflict);
  });

  it("is brought up to date once when several processes open it at the same moment", async () => {
    const fresh = `file:${join(place, "fresh.db")}`;
    const all = await Promise.all(
      Array.from({ length: 4 }, () => openDatabase(fresh, "server/database/migrations", Date.now)),
    );
    const [row] = await all[0]!.orm.all<{ n: number }>(sql`select count(*) as n from __drizzle_migrations`);
    expect(row?.n).toBeGreaterThan(0);
    await all[3]!.orm.select().from(people);
    all.forEach((one) => one.close());
  });

  it("keeps what was written when the process that wrote it is killed", async () => {
    await db.write([person("a")]);
    const script = `
      import { createClient } from "@libsql/client";
      const client = createClient({ url: process.env.URL });
      await client.execute("pragma journal_mode = wal");
      await client.execute("insert into people (id, email, name, role, password_hash, created_at) values ('k', 'k@example.org', 'k', 'viewer', 'x', 1)");
      console.log("written");
      setInterval(() => {}, 1000);`;
    const child = spawn(process.execPath, ["--input-type=module", "-e", script], {
      env: { ...process.env, URL: `file:${join(place, "deep", "z.db")}` },
      stdio: ["ignore", "pipe", "inherit"],
    });
    await new Promise((resolve) => child.stdout.once("data", resolve));
    const ended = new Promise((resolve) => child.once("exit", resolve));
    child.kill("SIGKILL");
    await ended;
    expect(await names()).toEqual(["a", "k"]);
  });
});
