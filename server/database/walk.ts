import { and, type SQL, sql } from "drizzle-orm";
import type { SQLiteColumn, SQLiteTable } from "drizzle-orm/sqlite-core";
import { setImmediate as turn } from "node:timers/promises";
import type { Runtime } from "../runtime";

/** The order of an index that a list is read in. */
export interface Walk {
  table: SQLiteTable;
  /** What it goes by. An index must have these columns, in this order, after those that `within` holds to one value. */
  by: readonly SQLiteColumn[];
  upwards?: boolean;
  /** What the index holds to one value each. */
  within?: SQL;
  /** The least and the greatest of the first column in `by`, both included. */
  least?: number | string | null;
  greatest?: number | string | null;
  /**
   * Where to go on: the id of the last row of the page before, or what it has in `by`. Null at the beginning, where it begins
   * as well if there is no such row (any more).
   */
  after?: string | readonly unknown[] | null;
  /** How many rows the first step looks at. */
  first?: number;
  /** Whether `read` wants all that it is given: then one step is enough. */
  all?: boolean;
}

/** Mostly a page is found within the first step. The longest one takes about a hundredth of a second. */
const FIRST_STEP = 1_000;
const LONGEST_STEP = 4_000;

/** Where texts that begin with this one end: no text that can be typed comes after it. */
export const endOf = (beginning: string) => `${beginning}\u{10ffff}`;

const listed = (parts: readonly unknown[]) =>
  sql.join(
    parts.map((one) => sql`${one}`),
    sql`, `,
  );

/**
 * Rows in the order of an index, of which few may be wanted. `read` reads at most `most` of those that it wants within a
 * stretch, in the order of the walk. What is rare among very many is looked for stretch by stretch, and others have their
 * turn in between: reading a file keeps everything else in this process waiting. `count` says how many of `most` rows make
 * up, where one stands for several.
 */
export async function walk<Row>(
  { db }: Pick<Runtime, "db">,
  { table, by, upwards = false, within, least, greatest, after, first = FIRST_STEP, all = false }: Walk,
  most: number,
  read: (stretch: SQL | undefined, most: number) => PromiseLike<Row[]>,
  count: (rows: readonly Row[]) => number = (rows) => rows.length,
): Promise<Row[]> {
  const key = sql`(${listed(by)})`;
  // SQLite puts numbers before texts, and both before a blob.
  const lowest = by.map((one) => (one.dataType === "string" ? sql`''` : sql`-9e15`));
  const highest = by.map(() => sql`x''`);
  const bottom = listed(least == null ? lowest : [sql`${least}`, ...lowest.slice(1)]);
  const top = listed(greatest == null ? highest : [sql`${greatest}`, ...highest.slice(1)]);
  const [begin, end] = upwards ? [bottom, top] : [top, bottom];
  const [beyond, fromOn, upTo] = (upwards ? [">", ">=", "<="] : ["<", "<=", ">="]).map((one) => sql.raw(one));
  const order = listed(by.map((one) => sql`${one} ${sql.raw(upwards ? "asc" : "desc")}`));
  // SQLite narrows by one bound on each side: a second one would have it go through all that the first one lets through.
  const stretch = (from: SQL | null, until: SQL) =>
    and(
      within,
      from ? sql`${key} ${beyond} (${from})` : sql`${key} ${fromOn} (${begin})`,
      sql`${key} ${upTo} (${until})`,
    );
  const edge = (from: SQL | null, step: number) =>
    sql`select ${listed(by)} from ${table} where ${stretch(from, end)} order by ${order} limit 1 offset ${step - 1}`;
  // What a libSQL server answers is like an array, and is none.
  const keyFrom = async (query: SQL) => {
    const [row] = await db.orm.values<unknown[]>(query);
    return row ? listed(Array.from(row)) : null;
  };
  const edgeAfter = (from: SQL | null, step: number) => keyFrom(edge(from, step));

  const start =
    typeof after === "string"
      ? await keyFrom(sql`select ${listed(by)} from ${table} where id = ${after}`)
      : after
        ? listed(after)
        : null;
  if (all) return read(stretch(start, end), most);
  const found = [
    ...(await read(
      stretch(start, sql`select * from (${edge(start, first)}) union all select ${end} limit 1`),
      most,
    )),
  ];
  let from = count(found) < most ? await edgeAfter(start, first) : null;
  for (let step = first; from !== null;) {
    await turn();
    step = Math.min(step * 2, LONGEST_STEP);
    const until = await edgeAfter(from, step);
    found.push(...(await read(stretch(from, until ?? end), most - count(found))));
    from = count(found) < most ? until : null;
  }
  return found;
}

/**
 * A page of a search: first the few rows that are known by what was typed, then those that are walked along. `after` is the
 * id of the last one seen, among either; `next` is that of the next page. `read` goes on after an id, without the ids that
 * are known.
 */
export async function knownFirst<Row extends { id: string }>(
  known: readonly Row[],
  after: string | null,
  most: number,
  read: (after: string | null, most: number, without: readonly string[]) => PromiseLike<Row[]>,
): Promise<{ rows: Row[]; next: string | null }> {
  const at = known.findIndex(({ id }) => id === after);
  const among = after === null || at >= 0;
  const rows = among ? known.slice(at + 1, at + 2 + most) : [];
  if (rows.length <= most) {
    const ids = known.map(({ id }) => id);
    rows.push(...(await read(among ? null : after, most + 1 - rows.length, ids)));
  }
  const page = rows.slice(0, most);
  return { rows: page, next: rows.length > most ? (page.at(-1)?.id ?? null) : null };
}
