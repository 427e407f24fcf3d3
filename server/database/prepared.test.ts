import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { desc, eq, sql } from "drizzle-orm";
import { afterAll, beforeAll, expect, it } from "vitest";
import { type Database, openDatabase } from "./open";
import { insertRow, prepared, rowsBy, updateRow, within } from "./prepared";
import { jobs, storefronts } from "./schema";

const place = mkdtempSync(join(tmpdir(), "zahlung-prepared-"));
let db: Database;
beforeAll(async () => {
  db = await openDatabase(`file:${join(place, "z.db")}`, "server/database/migrations", () => 1);
});
afterAll(() => {
  db.close();
  rmSync(place, { recursive: true, force: true });
});

const row = (id: string): typeof storefronts.$inferInsert => ({
  ...{ id, name: `${id} “quoted” ?`, domain: `${id}.example`, https: true, country: "DE" },
  ...{ languages: ["de", "en"], currencies: ["EUR"], groups: [], apps: [], stages: ["a, b"], createdAt: 1 },
});
const all = prepared((orm) =>
  orm
    .select()
    .from(storefronts)
    .where(eq(storefronts.id, sql.placeholder("id")))
    .prepare(),
);
const named = prepared((orm) =>
  orm
    .select({ name: storefronts.name })
    .from(storefronts)
    .where(sql`${storefronts.name} like ${sql.placeholder("like")}`)
    .orderBy(storefronts.id)
    .prepare(),
);
const plain = async (id: string) =>
  (await db.orm.select().from(storefronts).where(eq(storefronts.id, id)))[0];

it("writes each row with its own values, and changes what is given and nothing else", async () => {
  for (const id of ["one", "two", "three"]) {
    const statement = insertRow(db, storefronts, row(id));
    expect(statement.toSQL().params).toEqual(expect.arrayContaining([id, '["a, b"]']));
    await db.write([statement]);
    expect(await plain(id)).toMatchObject(row(id));
  }
  const changes: Partial<typeof storefronts.$inferInsert>[] = [
    { name: "new", stages: [], https: false },
    { name: "again", stages: ["c"], https: true },
    { name: undefined as never, country: "AT" },
  ];
  for (const change of changes) {
    const before = await plain("two");
    await db.write([updateRow(db, storefronts, "two", change)]);
    const given = Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined));
    expect(await plain("two")).toEqual({ ...before, ...given });
  }
  // Nobody else was touched, and an id among the values moves nothing.
  await db.write([updateRow(db, storefronts, "two", { ...row("three"), name: "still two" })]);
  expect(await plain("three")).toMatchObject(row("three"));
  expect((await plain("two"))?.name).toBe("still two");
});

it("writes null as null, also where the column holds documents", async () => {
  const job = {
    id: "job",
    kind: "apply",
    key: "k",
    lane: "l",
    runAt: 5,
    createdAt: 1,
    progress: { looks: 1 },
  };
  await db.write([insertRow(db, jobs, job as typeof jobs.$inferInsert)]);
  const raw = async () =>
    (await db.client.execute("select run_at, progress, lease, tries from jobs where id = 'job'")).rows[0];
  await db.write([updateRow(db, jobs, "job", { progress: null, lease: "x", tries: 2 })]);
  expect(await raw()).toMatchObject({ run_at: 5, progress: null, lease: "x", tries: 2 });
  await db.write([updateRow(db, jobs, "job", { progress: { looks: 2 }, lease: null, tries: 0 })]);
  expect(await raw()).toMatchObject({ progress: '{"looks":2}', lease: null, tries: 0 });
  await db.write([updateRow(db, jobs, "job", { progress: null, lease: null, tries: 1, runAt: null })]);
  expect(await raw()).toMatchObject({ run_at: null, progress: null, lease: null, tries: 1 });
});

it("reads several queries that are built already as one, each with its values", async () => {
  const [[one], [three], [none], quoted] = await db.orm.batch([
    within(all(db), { id: "one" }),
    within(all(db), { id: "three" }),
    within(all(db), { id: "nobody" }),
    within(named(db), { like: "%quoted%" }),
  ]);
  expect(one).toEqual(await plain("one"));
  expect(three?.languages).toEqual(["de", "en"]);
  expect(none).toBeUndefined();
  expect(quoted.map(({ name }) => name)).toEqual([row("one").name, row("three").name]);
});

it("reads the rows of a table by some of its columns, in an order, alone and among others", async () => {
  const byPlace = rowsBy(storefronts, ["country", "https"], desc(storefronts.id));
  for (const country of ["PT", "SE"])
    for (const id of ["a", "b"])
      await db.write([insertRow(db, storefronts, { ...row(`${country}-${id}`), country })]);
  await db.write([updateRow(db, storefronts, "PT-a", { https: false })]);
  const read = byPlace(db).all({ country: "SE", https: true });
  expect((await read).map((one) => one.id)).toEqual(["SE-b", "SE-a"]);
  expect((await byPlace(db).all({ country: "PT", https: true }))[0]).toEqual(await plain("PT-b"));
  const [open, none] = await db.orm.batch([
    within(byPlace(db), { country: "PT", https: false }),
    within(byPlace(db), { country: "NO", https: true }),
  ]);
  expect(open).toEqual([await plain("PT-a")]);
  expect(none).toEqual([]);
});
