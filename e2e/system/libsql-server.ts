import { type ChildProcess, spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { libsqlServer } from "../../scripts/libsql-server.mjs";
import { freePort, untilAnswers } from "../../scripts/setup.mjs";

/** A libSQL server of a test's own, which can be halted, killed and started again on what it holds. */
export interface LibsqlServer {
  url: string;
  readonly pid: number | undefined;
  /** Has it hang: it takes connections and answers nothing. */
  halt(): void;
  go(): void;
  kill(): Promise<void>;
  start(): Promise<void>;
  end(): Promise<void>;
}

export async function openLibsqlServer(): Promise<LibsqlServer> {
  const place = mkdtempSync(join(tmpdir(), "zahlung-libsql-"));
  const port = await freePort();
  let child: ChildProcess | undefined;
  const kill = () =>
    new Promise<void>((resolve) => {
      if (!child || child.exitCode !== null || child.signalCode !== null) return resolve();
      child.once("exit", () => resolve());
      child.kill("SIGKILL");
    });
  const server: LibsqlServer = {
    url: `http://127.0.0.1:${port}`,
    get pid() {
      return child?.pid;
    },
    halt: () => void child?.kill("SIGSTOP"),
    go: () => void child?.kill("SIGCONT"),
    kill,
    async start() {
      const started = spawn(
        libsqlServer(),
        ["--db-path", place, "--http-listen-addr", `127.0.0.1:${port}`, "--disable-metrics"],
        { stdio: "ignore", env: { ...process.env, RUST_LOG: "off" } },
      );
      child = started;
      process.once("exit", () => started.kill("SIGKILL"));
      await untilAnswers("the libSQL server", `${server.url}/health`, started);
    },
    async end() {
      await kill();
      rmSync(place, { recursive: true, force: true });
    },
  };
  await server.start();
  return server;
}
