/** A field that two people changed, each otherwise, by its dotted path. A value that is not there is undefined. */
export interface Conflict {
  path: string;
  base: unknown;
  mine: unknown;
  theirs: unknown;
}

export interface Merged<T> {
  /** All that one side alone changed is in it; where both did, it is mine. */
  merged: T;
  conflicts: Conflict[];
  /** Paths that they alone changed, which are taken in. */
  takenIn: string[];
}

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);
const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/**
 * Puts together what two people made of the same thing, field by field: `mine` and `theirs` both began with `base`.
 * Records are looked into; everything else, lists too, is one field. A three-way merge.
 */
export function mergeEdits<T>(base: T, mine: T, theirs: T): Merged<T> {
  const conflicts: Conflict[] = [];
  const takenIn: string[] = [];
  const merge = (path: string, was: unknown, own: unknown, other: unknown): unknown => {
    if (same(own, other) || same(was, other)) return own;
    if (isRecord(own) && isRecord(other)) {
      const before = isRecord(was) ? was : {};
      const names = [...new Set([...Object.keys(own), ...Object.keys(other)])];
      return Object.fromEntries(
        names.flatMap((name) => {
          const at = path ? `${path}.${name}` : name;
          const value = merge(at, before[name], own[name], other[name]);
          return value === undefined ? [] : [[name, value]];
        }),
      );
    }
    if (same(was, own)) {
      takenIn.push(path);
      return other;
    }
    conflicts.push({ path, base: was, mine: own, theirs: other });
    return own;
  };
  return { merged: merge("", base, mine, theirs) as T, conflicts, takenIn };
}

/** Whether two values say the same; a field that is undefined is none, and the order of fields says nothing. */
export function saysTheSame(one: unknown, other: unknown): boolean {
  if (!isRecord(one) || !isRecord(other))
    return Array.isArray(one) && Array.isArray(other)
      ? one.length === other.length && one.every((value, i) => saysTheSame(value, other[i]))
      : one === other;
  return [...new Set([...Object.keys(one), ...Object.keys(other)])].every((name) =>
    saysTheSame(one[name], other[name]),
  );
}

/** The same with the value at a path put in; undefined takes it out. */
export function putAt<T>(value: T, path: string, inner: unknown): T {
  const [name = "", ...rest] = path.split(".");
  const record: Record<string, unknown> = isRecord(value) ? value : {};
  const next = rest.length > 0 ? putAt(record[name], rest.join("."), inner) : inner;
  const { [name]: _, ...others } = record;
  return (next === undefined ? others : { ...record, [name]: next }) as T;
}
