import { afterAll, beforeAll, expect, it } from "vitest";
import { type Database, openDatabase } from "#server/database/open";
import { hasLibsqlServer } from "../../scripts/libsql-server.mjs";
import { type LibsqlServer, openLibsqlServer } from "./libsql-server";

// Streams of a libSQL server that are used again: what went wrong on one, and a server that was started anew, are not felt by
// whoever comes next. Only where there is a server, and once is enough.
const here = hasLibsqlServer && process.env.TEST_DATABASE === "server";

let server: LibsqlServer;
let database: Database;
beforeAll(async () => {
  if (!here) return;
  server = await openLibsqlServer();
  database = await openDatabase(server.url, "server/database/migrations", () => Date.now());
  await database.client.batch(
    ["create table kites (name text unique)", "insert into kites values ('a')"],
    "write",
  );
});
afterAll(async () => {
  if (!here) return;
  database.close();
  await server.end();
});
const names = async () =>
  (await database.client.execute("select name from kites order by name")).rows.map((row) => row.name);
const refused = (asked: Promise<unknown>): Promise<string> =>
  asked.then(
    () => expect.unreachable(),
    (error: Error) => error.message,
  );

it.runIf(here)("leaves nothing of a batch that failed to whoever comes next", async () => {
  for (let i = 0; i < 5; i++) {
    const failing = ["insert into kites values ('b')", "insert into kites values ('a')"];
    expect(await refused(database.client.batch(failing, "write"))).toMatch(/UNIQUE/);
    expect(await refused(database.client.execute("insert into kites values ('a')"))).toMatch(/UNIQUE/);
    expect(await refused(database.client.execute("selec"))).toMatch(/syntax/);
    expect(await names()).toEqual(["a"]);
  }
  await database.client.batch(["insert into kites values ('c')", "insert into kites values ('d')"], "write");
  expect(await names()).toEqual(["a", "c", "d"]);
});

it.runIf(here)("sees at once what others have written, and tables that others have changed", async () => {
  const other = await openDatabase(server.url, "server/database/migrations", () => Date.now());
  await Promise.all(Array.from({ length: 20 }, () => names()));
  await other.client.execute("insert into kites values ('e')");
  for (let i = 0; i < 20; i++) expect(await names()).toContain("e");
  await other.client.execute("alter table kites add column size text");
  const rows = await Promise.all(
    Array.from({ length: 20 }, () => database.client.execute("select name, size from kites")),
  );
  expect(rows.every(({ columns }) => columns.includes("size"))).toBe(true);
  other.close();
});

it.runIf(here)("goes on with a server that was started anew, reading and writing", async () => {
  const before = await names();
  await Promise.all(Array.from({ length: 20 }, () => names()));
  await server.kill();
  await server.start();
  expect(await Promise.all(Array.from({ length: 30 }, () => names()))).toEqual(
    Array.from({ length: 30 }, () => before),
  );
  await database.client.batch(["insert into kites (name) values ('f')", "select 1"], "write");
  expect(await names()).toContain("f");
});
