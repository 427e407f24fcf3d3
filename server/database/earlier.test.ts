import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { eq } from "drizzle-orm";
import { usualLook } from "#core/looks/look";
import { fold } from "#core/payments/fold";
import { projected } from "../payments/record";
import { type Database, openDatabase } from "./open";
import {
  baskets,
  checkouts,
  domainFiles,
  facts,
  findings,
  jobs,
  lookRevisions,
  orders,
  paymentOperations,
  payments,
  savedViews,
  storefronts,
  volumes,
  zoneRevisions,
} from "./schema";

const MIGRATIONS = "server/database/migrations";

let place: string;
beforeEach(() => {
  place = mkdtempSync(join(tmpdir(), "zahlung-earlier-"));
});
afterEach(() => rmSync(place, { recursive: true, force: true }));

/** Makes a database as it was after so many migrations, fills it, and opens it as it is today. */
async function broughtAlong(migrations: number, fill: (put: Put) => Promise<void>): Promise<Database> {
  const earlier = join(place, "migrations");
  cpSync(MIGRATIONS, earlier, { recursive: true });
  const journal = join(earlier, "meta", "_journal.json");
  const { entries, ...rest } = JSON.parse(readFileSync(journal, "utf8")) as { entries: object[] };
  writeFileSync(journal, JSON.stringify({ ...rest, entries: entries.slice(0, migrations) }));
  const url = `file:${join(place, "earlier.db")}`;
  const old = await openDatabase(url, earlier, Date.now);
  await fill(async (table, row) => {
    if (table.startsWith("pragma")) return void (await old.client.execute(table));
    const names = Object.keys(row);
    await old.client.execute({
      sql: `insert into ${table} (${names.map((name) => `"${name}"`).join()}) values (${names.map(() => "?").join()})`,
      args: Object.values(row).map((one) =>
        typeof one === "object" && one !== null ? JSON.stringify(one) : one,
      ) as string[],
    });
  });
  old.close();
  return openDatabase(url, MIGRATIONS, Date.now);
}
type Put = (table: string, row: Record<string, unknown>) => Promise<void>;

const storefront = (id: string) => ({
  id,
  name: id,
  domain: `${id}.example`,
  https: 1,
  country: "DE",
  languages: ["de"],
  currencies: ["EUR"],
  groups: [],
  stages: [],
  created_at: 1,
});

describe("a database of two versions ago", () => {
  it("keeps what it holds: a file goes to the storefront of its connection, a volume to its currency", async () => {
    const now = await broughtAlong(2, async (put) => {
      await put("storefronts", storefront("north"));
      await put("profiles", { id: "p", version: "1", document: {}, installed_at: 1 });
      await put("connections", {
        id: "c",
        profile_id: "p",
        storefront_id: "north",
        name: "C",
        live: "never",
        created_at: 1,
      });
      await put("domain_files", { connection_id: "c", mode: "test", name: "f", body: "body", taken_at: 7 });
      await put("volumes", { storefront_id: "north", document: { currency: "GBP", orders: 3 }, saved_at: 9 });
    });
    const [file] = await now.orm.select().from(domainFiles);
    expect(file).toMatchObject({ connectionId: "c", storefrontId: "north", body: "body", takenAt: 7 });
    const [volume] = await now.orm.select().from(volumes);
    expect(volume).toMatchObject({
      storefrontId: "north",
      currency: "GBP",
      document: { orders: 3 },
      savedAt: 9,
    });
    const [one] = await now.orm.select().from(storefronts);
    expect(one).toMatchObject({ id: "north", offersVersion: 0 });
    now.close();
  });
});

describe("a database of the version before the lever stood on connection and storefront", () => {
  const gates = [{ id: "live-keys", title: "Live keys proven", station: "connect", open: true, says: "yes" }];
  async function fill(put: Put) {
    for (const id of ["north", "south"]) await put("storefronts", storefront(id));
    await put("profiles", { id: "p", version: "1.2.0", source: "file", document: { a: 1 }, installed_at: 5 });
    const connection = { profile_id: "p", storefront_id: "north", name: "C", created_at: 1 };
    await put("connections", { ...connection, id: "shared", live: "live" });
    await put("connections", { ...connection, id: "back", live: "fallen-back" });
    await put("connections", { ...connection, id: "fresh", live: "never" });
    for (const [connection_id, storefront_id] of [
      ["shared", "north"],
      ["shared", "south"],
      ["back", "north"],
      ["fresh", "north"],
    ])
      await put("connection_storefronts", { connection_id, storefront_id, since: 1 });
    await put("key_sets", {
      id: "k",
      connection_id: "shared",
      mode: "live",
      number: 1,
      values: {},
      created_at: 1,
    });
    await put("key_checks", {
      id: "kc",
      key_set_id: "k",
      connection_id: "shared",
      mode: "live",
      at: 2,
      account: { account: "L-1", name: "N" },
      findings: [],
      rights: [],
      wrong: [],
      proven: [],
    });
    for (const [id, connection_id, storefront_id, off, live_id] of [
      ["on", "shared", "north", 0, "r1"],
      ["off", "shared", "north", 1, "r2"],
      ["there", "shared", "south", 0, null],
      ["gone-home", "back", "north", 0, "r4"],
    ] as const) {
      const working_id = { on: "r1", off: "r2", there: "r3", "gone-home": "r4" }[id];
      await put("offer_revisions", {
        id: working_id,
        offer_id: id,
        number: 1,
        document: {},
        person: "ida",
        created_at: 1,
      });
      await put("offers", {
        id,
        storefront_id,
        connection_id,
        method_id: id,
        position: 1,
        off,
        working_id,
        live_id,
        created_at: 1,
      });
    }
    const movement = { person: "ida", gates, changes: ["x"] };
    await put("cutovers", {
      ...movement,
      id: "m1",
      connection_id: "shared",
      storefront_id: "north",
      kind: "cut-over",
      at: 10,
      snapshot: { live: "never", offers: [{ id: "on", liveId: null, off: false }] },
    });
    await put("cutovers", {
      ...movement,
      id: "m2",
      connection_id: "back",
      storefront_id: "north",
      kind: "cut-over",
      at: 11,
      snapshot: { live: "never", offers: [] },
    });
    await put("cutovers", {
      ...movement,
      id: "m3",
      connection_id: "back",
      storefront_id: "north",
      kind: "fall-back",
      at: 12,
      snapshot: { live: "live", offers: [{ id: "gone-home", liveId: "r4", off: false }] },
    });
    const checkout = { storefront_id: "north", mode: "live", origin: "shop", order: {}, created_at: 1 };
    await put("checkouts", {
      ...checkout,
      id: "open",
      token: "t1",
      reference: "A",
      state: "open",
      expires_at: 50,
    });
    await put("checkouts", {
      ...checkout,
      id: "paid",
      token: "t2",
      reference: "B",
      state: "paid",
      expires_at: 50,
      active_payment_id: "pay",
    });
    const payment = {
      checkout_id: "paid",
      storefront_id: "north",
      connection_id: "shared",
      key_set_id: "k",
      offer_id: "on",
      revision_id: "r1",
      method_id: "card",
      mode: "live",
      origin: "shop",
      order_reference: "B",
      amount: 4390,
      currency: "EUR",
      capture: "at-once",
      authorised: 4390,
      captured: 4390,
      refunded: 0,
      version: 2,
      parts: {},
      created_at: 3,
      updated_at: 3,
    };
    await put("payments", { ...payment, id: "pay", reference: "z1", state: "captured" });
    await put("payments", {
      ...payment,
      id: "asked",
      reference: "z2",
      state: "pending",
      authorised: 0,
      captured: 0,
      look_up_at: 77,
      look_ups: 2,
    });
    await put("payments", {
      ...payment,
      id: "surplus",
      reference: "z3",
      state: "captured",
      attention: "surplus",
    });
    await put("facts", {
      payment_id: "pay",
      key: "a",
      source: "answer",
      at: 3,
      recorded_at: 3,
      statement: { kind: "captured", amount: 4390 },
    });
    await put("endpoints", {
      id: "hook",
      connection_id: "shared",
      mode: "live",
      path: "x",
      secret: "s",
      secret_hint: "",
      created_at: 1,
    });
    const webhook = {
      endpoint_id: "hook",
      connection_id: "shared",
      mode: "live",
      headers: {},
      body: "",
      verdict: "verified",
    };
    await put("webhooks", { ...webhook, message_id: "w1", received_at: 20, outcome: "waiting", tries: 1 });
    await put("webhooks", {
      ...webhook,
      message_id: "w2",
      received_at: 21,
      outcome: "applied",
      payment_id: "pay",
    });
    await put("outbox", {
      id: "n1",
      dedupe: "d1",
      storefront_id: "north",
      mode: "live",
      payment_id: "pay",
      body: {},
      created_at: 4,
      tries: 3,
      next_at: 90,
    });
    await put("outbox", {
      id: "n2",
      dedupe: "d2",
      storefront_id: "north",
      mode: "live",
      payment_id: "pay",
      body: {},
      created_at: 4,
      tries: 1,
      delivered_at: 6,
    });
    await put("rehearsals", {
      id: "walk",
      connection_id: "shared",
      offer_id: "on",
      person: "ida",
      started_at: 8,
      cases: [],
    });
  }

  it("has the lever on each pair as shoppers saw it, and nobody live who never passed a gate", async () => {
    const now = await broughtAlong(3, fill);
    const rows = async (sql: string) => (await now.client.execute(sql)).rows.map((row) => Array.from(row));
    expect(
      await rows(
        "select connection_id, storefront_id, live, version_id, moved_at from connection_storefronts order by 1, 2",
      ),
    ).toEqual([
      ["back", "north", "fallen-back", "prv_p", 12],
      ["fresh", "north", "never", null, null],
      ["shared", "north", "live", "prv_p", 10],
      ["shared", "south", "never", null, null],
    ]);
    expect(
      await rows("select id, off_in_test, off_in_live, live_id, removed_at from offers order by 1"),
    ).toEqual([
      ["gone-home", 0, 0, "r4", null],
      ["off", 1, 1, "r2", null],
      ["on", 0, 0, "r1", null],
      ["there", 0, 0, null, null],
    ]);
    expect(await rows("select id, live_account from connections order by 1")).toEqual([
      ["back", null],
      ["fresh", null],
      ["shared", "L-1"],
    ]);
    const [movement] = await rows("select snapshot from cutovers where id = 'm3'");
    expect(JSON.parse(String(movement?.[0]))).toEqual({
      pairs: [
        {
          connectionId: "back",
          live: "live",
          versionId: "prv_p",
          offers: [{ offerId: "gone-home", liveId: "r4", off: false }],
        },
      ],
    });
    now.close();
  });

  it("pins its one profile version everywhere, keeps every payment and message, and has a job for all that waited", async () => {
    const now = await broughtAlong(3, fill);
    const rows = async (sql: string) => (await now.client.execute(sql)).rows.map((row) => Array.from(row));
    expect(await rows("select id, profile_id, version, source, document from profile_versions")).toEqual([
      ["prv_p", "p", "1.2.0", "file", '{"a":1}'],
    ]);
    expect(await rows("select distinct test_version_id from connections")).toEqual([["prv_p"]]);
    expect(await rows("select id, state, captured, profile_version_id from payments order by 1")).toEqual([
      ["asked", "pending", 0, "prv_p"],
      ["pay", "captured", 4390, "prv_p"],
      ["surplus", "captured", 4390, "prv_p"],
    ]);
    expect(
      await rows("select message_id, verdict, outcome, payment_id from webhooks order by number"),
    ).toEqual([
      ["w1", "verified", "waiting", null],
      ["w2", "verified", "applied", "pay"],
    ]);
    expect(await rows("select statement from facts")).toEqual([
      ['{"object":"report","status":"captured","captured":4390}'],
    ]);
    expect(await rows("select kind, key, lane, run_at from jobs order by kind, key")).toEqual([
      ["apply-webhooks", "hook", "shared", 20],
      ["deliver-news", "n1", "north:live", 90],
      ["expire-checkout", "open", "north", 50],
      ["look-up", "asked", "shared", 77],
      ["operation", "op_asked_create", "shared", 0],
      ["rehearse", "walk", "walk", 8],
      ["undo-surplus", "surplus", "shared", 3],
    ]);
    expect(await rows("pragma foreign_key_check")).toEqual([]);
    now.close();
  });
});

describe("a database of the version before money was a ledger", () => {
  const payment = {
    checkout_id: "c",
    storefront_id: "north",
    connection_id: "n",
    key_set_id: "k",
    profile_version_id: "v",
    offer_id: "o",
    revision_id: "r",
    method_id: "card",
    mode: "test",
    origin: "shop",
    order_reference: "A",
    amount: 900,
    currency: "EUR",
    capture: "later",
    captured: 0,
    refunded: 0,
    version: 1,
    parts: {},
    created_at: 5,
    updated_at: 6,
  };
  type Old = Record<string, unknown> & { source?: string; key?: string };
  /** Payments with the facts that were kept of them, and how they stood by the old rules. */
  const kept: Record<string, { state: string; sums: [number, number, number]; facts: Old[] }> = {
    waits: {
      state: "pending",
      sums: [0, 0, 0],
      facts: [{ kind: "created" }, { kind: "pending", code: "QR" }],
    },
    unheard: {
      state: "pending",
      sums: [0, 0, 0],
      facts: [
        { kind: "created", source: "zahlung" },
        { kind: "pending", source: "zahlung" },
      ],
    },
    part: {
      state: "partly-refunded",
      sums: [900, 400, 100],
      facts: [
        { kind: "authorised", amount: 900 },
        { kind: "captured", amount: 400 },
        { kind: "refunded", amount: 100 },
      ],
    },
    refused: {
      state: "declined",
      sums: [0, 0, 0],
      facts: [{ kind: "declined", reason: "wrong-code", code: "R82", text: "no" }],
    },
    // A refusal of a later attempt hid what is held.
    hidden: {
      state: "declined",
      sums: [900, 0, 0],
      facts: [
        { kind: "authorised", amount: 900 },
        { kind: "declined", reason: "unspecified" },
      ],
    },
    left: {
      state: "cancelled",
      sums: [900, 0, 0],
      facts: [
        { kind: "authorised", amount: 900 },
        { kind: "cancelled", source: "zahlung" },
        { kind: "voided" },
      ],
    },
    nobody: {
      state: "failed",
      sums: [0, 0, 0],
      facts: [{ kind: "failed", code: "absent", key: "look-up:failed:absent", source: "look-up" }],
    },
    // A second payment of the same order that nobody noticed.
    second: {
      state: "captured",
      sums: [900, 900, 0],
      facts: [{ kind: "captured", amount: 900 }],
    },
    questioned: {
      state: "disputed",
      sums: [900, 900, 0],
      facts: [{ kind: "captured", amount: 900 }, { kind: "disputed" }],
    },
  };

  async function fill(put: Put) {
    await put("storefronts", storefront("north"));
    await put("profiles", { id: "p", created_at: 1 });
    const version = { id: "v", profile_id: "p", number: 1, version: "1.0.0", source: "file", document: {} };
    await put("profile_versions", { ...version, installed_at: 1 });
    const connection = { id: "n", profile_id: "p", test_version_id: "v", storefront_id: "north", name: "N" };
    await put("connections", { ...connection, created_at: 1 });
    const keySet = { id: "k", connection_id: "n", mode: "test", number: 1, values: {}, created_at: 1 };
    await put("key_sets", keySet);
    const revision = { id: "r", offer_id: "o", number: 1, document: {}, person: "ida", created_at: 1 };
    await put("pragma foreign_keys = off", {});
    await put("offer_revisions", revision);
    const offer = { id: "o", storefront_id: "north", connection_id: "n", method_id: "card", position: 1 };
    await put("offers", { ...offer, off_in_test: 0, off_in_live: 0, working_id: "r", created_at: 1 });
    await put("checkouts", {
      ...{ id: "c", token: "t", storefront_id: "north", mode: "test", origin: "shop", reference: "A" },
      ...{ order: {}, state: "open", created_at: 1, expires_at: 9 },
    });
    for (const [id, { state, sums, facts }] of Object.entries(kept)) {
      const [authorised, captured, refunded] = sums;
      const row = { ...payment, id, reference: `z-${id}`, state, authorised, captured, refunded };
      await put("payments", { ...row, ...(id !== "unheard" && { provider_ref: `P-${id}` }) });
      for (const [i, { source = "answer", key = `${i}`, ...statement }] of facts.entries())
        await put("facts", { payment_id: id, key, source, at: i, recorded_at: i, statement });
    }
    const act = { payment_id: "part", kind: "refund", person: "ida", at: 7 };
    await put("payment_acts", { ...act, once: "a", amount: 100, done: 1 });
    await put("payment_acts", { ...act, once: "b", amount: 50, done: 0 });
  }

  it("has every fact in the new form, and the projection says what the fold of them says", async () => {
    const now = await broughtAlong(5, fill);
    const rows = await now.orm.select().from(payments);
    expect(rows).toHaveLength(Object.keys(kept).length);
    for (const row of rows) {
      const known = await now.orm.select().from(facts).where(eq(facts.paymentId, row.id));
      expect(known.map((fact) => JSON.stringify(fact.statement)).join(), row.id).not.toContain('"kind"');
      const standing = fold(known);
      expect({ id: row.id, ...projected(standing, row.currency) }).toEqual({
        id: row.id,
        ...Object.fromEntries(
          Object.keys(projected(standing, row.currency)).map((name) => [name, row[name as keyof typeof row]]),
        ),
      });
    }
    const states = Object.fromEntries(rows.map(({ id, state, held }) => [id, [state, held]]));
    expect(states).toMatchObject({
      part: ["partly-refunded", 500],
      refused: ["declined", 0],
      hidden: ["authorised", 900],
      left: ["cancelled", 0],
      nobody: ["failed", 0],
      questioned: ["disputed", 0],
    });
    const [scanned] = await now.orm
      .select()
      .from(facts)
      .where(eq(facts.paymentId, "waits"))
      .limit(1)
      .offset(1);
    expect(scanned?.statement).toEqual({ object: "report", status: "pending", scan: "QR" });
    now.close();
  });

  it("has one order with the payment that pays it, and tells a person of the others with money", async () => {
    const now = await broughtAlong(5, fill);
    const [order, ...more] = await now.orm.select().from(orders);
    expect(more).toEqual([]);
    const [checkout] = await now.orm.select().from(checkouts);
    expect(checkout?.orderId).toBe(order?.id);
    expect(order).toMatchObject({ reference: "A", state: "paid" });
    expect(order?.parts).toEqual({
      [order?.payingPaymentId ?? ""]: {
        ...{ amount: order?.due, whole: true, held: order?.held },
        ...{ paid: order?.paid, refunded: order?.refunded },
      },
    });
    const found = await now.orm.select().from(findings).orderBy(findings.paymentId);
    expect(found.every((one) => one.kind === "surplus" && one.state === "open")).toBe(true);
    expect(found.map((one) => one.paymentId)).not.toContain(order?.payingPaymentId);
    expect(found.length).toBeGreaterThan(1);
    expect(found.every((one) => one.subject === one.paymentId)).toBe(true);
    now.close();
  });

  it("keeps what was pressed, and looks up whatever nobody knew the end of", async () => {
    const now = await broughtAlong(5, fill);
    const operations = await now.orm.select().from(paymentOperations).orderBy(paymentOperations.id);
    expect(operations.map(({ id, kind, state, amount }) => [id, kind, state, amount])).toEqual([
      ["op_part_a", "refund", "done", 100],
      ["op_part_b", "refund", "refused", 50],
      ["op_unheard_create", "create", "unknown", 900],
    ]);
    const waiting = await now.orm.select({ kind: jobs.kind, key: jobs.key }).from(jobs).orderBy(jobs.kind);
    expect(waiting).toEqual([
      { kind: "look-up", key: "part" },
      { kind: "operation", key: "op_unheard_create" },
    ]);
    expect((await now.client.execute("pragma foreign_key_check")).rows).toEqual([]);
    now.close();
  });
});

describe("a database of the version before orders had views", () => {
  it("keeps the views of payments, and takes one of orders by the same name", async () => {
    const view = { storefront_id: "north", name: "Refused", person: "ida", at: 5 };
    const now = await broughtAlong(35, async (put) => {
      await put("storefronts", storefront("north"));
      await put("saved_views", { ...view, id: "v", query: "state=declined" });
    });
    const insert = (id: string) =>
      now.orm
        .insert(savedViews)
        .values({ ...view, ...{ id, storefrontId: "north", list: "orders", query: "" } });
    await insert("w");
    const kept = await now.orm.select().from(savedViews).orderBy(savedViews.id);
    expect(kept.map((one) => [one.id, one.list, one.query])).toEqual([
      ["v", "payments", "state=declined"],
      ["w", "orders", ""],
    ]);
    await expect(insert("x")).rejects.toThrow();
    now.close();
  });
});

describe("a database of the version before kept baskets told their goods", () => {
  it("takes all that a basket costs for goods, as it was judged then", async () => {
    const kept = { total: 4_390, currency: "EUR", kinds: ["kite"] };
    const now = await broughtAlong(37, async (put) => {
      await put("storefronts", storefront("north"));
      const basket = { id: "b", storefront_id: "north", name: "Usual", created_at: 5 };
      await put("baskets", { ...basket, basket: JSON.stringify(kept) });
    });
    const [row] = await now.orm.select().from(baskets);
    expect(row?.basket).toEqual({ ...kept, goods: 4_390 });
    now.close();
  });
});

describe("a database of the version before earlier looks and zones were kept", () => {
  const look = (accent: string) => ({ ...usualLook, accent });
  it("has every look that the trail tells of, and zones as they stand", async () => {
    const now = await broughtAlong(38, async (put) => {
      for (const id of ["north", "south"]) await put("storefronts", storefront(id));
      const entry = (number: number, action: string, subject: string, detail: object) =>
        put("audit", {
          ...{ number, at: number * 10, person: `p${number}`, action, subject, detail },
          ...{ previous: String(number - 1).padStart(64, "0"), hash: String(number).padStart(64, "0") },
        });
      await entry(1, "look saved", "north", look("#111111"));
      await entry(2, "look put live", "north", {});
      await entry(3, "zone added", "zon_1", { name: "Islands" });
      await entry(4, "logo removed", "north", look("#222222"));
      await put("looks", { storefront_id: "north", working: look("#222222"), updated_at: 40 });
      // Brought in from elsewhere: no entry tells of it.
      await put("looks", { storefront_id: "south", working: look("#333333"), updated_at: 50 });
      await put("zones", { id: "zon_1", name: "Isles", countries: ["MT"], regions: [], postcodes: [] });
    });
    const kept = await now.orm.select().from(lookRevisions).orderBy(lookRevisions.createdAt);
    expect(
      kept.map((one) => [one.storefrontId, one.number, one.look.accent, one.person, one.createdAt]),
    ).toEqual([
      ["north", 1, "#111111", "p1", 10],
      ["north", 2, "#222222", "p4", 40],
      ["south", 1, "#333333", "", 50],
    ]);
    expect(await now.orm.select().from(zoneRevisions)).toEqual([
      {
        ...{ zoneId: "zon_1", number: 1, name: "Isles", countries: ["MT"], regions: [], postcodes: [] },
        ...{ removed: false, person: "p3", createdAt: 30 },
      },
    ]);
    now.close();
  });
});
