import type { FieldProblem, Order } from "./order";

/** A part of an order by what was ordered: so much of each line (by its place, from 0), and the shipping or not. */
export interface ByLines {
  lines: { line: number; quantity: number }[];
  shipping: boolean;
}

export type LinesSum = { ok: true; amount: number } | { ok: false; problems: FieldProblem[] };

/**
 * What a part of an order comes to, in minor units, after what was counted `before` it. Tax that is not in the prices is
 * shared by them. Whatever the parts and their order, all of them together come to the order's total exactly.
 */
export function sumOfLines(order: Order, wanted: ByLines, before: readonly ByLines[]): LinesSum {
  const problems: FieldProblem[] = [];
  const problem = (pointer: string, code: string, detail: string) => problems.push({ pointer, code, detail });
  const used = (line: number) => before.reduce((sum, one) => sum + quantityIn(one, line), 0);
  const seen = new Set<number>();
  wanted.lines.forEach(({ line, quantity }, i) => {
    const ordered = order.lines[line];
    if (!ordered)
      return problem(`/lines/${i}/line`, "unknown-line", `the order has ${order.lines.length} lines`);
    if (seen.has(line)) return problem(`/lines/${i}/line`, "named-twice", "name each line once");
    seen.add(line);
    const left = round3(ordered.quantity - used(line));
    if (quantity > left)
      problem(`/lines/${i}/quantity`, "more-than-left", `${left} of ${ordered.quantity} is left`);
  });
  if (wanted.shipping && before.some((one) => one.shipping))
    problem("/shipping", "more-than-left", "the shipping is counted already");
  if (problems.length > 0) return { ok: false, problems };
  const all = [...before, wanted];
  const amount = withTax(order, goodsOf(order, all)) - withTax(order, goodsOf(order, before));
  if (amount <= 0) {
    problem("/lines", "comes-to-nothing", "comes to nothing that could be moved");
    return { ok: false, problems };
  }
  return { ok: true, amount };
}

const quantityIn = ({ lines }: ByLines, line: number): number =>
  lines.reduce((sum, one) => sum + (one.line === line ? one.quantity : 0), 0);

/** Quantities have three decimals. */
const round3 = (quantity: number): number => Math.round(quantity * 1000) / 1000;

/** What the parts come to by the order's prices. */
function goodsOf(order: Order, parts: readonly ByLines[]): number {
  const lines = order.lines.map(({ unit, quantity, total }, line) => {
    const counted = round3(parts.reduce((sum, one) => sum + quantityIn(one, line), 0));
    return counted === quantity ? total : Math.round(unit * counted);
  });
  const shipping = parts.some((one) => one.shipping) ? order.shipping : 0;
  return lines.reduce((sum, one) => sum + one, 0) + shipping;
}

function withTax({ lines, shipping, tax, taxIncluded }: Order, goods: number): number {
  if (taxIncluded) return goods;
  const all = lines.reduce((sum, one) => sum + one.total, 0) + shipping;
  return all === 0 ? goods : goods + Math.round((tax * goods) / all);
}
