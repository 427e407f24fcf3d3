import Papa from "papaparse";

/** A table as a file for spreadsheets: no cell of it is taken for a formula (RFC 4180, UTF-8 with a mark). */
export function csvResponse(
  name: string,
  head: readonly string[],
  rows: readonly (readonly (string | number | null)[])[],
): Response {
  const text = Papa.unparse(
    { fields: [...head], data: rows.map((row) => row.map((cell) => cell ?? "")) },
    { escapeFormulae: true },
  );
  return new Response(`\ufeff${text}`, {
    headers: {
      "content-type": "text/csv; charset=utf-8",
      "content-disposition": `attachment; filename="${name}.csv"`,
      "cache-control": "no-store",
    },
  });
}
