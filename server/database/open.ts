import { type Client, createClient } from "@libsql/client";
import { drizzle, type LibSQLDatabase } from "drizzle-orm/libsql";
import { migrate } from "drizzle-orm/libsql/migrator";
import { randomUUID } from "node:crypto";
import { mkdirSync } from "node:fs";
import { dirname } from "node:path";
import { setTimeout as wait } from "node:timers/promises";
import { keepStatements } from "./kept-statements";
import { keepStreams } from "./kept-streams";
import { askServer } from "./over-http";
import * as schema from "./schema";
import type { Statement } from "./statement";
import { isPassing, WriteQueue } from "./writes";

export type { Statement } from "./statement";

export type Orm = LibSQLDatabase<typeof schema>;

export interface Database {
  orm: Orm;
  client: Client;
  /**
   * Writes the statements as one transaction: all of them or none. Rejects when a constraint or a guard fails (see
   * `isConflict`, `guardFailed`), and with a `DatabaseAway` when the database did not take it for too long.
   */
  write(statements: readonly Statement[]): Promise<void>;
  /** Whether the database answers a question in time and no write has been waiting for long. */
  answers(): Promise<boolean>;
  close(): void;
}

/** How long a write is tried while the database is busy or away. */
const PATIENCE = 15_000;
/** A write that has been waiting for so long means that the database is not well. */
const LONGEST_WRITE = 5_000;

/** Opens the database and brings its tables up to date. Safe for several processes starting at once. */
export async function openDatabase(url: string, migrations: string, now: () => number): Promise<Database> {
  const isFile = url.startsWith("file:");
  if (isFile) keepStatements();
  else keepStreams();
  if (isFile) mkdirSync(dirname(url.slice("file:".length)), { recursive: true });
  // On a file one connection, which the PRAGMAs hold for; calls on it are synchronous, so a second would not be faster.
  const open = () =>
    createClient({
      url,
      timeout: 5000,
      ...(isFile ? { concurrency: 1 } : { fetch: (request: Request) => askServer(request) }),
    } as Parameters<typeof createClient>[0]);
  const client = isFile ? open() : readsAgain(open());
  // Writes have a client of their own on a server, so that they never queue behind reads.
  const writing = isFile ? client : open();
  if (isFile) await setUpFile(client);
  const orm = drizzle(client, { schema, casing: "snake_case" });
  await migrateAlone(orm, migrations);
  const queue = new WriteQueue(writing, { remote: !isFile, mark: randomUUID, now, patience: PATIENCE });
  return {
    orm,
    client,
    write: (statements) => queue.write(statements),
    async answers() {
      if (queue.oldest > LONGEST_WRITE) return false;
      const asked = client.execute("select 1").then(
        () => true,
        () => false,
      );
      return Promise.race([asked, wait(2_000, false)]);
    },
    close: () => {
      client.close();
      if (writing !== client) writing.close();
    },
  };
}

async function setUpFile(client: Client): Promise<void> {
  // WAL for readers beside a writer; FULL because an acknowledged webhook must survive a power cut.
  await client.execute("PRAGMA journal_mode = WAL");
  await client.execute("PRAGMA synchronous = FULL");
  await client.execute("PRAGMA foreign_keys = ON");
  // 64 MB instead of 2, so that the upper pages of every index stay in memory with a million payments.
  await client.execute("PRAGMA cache_size = -64000");
}

const READ_AGAIN = [100, 400, 1_000];

/** Reading is safe to repeat: when a server could not be reached, it is asked again. */
function readsAgain(client: Client): Client {
  const again =
    <A extends unknown[], R>(ask: (...args: A) => Promise<R>, isRead: (...args: A) => boolean) =>
    async (...args: A): Promise<R> => {
      for (let attempt = 0; ; attempt++) {
        try {
          return await ask(...args);
        } catch (error) {
          const pause = READ_AGAIN[attempt];
          if (pause === undefined || !isRead(...args) || !isPassing(error)) throw error;
          await wait(pause);
        }
      }
    };
  const reads = (sql: string) => /^\s*(select|with)\b/i.test(sql);
  const textOf = (one: unknown): string =>
    typeof one === "string" ? one : Array.isArray(one) ? String(one[0]) : (one as { sql: string }).sql;
  const execute = again(client.execute.bind(client) as (...args: unknown[]) => Promise<never>, (one) =>
    reads(textOf(one)),
  );
  const batch = again(client.batch.bind(client) as (...args: unknown[]) => Promise<never>, (list) =>
    (list as unknown[]).every((one) => reads(textOf(one))),
  );
  return new Proxy(client, {
    get(target, name) {
      if (name === "execute") return execute;
      if (name === "batch") return batch;
      const value = Reflect.get(target, name) as unknown;
      return typeof value === "function" ? (value.bind(target) as unknown) : value;
    },
  });
}

/** Of several processes migrating at once all but one fail; the others find the work done when they try again. */
async function migrateAlone(orm: Orm, migrationsFolder: string) {
  for (let attempt = 1; ; attempt++) {
    try {
      return await migrate(orm, { migrationsFolder });
    } catch (error) {
      if (attempt === 8) throw error;
      await wait(150 * attempt);
    }
  }
}
