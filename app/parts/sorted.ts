/**
 * The rows of a short list in the order that an address asks for (a field's name, with a minus in front downwards), and as they
 * came where it asks for none that there is. Texts are ordered as people read them, ten after nine.
 */
export function sortedBy<R>(
  rows: readonly R[],
  sort: string | null,
  by: Readonly<Record<string, (row: R) => string | number>>,
): R[] {
  const field = sort?.replace(/^-/, "") ?? "";
  const read = Object.hasOwn(by, field) ? by[field] : undefined;
  if (!read) return [...rows];
  const down = sort?.startsWith("-") ? -1 : 1;
  const collator = new Intl.Collator("en", { numeric: true });
  return rows.toSorted((one, other) => {
    const [a, b] = [read(one), read(other)];
    return down * (typeof a === "number" && typeof b === "number" ? a - b : collator.compare(`${a}`, `${b}`));
  });
}
