import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { cpus } from "node:os";
import { caseIds } from "#core/rehearsal/cases";
import { boardOf } from "#server/rehearsal/board";
import { startRehearsal } from "#server/rehearsal/run";
import { pay } from "#server/checkout/pay";
import { offerNow, until } from "../demo/play";
import { openKite, openWorld } from "../e2e/system/world";
import { round } from "./figures";
import { measureIntake } from "./intake";
import { measurePages } from "./pages";
import { measurePlan, measureProving } from "./plan";
import { measureInterpreting, measureSignatures } from "./profiles";
import { measureThinking } from "./thinking";

const results: Record<string, unknown> = {};
const note = (name: string, value: unknown) => {
  results[name] = value;
  console.log(name, JSON.stringify(value, null, 1));
};

note("thinking", measureThinking());
note("interpreting", await measureInterpreting());
note("signatures", await measureSignatures());
// The intake first, in a world without a worker: what is measured is taking webhooks, not applying them.
const quiet = await openWorld({ worker: false, connect: false });
try {
  note("intake", await measureIntake(quiet));
} finally {
  await quiet.end();
}
const world = await openWorld();
try {
  const offer = await offerNow(world.rt, world.offerId);
  const start = performance.now();
  await startRehearsal(world.rt, "bench", offer, [...caseIds]);
  await until("the rehearsal", async () => (await boardOf(world.rt, offer)).running === null);
  const green = (await boardOf(world.rt, offer)).cells.filter(
    (cell) => cell.proof?.state === "passed",
  ).length;
  note("allCases", {
    seconds: round((performance.now() - start) / 1000),
    green,
    of: caseIds.length,
    reach: "under 10 s",
  });
  await pay(world.rt, await openKite(world.rt), world.offerId, "play-approved");
  note("pages", await measurePages(world));
  note("proving", await measureProving(world));
  note("plan", await measurePlan(world));
} finally {
  await world.end();
}
const { dependencies } = JSON.parse(readFileSync("package.json", "utf8")) as {
  dependencies: Record<string, string>;
};
mkdirSync("bench", { recursive: true });
const about = {
  date: new Date().toISOString().slice(0, 10),
  node: process.version,
  cores: cpus().length,
  libsql: dependencies["@libsql/client"],
  reactRouter: dependencies["react-router"],
};
writeFileSync("bench/results.json", JSON.stringify({ about, ...results }, null, 2) + "\n");
