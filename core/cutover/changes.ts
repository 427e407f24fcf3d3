/** One difference between what live runs and what it would run: a path in the document, and both values. */
export interface Change {
  path: string;
  from: string | null;
  to: string | null;
}

/** Leaves of a document by dotted path; lists of plain values count as one leaf. */
function leaves(value: unknown, path: string, into: Map<string, string>): Map<string, string> {
  if (Array.isArray(value) && value.every((one) => typeof one !== "object")) {
    into.set(path, value.length ? value.join(", ") : "all");
  } else if (value !== null && typeof value === "object") {
    for (const [key, inner] of Object.entries(value)) leaves(inner, path ? `${path}.${key}` : key, into);
  } else if (value !== null && value !== undefined && value !== "") {
    into.set(path, String(value));
  }
  return into;
}

/** The exact changes between two documents, sorted by path. `from` null: new; `to` null: gone. */
export function changesBetween(before: unknown, after: unknown): Change[] {
  const from = leaves(before ?? {}, "", new Map());
  const to = leaves(after ?? {}, "", new Map());
  return [...new Set([...from.keys(), ...to.keys()])]
    .filter((path) => from.get(path) !== to.get(path))
    .sort()
    .map((path) => ({ path, from: from.get(path) ?? null, to: to.get(path) ?? null }));
}
