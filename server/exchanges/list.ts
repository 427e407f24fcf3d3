import { and, eq, type SQL, sql } from "drizzle-orm";
import { isMode, type Mode } from "#core/mode";
import type { Exchange } from "../database/rows";
import { connectionStorefronts, exchanges, payments } from "../database/schema";
import { walk } from "../database/walk";
import type { Runtime } from "../runtime";

/** What exchanges are asked for; what is empty does not matter. Times are milliseconds since the epoch. */
export interface ExchangeFilter {
  connection: string | null;
  mode: Mode | null;
  operation: string | null;
  result: "good" | "bad" | null;
  from: number | null;
  to: number | null;
}

/** An exchange with the order that it is about. */
export type ListedExchange = Exchange & { order: string | null };

const PAGE = 40;
const MOST_EXPORTED = 1_000;

/** Reads a filter from an address; what is malformed there does not filter. */
export function exchangeFilter(search: URLSearchParams): ExchangeFilter {
  const day = (name: string, plus: number) => {
    const at = Date.parse(`${search.get(name) ?? ""}T00:00:00Z`);
    return Number.isNaN(at) ? null : at + plus;
  };
  const [mode, result] = [search.get("mode"), search.get("result")];
  return {
    connection: search.get("connection") || null,
    mode: isMode(mode) ? mode : null,
    operation: search.get("operation") || null,
    result: result === "good" || result === "bad" ? result : null,
    from: day("from", 0),
    to: day("to", 86_400_000 - 1),
  };
}

/** The conditions of a filter, other than its days. */
function conditionsOf({ mode, operation, result }: ExchangeFilter): SQL[] {
  return [
    ...(mode ? [eq(exchanges.mode, mode)] : []),
    ...(operation ? [eq(exchanges.operation, operation)] : []),
    ...(result ? [eq(exchanges.ok, result === "good")] : []),
  ];
}

/**
 * The newest exchanges with a storefront's providers. Those of each connection come by its own index and are put together
 * here, so that nothing is sorted in the database; all are walked along by their time.
 */
async function newest(
  rt: Runtime,
  storefrontId: string,
  filter: ExchangeFilter,
  most: number,
  before?: { at: number; id: string },
): Promise<ListedExchange[]> {
  const { connection, from, to } = filter;
  const conditions = and(
    eq(exchanges.connectionId, connectionStorefronts.connectionId),
    ...conditionsOf(filter),
    before && sql`(${exchanges.at}, ${exchanges.id}) < (${before.at}, ${before.id})`,
  );
  const greatest = Math.min(to ?? Infinity, before?.at ?? Infinity);
  const path = {
    ...{ table: exchanges, by: [exchanges.at] },
    ...{ least: from, greatest: Number.isFinite(greatest) ? greatest : null },
  };
  const rows = await walk(rt, path, most, async (stretch, left) => {
    const found = await rt.db.orm
      .select({ exchange: exchanges, order: payments.orderReference })
      .from(connectionStorefronts)
      .innerJoin(
        exchanges,
        sql`${exchanges.id} in (select ${exchanges.id} from ${exchanges} where ${and(conditions, stretch)}
          order by ${exchanges.at} desc, ${exchanges.id} desc limit ${left})`,
      )
      .leftJoin(payments, eq(payments.id, exchanges.paymentId))
      .where(
        and(
          eq(connectionStorefronts.storefrontId, storefrontId),
          ...(connection ? [eq(connectionStorefronts.connectionId, connection)] : []),
        ),
      );
    return found
      .map((row): ListedExchange => ({ ...row.exchange, order: row.order }))
      .sort((a, b) => b.at - a.at || (a.id < b.id ? 1 : -1));
  });
  return rows.slice(0, most);
}

/** A page of exchanges with a storefront's providers, newest first, and the cursor of the next page. */
export async function listExchanges(
  rt: Runtime,
  storefrontId: string,
  filter: ExchangeFilter,
  cursor: string | null,
): Promise<{ rows: ListedExchange[]; next: string | null }> {
  const [, at, id] = /^(\d{1,15})-([\w]{1,60})$/.exec(cursor ?? "") ?? [];
  const before = at && id ? { at: Number(at), id } : undefined;
  const rows = await newest(rt, storefrontId, filter, PAGE + 1, before);
  const last = rows.length > PAGE ? rows[PAGE - 1] : undefined;
  return { rows: rows.slice(0, PAGE), next: last ? `${last.at}-${last.id}` : null };
}

/** The newest exchanges that the filter lets through, for an export. */
export const exportedExchanges = (
  rt: Runtime,
  storefrontId: string,
  filter: ExchangeFilter,
): Promise<ListedExchange[]> => newest(rt, storefrontId, filter, MOST_EXPORTED);
