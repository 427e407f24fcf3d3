// Building a statement costs more than carrying it out. What is asked for all day is built once, with places for values.
import { fillPlaceholders, getTableColumns, sql } from "drizzle-orm";
import type { SQLiteTable } from "drizzle-orm/sqlite-core";
import type { Database, Orm } from "./open";
import type { Statement } from "./statement";

/**
 * A query that is built once for each database: `build` makes it with `sql.placeholder(…)` where values go, and ends with
 * `.prepare()`.
 */
export function prepared<Query>(build: (orm: Orm) => Query): (db: Pick<Database, "orm">) => Query {
  const built = new WeakMap<Orm, Query>();
  return ({ orm }) => {
    const known = built.get(orm);
    if (known) return known;
    const query = build(orm);
    built.set(orm, query);
    return query;
  };
}

/** The texts of inserts, by table and by which of its columns are given. */
const inserts = new WeakMap<SQLiteTable, Map<string, { sql: string; params: unknown[] }>>();

/** The statement that inserts one row. */
export function insertRow<Table extends SQLiteTable>(
  { orm }: Pick<Database, "orm">,
  table: Table,
  row: Table["$inferInsert"],
): Statement {
  const columns = getTableColumns(table);
  // Null is what is written for a column that is not given, unless it has a default of its own.
  const given = Object.entries(row).filter(
    ([name, value]) => value !== undefined && (value !== null || columns[name]?.hasDefault),
  );
  if (given.some(([, value]) => value === null)) return orm.insert(table).values(row);
  const known = inserts.get(table) ?? new Map<string, { sql: string; params: unknown[] }>();
  inserts.set(table, known);
  const key = given.map(([name]) => name).join();
  let text = known.get(key);
  if (!text) {
    const places = Object.fromEntries(given.map(([name]) => [name, sql.placeholder(name)]));
    text = orm
      .insert(table)
      .values(places as Table["$inferInsert"])
      .toSQL();
    known.set(key, text);
  }
  const { sql: words, params } = text;
  return { toSQL: () => ({ sql: words, params: fillPlaceholders(params, row as Record<string, unknown>) }) };
}
