import { spawn } from "node:child_process";
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { eq, sql } from "drizzle-orm";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { type Database, isConflict, openDatabase } from "./open";
import { domainFiles, people, storefronts, volumes } from "./schema";

let place: string;
let db: Database;
const open = () => openDatabase(`file:${join(place, "deep", "z.db")}`, "server/database/migrations");
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
  it("does all of it and says how many rows each statement changed", async () => {
    const changed = await db.write([
      person("a"),
      person("b"),
      db.orm.update(people).set({ role: "owner" }),
      db.orm.update(people).set({ name: "c" }).where(eq(people.id, "nobody")),
    ]);
    expect(changed).toEqual([1, 1, 2, 0]);
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
      Array.from({ length: 4 }, () => openDatabase(fresh, "server/database/migrations")),
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

describe("a database of an earlier version", () => {
  it("keeps what it holds: a file goes to the storefront of its connection, a volume to its currency", async () => {
    const earlier = join(place, "migrations");
    cpSync("server/database/migrations", earlier, { recursive: true });
    const journal = join(earlier, "meta", "_journal.json");
    const { entries, ...rest } = JSON.parse(readFileSync(journal, "utf8")) as { entries: object[] };
    writeFileSync(journal, JSON.stringify({ ...rest, entries: entries.slice(0, 2) }));
    const url = `file:${join(place, "earlier.db")}`;
    const old = await openDatabase(url, earlier);
    const put = (text: string, ...args: (string | number)[]) => old.client.execute({ sql: text, args });
    await put("insert into storefronts values ('north','N','n.example',1,'DE','[]','[]','[]','[]',1)");
    await put("insert into profiles (id, version, document, installed_at) values ('p','1','{}',1)");
    await put(
      "insert into connections (id, profile_id, storefront_id, name, live, created_at) values ('c','p','north','C','never',1)",
    );
    await put(
      "insert into domain_files (connection_id, mode, name, body, taken_at) values ('c','test','f','body',7)",
    );
    await put("insert into volumes values ('north', ?, 9)", JSON.stringify({ currency: "GBP", orders: 3 }));
    old.close();

    const now = await openDatabase(url, "server/database/migrations");
    const [file] = await now.orm.select().from(domainFiles);
    expect(file).toMatchObject({ connectionId: "c", storefrontId: "north", body: "body", takenAt: 7 });
    const [volume] = await now.orm.select().from(volumes);
    expect(volume).toMatchObject({
      storefrontId: "north",
      currency: "GBP",
      document: { orders: 3 },
      savedAt: 9,
    });
    const [storefront] = await now.orm.select().from(storefronts);
    expect(storefront).toMatchObject({ id: "north", offersVersion: 0 });
    now.close();
  });
});
