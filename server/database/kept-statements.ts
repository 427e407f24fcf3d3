import Libsql from "libsql";

// A file's client makes a statement anew for every call, asks it twice for the names of its columns, and learns by a failure
// whether it has any: together that takes longer than carrying it out. Statements are kept here with their connection, by
// their text. Of each row it then defines every value twice, as a property of its own, which takes eight times what it takes to
// give them in an array with names.

/** More texts than all of the application has; lists of any length, which make many, do not fill the memory. */
const MOST = 1_000;

/** What the client uses of a statement. */
interface Made {
  readonly reader: boolean;
  columns(): { name: string }[];
  raw(on: boolean): unknown;
  safeIntegers(on: boolean): unknown;
  all(values: unknown): unknown[];
}

const kept = new WeakMap<object, Map<string, Made>>();
const make = Libsql.prototype.prepare as (this: object, text: string) => Made;

/** What asks for or changes rows, or holds that together, is kept; anything else is rare, or changes what a kept one means. */
const asksOrChanges = /^\s*(select|with|insert|update|delete|begin|commit|rollback)\b/i;
const changesTables = /^\s*(create|alter|drop|attach|detach)\b/i;

/** How a statement without rows answers to being asked for them. */
const noRows = new Error("The statement has no rows.");

/** A statement as the client wants every one, which then says so at no cost. */
function ready(statement: Made): Made {
  statement.safeIntegers(true);
  statement.safeIntegers = () => statement;
  if (!statement.reader) {
    statement.raw = () => {
      throw noRows;
    };
    return statement;
  }
  statement.raw(true);
  statement.raw = () => statement;
  const columns = statement.columns();
  statement.columns = () => columns;
  const names = columns.map(({ name }, at) =>
    // The first of a name has it.
    columns.findIndex((one) => one.name === name) === at ? name : null,
  );
  const all = statement.all.bind(statement);
  statement.all = (values) => {
    const rows = all(values).map((one) => rowOf(one as unknown[], names));
    // The client would make its own rows of these.
    return Object.defineProperty(rows, "map", { value: () => rows.slice() });
  };
  return statement;
}

/** A row: its values in their order, and by the names of their columns. */
function rowOf(values: readonly unknown[], names: readonly (string | null)[]): unknown[] {
  const row = values.map(readable) as unknown[] & Record<string, unknown>;
  for (let at = 0; at < names.length; at++) {
    const name = names[at];
    if (name !== null && name !== undefined) row[name] = row[at];
  }
  return row;
}

/** A value as the client reads it. */
function readable(value: unknown): unknown {
  if (typeof value === "bigint") {
    if (value > Number.MAX_SAFE_INTEGER || value < Number.MIN_SAFE_INTEGER)
      throw new RangeError(`${value} is no whole number that can be told from its neighbours`);
    return Number(value);
  }
  return value instanceof Buffer ? value.buffer : value;
}

/** The statement of a text on a connection: the one that was made before, or a new one that is kept. */
function prepare(this: object, text: string): Made {
  let mine = kept.get(this);
  if (!mine) kept.set(this, (mine = new Map()));
  if (!asksOrChanges.test(text)) {
    if (changesTables.test(text)) mine.clear();
    return make.call(this, text);
  }
  const statement = mine.get(text) ?? ready(make.call(this, text));
  // Put at the end again, so that the first is the one that was not asked for the longest.
  mine.delete(text);
  mine.set(text, statement);
  const [oldest] = mine.keys();
  if (mine.size > MOST && oldest !== undefined) mine.delete(oldest);
  return statement;
}

/** Has the connections of this process keep their statements. */
export function keepStatements(): void {
  Libsql.prototype.prepare = prepare as unknown as typeof Libsql.prototype.prepare;
}
