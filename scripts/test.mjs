// npm test: formatting, lint with the import rule, types and build beside each other; unit and system tests, the system
// tests once more on a libSQL server, browser tests; then one line of counts.
import { spawn, spawnSync } from "node:child_process";
import { existsSync, readFileSync, rmSync } from "node:fs";
import { join, relative } from "node:path";
import { hasLibsqlServer, libsqlServer } from "./libsql-server.mjs";
import { bin, buildIsStale, installPackages, needChromium, root } from "./setup.mjs";

installPackages();
needChromium();
rmSync(join(root, "test-results"), { recursive: true, force: true });

const counts = { passed: 0, failed: 0 };
/** What failed, said once more at the end, where it is found. */
const failures = [];
/**
 * What passed only when it was tried once more. A hiccup of the machine fails a file whose processes it hit, and tells
 * nothing of the product; but that it was so is said.
 */
const triedAgain = [];
function step(name, command, args, env = {}) {
  const begun = Date.now();
  console.log(`\n== ${name}`);
  const { status } = spawnSync(command, args, {
    cwd: root,
    stdio: "inherit",
    env: { ...process.env, ...env },
  });
  console.log(`   ${Math.round((Date.now() - begun) / 1000)} s`);
  return status === 0;
}
/** Runs commands one after the other, beside whatever else runs, and shows what they said when they are done. */
async function check(name, ...commands) {
  const begun = Date.now();
  let said = "";
  let ok = true;
  for (const [command, ...args] of commands) {
    const child = spawn(command, args, { cwd: root, stdio: ["ignore", "pipe", "pipe"] });
    for (const stream of [child.stdout, child.stderr])
      stream.setEncoding("utf8").on("data", (part) => (said += part));
    ok &&= (await new Promise((resolve) => child.once("close", resolve))) === 0;
  }
  console.log(`\n== ${name}\n${ok ? "" : said}   ${Math.round((Date.now() - begun) / 1000)} s`);
  if (ok) counts.passed++;
  else {
    counts.failed++;
    failures.push(name);
  }
}
/** Adds up a report of `{ passed, failures }`; a step that ended badly without naming a test counts as one failure. */
function count(name, ok, file, read) {
  const path = join(root, "test-results", file);
  const report = existsSync(path)
    ? read(JSON.parse(readFileSync(path, "utf8")))
    : { passed: 0, failures: ["it left no report"] };
  const failed = ok || report.failures.length ? report.failures : ["the run itself"];
  counts.passed += report.passed;
  counts.failed += failed.length;
  failures.push(...failed.map((one) => `${name}: ${one}`));
}

const readVitest = ({ numPassedTests, testResults }) => ({
  passed: numPassedTests,
  failures: testResults.flatMap(({ name, status, message, assertionResults }) => {
    const failed = assertionResults.filter((one) => one.status === "failed");
    // A file that could not be opened has no test of its own that failed.
    if (status === "failed" && failed.length === 0) return [`${relative(root, name)}: ${message}`];
    return failed.map((one) => `${relative(root, name)}: ${one.fullName}\n${one.failureMessages.join("\n")}`);
  }),
});

const specsOf = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specsOf)];
const readPlaywright = ({ suites }) => {
  const specs = suites.flatMap(specsOf);
  triedAgain.push(
    ...specs
      .filter((one) => one.ok && one.tests.some(({ status }) => status === "flaky"))
      .map(({ file, title }) => `${file}: ${title}`),
  );
  return {
    passed: specs.filter((one) => one.ok).length,
    failures: specs
      .filter((one) => !one.ok)
      .map(({ file, title, tests }) => {
        const errors = tests.flatMap((one) => one.results.flatMap((result) => result.errors));
        return `${file}: ${title}\n${errors.map((one) => one.message).join("\n")}`;
      }),
  };
};

await Promise.all([
  check("route types and types", [bin("react-router"), "typegen"], [process.execPath, "scripts/types.mjs"]),
  check("formatting", [bin("prettier"), "--check", "--log-level", "warn", "."]),
  check("lint", [bin("eslint"), "."]),
  check("build", ...(buildIsStale() ? [[bin("react-router"), "build"]] : [])),
]);
const unit = step("unit tests", bin("vitest"), ["run"]);
count("unit tests", unit, "unit.json", readVitest);
// The same once more on a libSQL server, several processes on each database.
if (hasLibsqlServer) {
  libsqlServer();
  const server = step("system tests on a libSQL server", bin("vitest"), ["run", "e2e"], {
    TEST_DATABASE: "server",
  });
  count("system tests on a libSQL server", server, "server.json", readVitest);
}
const browser = step("browser tests", bin("playwright"), ["test", "--retries", "1"]);
count("browser tests", browser, "e2e.json", readPlaywright);

if (triedAgain.length > 0) console.log(`\n== passed at the second try\n${triedAgain.join("\n")}`);
if (failures.length > 0) console.log(`\n== failed\n${failures.join("\n")}`);
console.log(`\n${counts.passed} passed, ${counts.failed} failed`);
process.exit(counts.failed === 0 ? 0 : 1);
