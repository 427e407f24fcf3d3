import type { Express } from "express";
import { mkdirSync, readFileSync, renameSync, writeFileSync } from "node:fs";
import { dirname } from "node:path";
import type { Server } from "node:http";

/** Writing takes no more than this share of the time, however much there is to write. */
const SHARE = 0.05;

/** State kept in one JSON file, written shortly after each change and at the end. */
export class Shelf<T> {
  #timer: NodeJS.Timeout | undefined;
  #took = 0;
  readonly state: T;

  constructor(
    readonly file: string | undefined,
    empty: () => T,
  ) {
    this.state = empty();
    if (!file) return;
    try {
      this.state = JSON.parse(readFileSync(file, "utf8")) as T;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== "ENOENT") throw error;
    }
  }

  changed() {
    this.#timer ??= setTimeout(() => this.write(), Math.max(150, this.#took / SHARE)).unref();
  }

  write() {
    clearTimeout(this.#timer);
    this.#timer = undefined;
    if (!this.file) return;
    const begun = performance.now();
    mkdirSync(dirname(this.file), { recursive: true });
    writeFileSync(this.file + ".new", JSON.stringify(this.state));
    renameSync(this.file + ".new", this.file);
    this.#took = performance.now() - begun;
  }
}

/** Listens on `PORT`, says so, and ends cleanly on SIGTERM and SIGINT. */
export function listen(app: Express, name: string, fallback: number, atEnd: () => void): Server {
  const port = Number(process.env.PORT ?? fallback);
  const server = app.listen(port, "127.0.0.1", (error?: Error) => {
    if (error) {
      console.error(`${name}: ${error.message}`);
      process.exit(1);
    }
    const address = server.address();
    console.log(`${name} listens on ${typeof address === "object" ? address?.port : port}`);
  });
  // Longer than any caller keeps a connection, so that none is closed while a call is on its way.
  server.keepAliveTimeout = 75_000;
  const end = () => {
    atEnd();
    server.closeAllConnections();
    server.close(() => process.exit(0));
  };
  process.once("SIGTERM", end);
  process.once("SIGINT", end);
  return server;
}
