import { spoken } from "../../scripts/english";
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { caseIds } from "#core/rehearsal/cases";
import { playableCases } from "#core/rehearsal/required";
import { luhnHolds } from "#core/masking";
import { auditBreak, changeSettings, recentAudit } from "#server/audit/audit";
import { subjectsOf } from "#server/audit/subjects";
import { payments } from "#server/database/schema";
import { enterKey } from "#server/connections/keys";
import { currentEndpoint } from "#server/connections/connections";
import { openEndpointSecret } from "#server/connections/webhook";
import { saveOffer } from "#server/offers/offers";
import { type Board, countCases } from "#server/rehearsal/board";
import { boardOf } from "#server/rehearsal/boards";
import { startRehearsal, stopRehearsal } from "#server/rehearsal/run";
import { cardDocument, luvwinkel, offerNow, until, whereIs } from "../../demo/play";
import { onServer, openWorld, type SystemWorld, wholeRehearsal } from "./world";

let world: SystemWorld;
beforeAll(async () => {
  world = await openWorld();
});
afterAll(() => world.end());

const board = async (): Promise<Board> => boardOf(world.rt, await offerNow(world.rt, world.offerId));
async function rehearse(cases = [...caseIds]) {
  const id = await startRehearsal(world.rt, "test", await offerNow(world.rt, world.offerId), cases);
  expect(id).not.toBeNull();
  await until("the rehearsal ends", async () => (await board()).running === null, wholeRehearsal);
}

describe("a rehearsal", () => {
  it("wins every case", async () => {
    await rehearse();
    const { cells } = await board();
    const playable = playableCases((await offerNow(world.rt, world.offerId)).profile);
    const failed = cells
      .filter((cell) => playable.has(cell.caseId) && cell.proof?.state !== "passed")
      .map((cell) => `${cell.caseId}: ${JSON.stringify(cell.proof)}`);
    expect(failed).toEqual([]);
    expect(countCases(cells)).toMatchObject({ green: 28, required: 28, stale: [] });
    // The trail is of what people do: nothing that was moved here is in it.
    expect(await recentAudit(world.rt, 100, "rehears")).toEqual([]);
    const { offerId } = world;
    const [payment] = await world.rt.db.orm.select().from(payments).limit(1);
    const named = await subjectsOf(world.rt, [offerId, payment?.id ?? ""]);
    const storefront = { id: "luvwinkel-de", name: "Luvwinkel DE" };
    expect(named.get(offerId)).toMatchObject({ storefront, page: `offer/${offerId}` });
    expect(named.get(payment?.id ?? "")).toMatchObject({ name: payment?.orderReference, storefront });
  });

  // A second whole rehearsal asks nothing more of the database.
  it.skipIf(onServer)("has proofs that say what changed when settings do", async () => {
    const storefront = await luvwinkel(world.rt);
    const offer = await offerNow(world.rt, world.offerId);
    await saveOffer(
      world.rt,
      "test",
      storefront,
      offer,
      { ...cardDocument, capture: "later" },
      offer.working.number,
    );
    const later = await board();
    expect(later.cells.find((cell) => cell.caseId === "approved")?.proof?.changed).toEqual(["capture"]);
    expect(countCases(later.cells)).toMatchObject({ green: 0, required: 36 });
    await rehearse();
    expect(countCases((await board()).cells)).toMatchObject({ green: 36, required: 36 });

    const other = await world.karvello.keys("sandbox");
    await enterKey(
      world.rt,
      "test",
      await whereIs(world.rt, world.connectionId),
      "test",
      "server-key",
      other["server-key"] ?? "",
    );
    expect((await board()).cells[0]?.proof?.changed).toEqual(["test keys"]);
  });

  it("keeps each case's newest proof in sight, however many purchases were walked since", async () => {
    const before = await board();
    const { client } = world.rt.db;
    const [newest] = (await client.execute("select * from proofs where case_id = 'approved' limit 1")).rows;
    await client.execute({
      sql: `insert into proofs (id, connection_id, offer_id, case_id, how, state, started_at, ended_at, verdicts, parts)
        with recursive seq(n) as (select 1 union all select n + 1 from seq where n < 700)
        select 'walked-' || n, connection_id, offer_id, case_id, 'walked', 'passed', ? + n, ? + n, '[]', parts
        from seq, (select * from proofs where id = ?)`,
      args: [world.rt.now(), world.rt.now(), String(newest?.id)],
    });
    const after = await board();
    expect(after.cells.find((cell) => cell.caseId === "approved")?.proof?.id).toBe("walked-700");
    const others = (one: Board) =>
      one.cells.filter((cell) => cell.caseId !== "approved").map((cell) => cell.proof?.id);
    expect(others(after)).toEqual(others(before));
    await client.execute("delete from proofs where id like 'walked-%'");
  });

  it("does not hide a failure: a case whose truth is otherwise turns red", async () => {
    // Karvello loses the news, so the case that needs a webhook cannot be won.
    await world.weather("lose", 10);
    const { rehearsalPatience } = world.settings;
    world.settings.rehearsalPatience = 1_000;
    await rehearse(["approved"]);
    world.settings.rehearsalPatience = rehearsalPatience;
    const cell = (await board()).cells.find((one) => one.caseId === "approved");
    expect(cell?.proof?.state).toBe("failed");
    expect(spoken(cell?.proof?.verdicts ?? []).find((one) => one.what === "Webhooks verified")).toMatchObject(
      {
        ok: false,
        happened: "0",
      },
    );
    await fetch(`${world.standins}/weather/karvello`, { method: "DELETE" });
  });

  it("can be stopped, and is one at a time", async () => {
    await world.weather("latency", 40, 150);
    const offer = await offerNow(world.rt, world.offerId);
    const start = () => startRehearsal(world.rt, "test", offer, [...caseIds]);
    const starts = await Promise.all([start(), start(), start()]);
    expect(starts.filter((one) => one !== null)).toHaveLength(1);
    expect(await start()).toBeNull();
    await until("one is done", async () => ((await board()).running?.done ?? 9) > 0);
    await stopRehearsal(world.rt, world.offerId);
    await until("it stops", async () => (await board()).running === null);
    const { rows } = await world.rt.db.client.execute(
      "select count(*) as n from proofs where rehearsal_id = (select max(id) from rehearsals)",
    );
    expect(Number(rows[0]?.n)).toBeLessThan(caseIds.length);
    await fetch(`${world.standins}/weather/karvello`, { method: "DELETE" });
  });
});

async function databaseFiles(): Promise<string[]> {
  await world.rt.db.client.execute("pragma wal_checkpoint(truncate)");
  const files = readdirSync(world.place).filter((name) => name.startsWith("zahlung.db"));
  expect(files.length).toBeGreaterThan(0);
  return files;
}

describe("what is at rest", () => {
  it("holds no card number and no secret in the clear", async () => {
    const endpoints = await Promise.all(
      (["test", "live"] as const).map((mode) => currentEndpoint(world.rt, world.connectionId, mode)),
    );
    const secrets = [
      world.keys.test["server-key"] ?? "",
      world.keys.live["server-key"] ?? "",
      ...endpoints.map((one) => openEndpointSecret(world.rt, one)),
      "drachen-im-ostwind",
      world.env.ZAHLUNG_MASTER_KEY ?? "",
    ];
    const files = onServer ? [] : await databaseFiles();
    for (const file of files) {
      const text = readFileSync(join(world.place, file), "latin1");
      for (const secret of secrets)
        expect(text.includes(secret), `${file} holds a secret ending in ${secret.slice(-4)}`).toBe(false);
    }
    // Card numbers are sought in what can be read: every text of every table.
    const tables = await world.rt.db.client.execute(
      "select name from sqlite_master where type = 'table' and name not like 'sqlite%' and name not in ('profiles', 'profile_versions')",
    );
    for (const { name } of tables.rows) {
      const { rows } = await world.rt.db.client.execute(`select * from "${String(name)}"`);
      for (const run of JSON.stringify(rows).match(/(?<!\d)\d(?:[ -]?\d){14,18}(?!\d)/g) ?? []) {
        const digits = run.replace(/\D/g, "");
        expect(/^990[123]/.test(digits) && luhnHolds(digits), `${String(name)} holds ${run}`).toBe(false);
      }
    }
  });

  it("has an audit trail that shows a changed entry", async () => {
    await Promise.all(
      [1, 2, 3, 4, 5].map((n) =>
        changeSettings(world.rt, { person: "test", action: "tried", subject: String(n) }, []),
      ),
    );
    expect(await auditBreak(world.rt)).toBeNull();
    await world.rt.db.client.execute("update audit set person = 'nobody' where number = 3");
    expect(await auditBreak(world.rt)).toBe(3);
  });
});
