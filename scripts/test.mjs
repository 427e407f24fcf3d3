// npm test: formatting, lint with the import rule, types, unit tests, build, browser tests; then one line of counts.
import { spawnSync } from "node:child_process";
import { existsSync, readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { bin, buildIfStale, installPackages, needChromium, root } from "./setup.mjs";

installPackages();
needChromium();
rmSync(join(root, "test-results"), { recursive: true, force: true });

const counts = { passed: 0, failed: 0 };
function step(name, command, args) {
  console.log(`\n== ${name}`);
  const { status } = spawnSync(command, args, { cwd: root, stdio: "inherit" });
  return status === 0;
}
function check(name, command, args) {
  if (step(name, command, args)) counts.passed++;
  else counts.failed++;
}
function count(ok, file, read) {
  const path = join(root, "test-results", file);
  const { passed, failed } = existsSync(path)
    ? read(JSON.parse(readFileSync(path, "utf8")))
    : { passed: 0, failed: 1 };
  counts.passed += passed;
  counts.failed += !ok && failed === 0 ? 1 : failed;
}

check("formatting", bin("prettier"), ["--check", "--log-level", "warn", "."]);
check("lint", bin("eslint"), ["."]);
check("route types", bin("react-router"), ["typegen"]);
check("types", bin("tsc"), []);
const unit = step("unit tests", bin("vitest"), ["run"]);
count(unit, "unit.json", (one) => ({
  passed: one.numPassedTests,
  failed: one.numFailedTests + (one.numFailedTestSuites && !one.numFailedTests ? 1 : 0),
}));
buildIfStale();
const browser = step("browser tests", bin("playwright"), ["test"]);
count(browser, "e2e.json", ({ stats }) => ({
  passed: stats.expected + stats.flaky,
  failed: stats.unexpected,
}));

console.log(`\n${counts.passed} passed, ${counts.failed} failed`);
process.exit(counts.failed === 0 ? 0 : 1);
