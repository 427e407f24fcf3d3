import Papa from "papaparse";
import { countTotals } from "#core/costs/orders";
import { parseTyped } from "#core/money/money";
import { t } from "../words/pages/costs";

export type OrderReading = { ok: true; counted: [number, number][] } | { ok: false; says: string };

const names = /total|amount|sum|summe|betrag|gross|brutto/i;

/**
 * Reads order totals from a CSV (RFC 4180; commas, semicolons or tabs): the column whose heading speaks of a total, or
 * the only one that holds amounts. A row whose amount cannot be read refuses the file, and says which.
 */
export function readOrders(text: string, currency: string, locale: string): OrderReading {
  const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: true });
  const [head, ...rest] = data;
  if (!head) return { ok: false, says: t("the-file-is-empty") };
  const amount = (cell: string | undefined) => {
    const parsed = parseTyped((cell ?? "").replace(/[^\d.,-]/g, ""), currency, locale);
    // A file is not guessed at.
    return parsed.ok && !parsed.unclear ? parsed.money.amount : null;
  };
  const headed = head.findIndex((cell) => names.test(cell) && amount(cell) === null);
  const column =
    headed >= 0
      ? headed
      : head.findIndex((_, i) => rest.length > 0 && rest.every((row) => amount(row[i]) !== null));
  if (column < 0) return { ok: false, says: t("no-column-of-totals-was") };
  const rows = amount(head[column]) === null ? rest : data;
  const totals: number[] = [];
  for (const [i, row] of rows.entries()) {
    const total = amount(row[column]);
    if (total === null)
      return {
        ok: false,
        says: t("row-i-has-no-amount", {
          i: i + 1 + (rows === rest ? 1 : 0),
          currency,
          row: row[column] ?? "",
        }),
      };
    totals.push(total);
  }
  const counted = countTotals(totals);
  return counted.length > 0 ? { ok: true, counted } : { ok: false, says: t("the-file-holds-no-orders") };
}
