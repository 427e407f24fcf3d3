/** So many revisions stand on a page. */
const PAGE = 30;

/** How many rows to read for a page of revisions: each is held against the one before it. */
export const REVISIONS_READ = PAGE + 1;

/** Revisions of one thing, the newest first, each with the one before it; `next` is the number that the next page ends before. */
export interface RevisionPage<Row> {
  rows: { row: Row; earlier: Row | null }[];
  next: number | null;
}

/** A page of revisions out of at most `REVISIONS_READ` rows, the newest first. */
export function revisionPage<Row extends { number: number }>(found: readonly Row[]): RevisionPage<Row> {
  const rows = found.slice(0, PAGE).map((row, i) => ({ row, earlier: found[i + 1] ?? null }));
  return { rows, next: found.length > PAGE ? (rows.at(-1)?.row.number ?? null) : null };
}
