import * as yup from "yup";
import { type Problem, problem, type Reading, type SaidValues } from "./said";

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

/**
 * Reads what came from outside by a Yup schema: its value, or every complaint with the path of its field. A complaint
 * of a test of one's own is called by the test's name.
 */
export function readAs<T>(schema: yup.Schema<T>, value: unknown, options: Options = {}): Reading<T> {
  try {
    return { ok: true, value: validated(schema, value, options) };
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error;
    return { ok: false, problems: complaintsOf(error).map(complaint) };
  }
}

export const complaintsOf = (error: yup.ValidationError) => (error.inner.length > 0 ? error.inner : [error]);

const complaintCodes: Readonly<Record<string, (limit: SaidValues) => Problem>> = {
  required: () => problem("", "reading.missing"),
  optionality: () => problem("", "reading.missing"),
  nullable: () => problem("", "reading.missing"),
  min: (limit) => problem("", "reading.too-little", limit),
  max: (limit) => problem("", "reading.too-much", limit),
  integer: () => problem("", "reading.not-whole"),
  country: () => problem("", "reading.no-country"),
  currency: () => problem("", "reading.no-currency"),
  amounts: () => problem("", "reading.no-amount"),
};

function complaint(error: yup.ValidationError): Problem {
  const { type = "", path = "", params = {} } = error;
  const limit = params[type];
  const told = complaintCodes[type]?.({ limit: typeof limit === "number" ? limit : 0 });
  return { ...(told ?? problem("", "reading.malformed")), path };
}
