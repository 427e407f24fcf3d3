import * as yup from "yup";

/** No list is looked into that is longer, nothing that is nested deeper, and no more values than these in all. */
const LONGEST_LIST = 1_000;
const DEEPEST = 30;
const MOST_VALUES = 20_000;

/**
 * What is wrong with the shape of a value before anything is read of it: a list without end, nesting without end, or a
 * name that every object inherits, such as `toString`. Stops at the first.
 */
function oddShape(value: unknown, longest: number): { path: string; says: string } | null {
  const waiting: { at: string; depth: number; one: unknown }[] = [{ at: "", depth: 0, one: value }];
  let values = 0;
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const { at, depth, one } = next;
    values += 1;
    if (values > MOST_VALUES) return { path: "", says: `holds more than ${MOST_VALUES} values` };
    if (typeof one !== "object" || one === null) continue;
    if (depth > DEEPEST) return { path: at, says: `is nested deeper than ${DEEPEST}` };
    if (Array.isArray(one)) {
      if (one.length > longest)
        return { path: at, says: `may hold ${longest} at most, and holds ${one.length}` };
      one.forEach((inner, i) => waiting.push({ at: `${at}[${i}]`, depth: depth + 1, one: inner }));
      continue;
    }
    for (const [name, inner] of Object.entries(one)) {
      const path = at ? `${at}.${name}` : name;
      if (name in Object.prototype) return { path, says: "is not a name that is taken here" };
      waiting.push({ at: path, depth: depth + 1, one: inner });
    }
  }
  return null;
}

interface Options {
  strict?: boolean;
  stripUnknown?: boolean;
  /** No list may be longer. */
  longest?: number;
}

/**
 * Validates what came from outside by a Yup schema and returns it. Its shape is looked at first, and refused before
 * anything else reads it: Yup works through every item of a list, and stumbles over names that every object inherits.
 * Throws a Yup `ValidationError` with every complaint.
 */
export function validated<T>(schema: yup.Schema<T>, value: unknown, options: Options = {}): T {
  const { longest = LONGEST_LIST, strict, ...rest } = options;
  const odd = oddShape(value, longest);
  if (odd) throw new yup.ValidationError(`${odd.path || "it"} ${odd.says}`, value, odd.path);
  return schema.validateSync(value, {
    abortEarly: false,
    strict: strict ?? options.stripUnknown === undefined,
    ...rest,
  });
}
