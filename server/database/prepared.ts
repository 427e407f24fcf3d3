// Building a statement costs more than carrying it out. What is asked for all day is built once, with places for values.
import { and, eq, fillPlaceholders, getTableColumns, type SQL, sql } from "drizzle-orm";
import type { RunnableQuery } from "drizzle-orm/runnable-query";
import type { SQLiteColumn, SQLiteTable } from "drizzle-orm/sqlite-core";
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

/** A query for the rows of a table that have given values in some of its columns, in an order. */
export function rowsBy<Table extends SQLiteTable, Name extends keyof Table["$inferSelect"] & string>(
  table: Table,
  by: readonly Name[],
  ...order: (SQLiteColumn | SQL)[]
) {
  type Rows = Built<Table["$inferSelect"][], Pick<Table["$inferSelect"], Name>>;
  const columns = getTableColumns(table) as Record<string, SQLiteColumn>;
  return prepared((orm) => {
    const given = by.map((name) => eq(columns[name] as SQLiteColumn, sql.placeholder(name)));
    const rows = orm
      .select()
      .from(table as SQLiteTable)
      .where(and(...given));
    return rows.orderBy(...order).prepare() as unknown as Rows;
  });
}

interface Built<Result, Values = Record<string, unknown>> {
  getQuery(): { sql: string; params: unknown[] };
  all(values?: Values): Promise<Result>;
  mapResult(response: unknown, isFromBatch?: boolean): unknown;
}

/** A query that is built already, with its values, as one of several that are read as one. */
export function within<Result, Values extends Record<string, unknown>>(
  query: Built<Result, Values>,
  values: Values,
) {
  const { sql: text, params } = query.getQuery();
  const ready = {
    getQuery: () => ({ sql: text, params: fillPlaceholders(params, values) }),
    mapResult: (response: unknown, isFromBatch?: boolean) => query.mapResult(response, isFromBatch),
  };
  // Of a query, `batch` asks for no more than what it is made of.
  return { _prepare: () => ready } as unknown as RunnableQuery<Result, "sqlite">;
}

interface Text {
  sql: string;
  params: unknown[];
}
/** The texts of statements that write one row, by table and by which of its columns are given. */
const [inserts, updates] = [
  new WeakMap<SQLiteTable, Map<string, Text>>(),
  new WeakMap<SQLiteTable, Map<string, Text>>(),
];

/** A text that is made once for a table and what of it is given. */
function madeOnce(all: typeof inserts, table: SQLiteTable, given: readonly string[], make: () => Text): Text {
  const known = all.get(table) ?? new Map<string, Text>();
  all.set(table, known);
  const key = given.join();
  const text = known.get(key) ?? make();
  known.set(key, text);
  return text;
}

const withValues = ({ sql: words, params }: Text, row: Record<string, unknown>): Statement => ({
  toSQL: () => ({ sql: words, params: fillPlaceholders(params, row) }),
});

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
  const names = given.map(([name]) => name);
  const text = madeOnce(inserts, table, names, () =>
    orm
      .insert(table)
      .values(Object.fromEntries(names.map((name) => [name, sql.placeholder(name)])) as Table["$inferInsert"])
      .toSQL(),
  );
  return withValues(text, row);
}

/** The statement that gives the row of an id other values. What is left out stays. */
export function updateRow<Table extends SQLiteTable & { id: SQLiteColumn }>(
  { orm }: Pick<Database, "orm">,
  table: Table,
  id: string,
  change: Partial<Table["$inferInsert"]>,
): Statement {
  const given = Object.entries(change).filter(([name, value]) => value !== undefined && name !== "id");
  // Null is written as it stands: a place for it would be taken for a value of the column's own kind.
  const names = given.map(([name, value]) => (value === null ? `-${name}` : name));
  const text = madeOnce(updates, table, names, () =>
    orm
      .update(table)
      .set(
        Object.fromEntries(
          given.map(([name, value]) => [name, value === null ? null : sql.placeholder(name)]),
        ) as Partial<Table["$inferInsert"]>,
      )
      .where(eq(table.id, sql.placeholder("id")))
      .toSQL(),
  );
  return withValues(text, { ...change, id });
}
