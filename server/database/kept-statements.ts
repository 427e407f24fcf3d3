import Libsql from "libsql";

// A file's client makes a statement anew for every call, asks it twice for the names of its columns, and learns by a failure
// whether it has any: together that takes longer than carrying it out. Statements are kept here with their connection, by
// their text.

/** More texts than all of the application has; lists of any length, which make many, do not fill the memory. */
const MOST = 1_000;

/** What the client uses of a statement. */
interface Made {
  readonly reader: boolean;
  columns(): unknown;
  raw(on: boolean): unknown;
  safeIntegers(on: boolean): unknown;
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
  return statement;
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
