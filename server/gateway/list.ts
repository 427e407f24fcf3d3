import { and, desc, eq, gte, inArray, lt, lte, or, type SQL } from "drizzle-orm";
import { isMode, type Mode } from "#core/mode";
import { connectionStorefronts, exchanges } from "../database/schema";
import type { Runtime } from "../runtime";

export type Exchange = typeof exchanges.$inferSelect;

/** What exchanges are asked for; what is empty does not matter. Times are milliseconds since the epoch. */
export interface ExchangeFilter {
  connection: string | null;
  mode: Mode | null;
  operation: string | null;
  result: "good" | "bad" | null;
  from: number | null;
  to: number | null;
}

const PAGE = 50;
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

function conditionsOf(rt: Runtime, storefrontId: string, filter: ExchangeFilter): SQL[] {
  const own = rt.db.orm
    .select({ id: connectionStorefronts.connectionId })
    .from(connectionStorefronts)
    .where(eq(connectionStorefronts.storefrontId, storefrontId));
  return [
    inArray(exchanges.connectionId, own),
    ...(filter.connection ? [eq(exchanges.connectionId, filter.connection)] : []),
    ...(filter.mode ? [eq(exchanges.mode, filter.mode)] : []),
    ...(filter.operation ? [eq(exchanges.operation, filter.operation)] : []),
    ...(filter.result ? [eq(exchanges.ok, filter.result === "good")] : []),
    ...(filter.from !== null ? [gte(exchanges.at, filter.from)] : []),
    ...(filter.to !== null ? [lte(exchanges.at, filter.to)] : []),
  ];
}

/** A page of exchanges with a storefront's providers, newest first, and the cursor of the next page. */
export async function listExchanges(
  rt: Runtime,
  storefrontId: string,
  filter: ExchangeFilter,
  cursor: string | null,
): Promise<{ rows: Exchange[]; next: string | null }> {
  const conditions = conditionsOf(rt, storefrontId, filter);
  const [, at, id] = /^(\d{1,15})-([\w]{1,60})$/.exec(cursor ?? "") ?? [];
  if (at && id) {
    const older = or(lt(exchanges.at, Number(at)), and(eq(exchanges.at, Number(at)), lt(exchanges.id, id)));
    if (older) conditions.push(older);
  }
  const rows = await rt.db.orm
    .select()
    .from(exchanges)
    .where(and(...conditions))
    .orderBy(desc(exchanges.at), desc(exchanges.id))
    .limit(PAGE + 1);
  const last = rows.length > PAGE ? rows[PAGE - 1] : undefined;
  return { rows: rows.slice(0, PAGE), next: last ? `${last.at}-${last.id}` : null };
}

/** The newest exchanges that the filter lets through, for an export. */
export const exportedExchanges = (
  rt: Runtime,
  storefrontId: string,
  filter: ExchangeFilter,
): Promise<Exchange[]> =>
  rt.db.orm
    .select()
    .from(exchanges)
    .where(and(...conditionsOf(rt, storefrontId, filter)))
    .orderBy(desc(exchanges.at), desc(exchanges.id))
    .limit(MOST_EXPORTED);
