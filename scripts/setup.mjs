// What every command needs first: packages, a build that is not stale, Debian's Chromium for browser tests.
import { spawn, spawnSync } from "node:child_process";
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { createHash, randomInt } from "node:crypto";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

export const root = dirname(dirname(fileURLToPath(import.meta.url)));

/** Runs a command with its output shown; ends this process when it fails. */
export function run(command, args, env = {}) {
  const done = spawnSync(command, args, { cwd: root, stdio: "inherit", env: { ...process.env, ...env } });
  if (done.status !== 0) {
    console.error(`\n${command} ${args.join(" ")} failed.`);
    process.exit(done.status ?? 1);
  }
}

export const bin = (name) => join(root, "node_modules", ".bin", name);

/** Installs packages when they are missing or older than the lock file. */
export function installPackages() {
  const lock = join(root, "package-lock.json");
  const mark = join(root, "node_modules", ".installed");
  const hash = createHash("sha256").update(readFileSync(lock)).digest("hex");
  if (existsSync(mark) && readFileSync(mark, "utf8") === hash) return;
  console.log("Installing packages…");
  run("npm", ["ci", "--no-audit", "--no-fund", "--loglevel=error"]);
  writeFileSync(mark, hash);
}

function newest(path) {
  const at = statSync(path);
  if (!at.isDirectory()) return at.mtimeMs;
  return Math.max(
    0,
    ...readdirSync(path)
      .filter((name) => name !== "node_modules")
      .map((name) => newest(join(path, name))),
  );
}

/** Builds when a source is newer than the last build. */
export function buildIsStale() {
  const built = join(root, "build/server/index.js");
  const sources = [
    "app",
    "core",
    "server",
    "public",
    "vite.config.ts",
    "react-router.config.ts",
    "package-lock.json",
  ];
  const age = existsSync(built) ? statSync(built).mtimeMs : 0;
  return !sources.every((one) => newest(join(root, one)) < age);
}

export function buildIfStale() {
  if (!buildIsStale()) return;
  console.log("Building…");
  run(bin("react-router"), ["build"]);
}

/** Debian's Chromium: found, or installed by apt, or said clearly. */
export function needChromium() {
  if (existsSync("/usr/bin/chromium")) return;
  console.log("Installing Debian's Chromium for the browser tests…");
  const apt = (args) =>
    spawnSync("apt-get", args, {
      stdio: "inherit",
      env: { ...process.env, DEBIAN_FRONTEND: "noninteractive" },
    });
  if (apt(["update", "-qq"]).status === 0)
    apt(["install", "-y", "-qq", "--no-install-recommends", "chromium", "fonts-liberation"]);
  if (existsSync("/usr/bin/chromium")) return;
  console.error(
    "The browser tests need /usr/bin/chromium. Install it as root with: apt-get install chromium",
  );
  process.exit(1);
}

/** Whether a port can be listened at. */
export const portIsFree = (port) =>
  new Promise((resolve) => {
    const probe = createServer();
    probe.once("error", () => resolve(false));
    probe.listen(port, () => probe.close(() => resolve(true)));
  });

/** Below what the system gives out for connections, so that none of those takes a port before it is listened on. */
const PORTS = { from: 12_000, to: 32_000 };
const reserved = join(tmpdir(), "zahlung-ports");

/** Whether a process is alive. */
function lives(pid) {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === "EPERM";
  }
}

/** Reserves a port for this process among all that ask here; what one that has ended reserved is free again. */
function reserve(port) {
  const file = join(reserved, String(port));
  for (let attempt = 0; attempt < 2; attempt++) {
    try {
      writeFileSync(file, String(process.pid), { flag: "wx" });
      return true;
    } catch (error) {
      if (error.code !== "EEXIST") throw error;
      const holder = existsSync(file) ? Number(readFileSync(file, "utf8")) : 0;
      // Empty while its holder is still writing.
      if (holder === 0 || lives(holder)) return false;
      rmSync(file, { force: true });
    }
  }
  return false;
}

const canListen = (port) =>
  new Promise((resolve) => {
    const probe = createServer();
    probe.once("error", () => resolve(false));
    probe.listen(port, () => probe.close(() => resolve(true)));
  });

/** A port that is free, and that nobody else who asks here is given while this process lives. */
export async function freePort() {
  mkdirSync(reserved, { recursive: true });
  for (;;) {
    const port = randomInt(PORTS.from, PORTS.to);
    if (reserve(port) && (await canListen(port))) return port;
  }
}

/** Starts a process and gives it back; its output goes to `log` or is shown. */
export function start(name, command, args, env, log) {
  const child = spawn(command, args, {
    cwd: root,
    env: { ...process.env, ...env },
    stdio: ["ignore", log ?? "inherit", log ?? "inherit"],
  });
  child.once("exit", (code, signal) => {
    if (!child.ending && code !== 0) console.error(`${name} ended (${signal ?? code}).`);
  });
  return child;
}

/** Waits until an address answers, or throws after `ms`. */
export async function untilAnswers(name, address, child, ms = 180_000) {
  const end = Date.now() + ms;
  while (Date.now() < end) {
    if (child.exitCode !== null || child.signalCode !== null) throw new Error(`${name} did not start.`);
    try {
      // One that is never answered is asked again: it may have come while nobody listened yet.
      if ((await fetch(address, { signal: AbortSignal.timeout(5_000) })).ok) return;
    } catch {
      // Not yet.
    }
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error(`${name} did not answer at ${address}.`);
}

/** Ends processes and waits for them. */
export async function end(children) {
  await Promise.all(
    children.map(
      (child) =>
        new Promise((resolve) => {
          child.ending = true;
          if (child.exitCode !== null || child.signalCode !== null) return resolve();
          child.once("exit", resolve);
          child.kill("SIGTERM");
          setTimeout(() => child.kill("SIGKILL"), 10_000).unref();
        }),
    ),
  );
}

export const folder = (path) => {
  mkdirSync(path, { recursive: true });
  return path;
};
