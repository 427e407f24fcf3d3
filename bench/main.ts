import { execFileSync } from "node:child_process";
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { cpus } from "node:os";
import { caseIds } from "#core/rehearsal/cases";
import { boardOf } from "#server/rehearsal/boards";
import { startRehearsal } from "#server/rehearsal/run";
import { pay } from "#server/checkouts/pay";
import { offerNow, until } from "../demo/play";
import { program } from "../scripts/programs.mjs";
import { hasLibsqlServer } from "../scripts/libsql-server.mjs";
import { openKite, openWorld, type SystemWorld, type WorldOptions } from "../e2e/system/world";
import { round } from "./figures";
import { measureJobs, measureServer } from "./ground";
import { measureIntake } from "./intake";
import { measureOrders, measureRebuild } from "./orders";
import { measurePages } from "./pages";
import { measurePlan, measureProving } from "./plan";
import { measureInterpreting, measureSignatures } from "./profiles";
import { measureRepeats } from "./repeats";
import { measureThroughput } from "./throughput";

/** Opens a world for a measurement and ends it. */
async function within<T>(options: WorldOptions, measure: (world: SystemWorld) => Promise<T>): Promise<T> {
  const world = await openWorld(options);
  try {
    return await measure(world);
  } finally {
    await world.end();
  }
}

async function measureAllCases({ rt, offerId }: SystemWorld) {
  const offer = await offerNow(rt, offerId);
  const start = performance.now();
  await startRehearsal(rt, "bench", offer, [...caseIds]);
  await until("the rehearsal", async () => (await boardOf(rt, offer)).running === null);
  const { cells } = await boardOf(rt, offer);
  return {
    seconds: round((performance.now() - start) / 1000),
    green: cells.filter((cell) => cell.proof?.state === "passed").length,
    of: caseIds.length,
    reach: "under 10 s",
  };
}

const parts: Record<string, () => unknown> = {
  thinking: () =>
    JSON.parse(
      execFileSync(process.execPath, [program("bench/thinking.ts")], { encoding: "utf8" }),
    ) as unknown,
  interpreting: measureInterpreting,
  signatures: measureSignatures,
  // In a world without a worker: what is measured is taking webhooks, not applying them.
  intake: () => within({ worker: false, connect: false }, measureIntake),
  throughput: () => within({}, measureThroughput),
  orders: () => within({}, measureOrders),
  rebuild: () => within({}, measureRebuild),
  repeats: () => within({ beside: false }, measureRepeats),
  jobs: measureJobs,
  ...(hasLibsqlServer && { libsqlServer: measureServer }),
  allCases: () => within({}, measureAllCases),
  pages: () =>
    within({}, async (world) => {
      await pay(world.rt, await openKite(world.rt), world.offerId, "play-approved");
      return measurePages(world);
    }),
  proving: () => within({}, measureProving),
  plan: () => within({}, measurePlan),
};

const file = "bench/results.json";
const before = existsSync(file) ? (JSON.parse(readFileSync(file, "utf8")) as Record<string, unknown>) : {};
const named = process.argv.slice(2);
const unknown = named.filter((name) => !(name in parts));
if (unknown.length > 0) {
  console.error(`There is no ${unknown.join(", ")} to measure; there is ${Object.keys(parts).join(", ")}.`);
  process.exit(1);
}
const results: Record<string, unknown> = {};
for (const [name, measure] of Object.entries(parts)) {
  if (named.length > 0 && !named.includes(name)) {
    if (name in before) results[name] = before[name];
    continue;
  }
  results[name] = await measure();
  console.log(name, JSON.stringify(results[name], null, 1));
}
const { dependencies } = JSON.parse(readFileSync("package.json", "utf8")) as {
  dependencies: Record<string, string>;
};
const about = {
  date: new Date().toISOString().slice(0, 10),
  node: process.version,
  cores: cpus().length,
  libsql: dependencies["@libsql/client"],
  reactRouter: dependencies["react-router"],
};
writeFileSync(file, JSON.stringify({ about, ...results }, null, 2) + "\n");
