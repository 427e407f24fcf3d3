import { createClient, type Client } from "@libsql/client";
import { drizzle, type LibSQLDatabase } from "drizzle-orm/libsql";
import { migrate } from "drizzle-orm/libsql/migrator";
import { mkdirSync } from "node:fs";
import { dirname } from "node:path";
import { setTimeout as wait } from "node:timers/promises";
import * as schema from "./schema";

export type Orm = LibSQLDatabase<typeof schema>;

/** Anything Drizzle can turn into SQL with its arguments. */
export interface Statement {
  toSQL(): { sql: string; params: unknown[] };
}

export interface Database {
  orm: Orm;
  client: Client;
  /**
   * Runs the statements as one write transaction in one round trip: all of them or none. Returns the number of
   * rows each changed. Throws when a constraint fails; see `isConflict`.
   */
  write(statements: readonly Statement[]): Promise<number[]>;
  close(): void;
}

/** Opens the database and brings its tables up to date. Safe for several processes starting at once. */
export async function openDatabase(url: string, migrations: string): Promise<Database> {
  const isFile = url.startsWith("file:");
  if (isFile) mkdirSync(dirname(url.slice("file:".length)), { recursive: true });
  const client = createClient({ url, timeout: 5000 } as Parameters<typeof createClient>[0]);
  if (isFile) {
    // WAL for readers beside a writer; FULL because an acknowledged webhook must survive a power cut.
    await client.execute("PRAGMA journal_mode = WAL");
    await client.execute("PRAGMA synchronous = FULL");
    await client.execute("PRAGMA foreign_keys = ON");
    // 64 MB instead of 2, so that the upper pages of every index stay in memory with a million payments.
    await client.execute("PRAGMA cache_size = -64000");
  }
  const orm = drizzle(client, { schema, casing: "snake_case" });
  await migrateAlone(orm, migrations);
  return {
    orm,
    client,
    async write(statements) {
      const batch = statements.map((one) => {
        const { sql, params } = one.toSQL();
        return { sql, args: params as never[] };
      });
      const results = await client.batch(batch, "write");
      return results.map((result) => result.rowsAffected);
    },
    close: () => client.close(),
  };
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

/** Whether a write failed on a constraint (unique, not null, check), and so changed nothing. */
export function isConflict(error: unknown): boolean {
  for (let one: unknown = error; one instanceof Error; one = one.cause) {
    if (
      /SQLITE_CONSTRAINT|constraint failed/i.test(`${(one as { code?: string }).code ?? ""} ${one.message}`)
    ) {
      return true;
    }
  }
  return false;
}
