import type { Client, InStatement } from "@libsql/client";
import { setTimeout as wait } from "node:timers/promises";
import { isConflict, messagesOf } from "./guard";
import type { Statement } from "./statement";

interface Unit {
  statements: InStatement[];
  since: number;
  done: (error?: unknown) => void;
}

/** Thrown when the database did not take a write for too long. Whether it happened is not known. */
export class DatabaseAway extends Error {
  readonly code = "database-away";
  constructor(cause: unknown) {
    super("The database does not answer.", { cause });
    this.name = "DatabaseAway";
  }
}

const MOST_STATEMENTS = 600;
const WAITS = [50, 100, 250, 500, 1_000];

export interface WriteQueueOptions {
  /** Across a network an answer can be lost: each commit carries a mark, by which it is known again. */
  remote: boolean;
  mark: () => string;
  now: () => number;
  /** How long a write is tried when the database is busy or away, milliseconds. */
  patience: number;
}

/**
 * The writes of this process, one commit at a time. What waits while one is under way goes together into the next: one
 * round trip and one sync to disk for all of it, and never two writers of this process in each other's way. Each unit is
 * whole or not at all; a unit whose constraint or guard fails is rejected by itself and the others go on.
 */
export class WriteQueue {
  readonly #waiting: Unit[] = [];
  #flushing = false;

  constructor(
    readonly client: Pick<Client, "batch">,
    readonly options: WriteQueueOptions,
  ) {}

  /** Milliseconds that the oldest write has been waiting; 0 when none is. */
  get oldest(): number {
    const [first] = this.#waiting;
    return first ? performance.now() - first.since : 0;
  }

  /** Writes statements as one unit. Rejects on a failed constraint, or with a `DatabaseAway`. */
  write(statements: readonly Statement[]): Promise<void> {
    if (statements.length === 0) return Promise.resolve();
    const unit = statements.map((one) => {
      const { sql, params } = one.toSQL();
      return { sql, args: params as never[] };
    });
    return new Promise((resolve, reject) => {
      this.#waiting.push({
        statements: unit,
        since: performance.now(),
        done: (error) => (error === undefined ? resolve() : reject(error as Error)),
      });
      if (this.#flushing) return;
      this.#flushing = true;
      // What this turn of the loop brings goes into the same commit.
      setImmediate(() => void this.#flush());
    });
  }

  async #flush(): Promise<void> {
    while (this.#waiting.length > 0) {
      let length = 0;
      const units: Unit[] = [];
      for (const unit of this.#waiting) {
        length += unit.statements.length;
        if (units.length > 0 && length > MOST_STATEMENTS) break;
        units.push(unit);
      }
      await this.#commit(units);
      this.#waiting.splice(0, units.length);
      // Let the sockets be read, so that the next commit is full.
      await new Promise((resolve) => setImmediate(resolve));
    }
    this.#flushing = false;
  }

  /**
   * Commits units together; one that fails is taken out and the others are tried again. It is told only when they are
   * in the database: what it was refused for may be among them, and its caller will look for it.
   */
  async #commit(all: readonly Unit[]): Promise<void> {
    const units = [...all];
    const refused: [Unit, unknown][] = [];
    const tell = (away?: unknown) => {
      for (const unit of units) unit.done(away);
      for (const [unit, why] of refused) unit.done(away ?? why);
    };
    while (units.length > 0) {
      try {
        await this.#carryOut(units);
        break;
      } catch (error) {
        if (units.length === 1 || error instanceof DatabaseAway) {
          if (error instanceof DatabaseAway) return tell(error);
          refused.push([units.pop() as Unit, error]);
          break;
        }
        const at = this.#unitOf(units, error);
        if (at < 0) {
          // Nobody can say which of them failed: each by itself.
          for (const unit of units.splice(0)) await this.#commit([unit]);
        } else {
          refused.push([units[at] as Unit, error]);
          units.splice(at, 1);
        }
      }
    }
    tell();
  }

  /** Which unit holds the statement that a batch failed at; -1 when the error does not say. */
  #unitOf(units: readonly Unit[], error: unknown): number {
    const at = (error as { statementIndex?: unknown }).statementIndex;
    if (typeof at !== "number") return -1;
    let left = at - (this.options.remote ? 1 : 0);
    if (left < 0) return -1;
    return units.findIndex(({ statements }) => (left -= statements.length) < 0);
  }

  /** One transaction, tried again while the database is busy or away; never carried out twice. */
  async #carryOut(units: readonly Unit[]): Promise<void> {
    const mark = this.options.remote ? this.options.mark() : null;
    const statements = units.flatMap((unit) => unit.statements);
    if (mark)
      statements.unshift({
        sql: "insert into write_marks (id, at) values (?, ?)",
        args: [mark, this.options.now()],
      });
    const end = performance.now() + this.options.patience;
    for (let attempt = 0; ; attempt++) {
      try {
        await this.client.batch(statements, "write");
        return;
      } catch (error) {
        // An earlier try whose answer was lost has been carried out.
        if (mark && messagesOf(error).includes("write_marks.id")) return;
        if (isConflict(error)) throw error;
        if (!isPassing(error)) throw error;
        if (performance.now() > end) throw new DatabaseAway(error);
        await wait(WAITS[Math.min(attempt, WAITS.length - 1)] ?? 0);
      }
    }
  }
}

/** Whether an error is of a kind that goes by itself: the database is busy, away, or did not answer in time. */
export function isPassing(error: unknown): boolean {
  return /SQLITE_BUSY|database is locked|fetch failed|time-?out|aborted|ECONN|EPIPE|UND_ERR|socket|SERVER_ERROR|HTTP_|stream|terminated|baton/i.test(
    `${messagesOf(error)} ${error instanceof Error ? error.name : ""}`,
  );
}
