import { and, desc, eq, isNull, lt, or, sql } from "drizzle-orm";
import { isMode, type Mode } from "#core/mode";
import { paymentStates, type PaymentState } from "#core/payments/facts";
import { payments } from "../database/schema";
import type { Runtime } from "../runtime";
import type { Payment } from "./record";

/** What a list of payments is narrowed to. `after` is the cursor of the row before. */
export interface PaymentFilter {
  mode: Mode;
  state: PaymentState | null;
  query: string;
  archived: boolean;
  rehearsals: boolean;
  after: string | null;
}

/** What a list shows of a payment. */
const shown = {
  id: payments.id,
  orderReference: payments.orderReference,
  amount: payments.amount,
  currency: payments.currency,
  state: payments.state,
  refunded: payments.refunded,
  stage: payments.stage,
  instrument: payments.instrument,
  createdAt: payments.createdAt,
  origin: payments.origin,
  attention: payments.attention,
};

export type PaymentRow = Pick<Payment, keyof typeof shown>;

export interface PaymentPage {
  rows: PaymentRow[];
  next: string | null;
}

const PAGE = 25;

/** Reads a filter from an address; anything malformed counts as not given, and `everyday` is the mode then. */
export function filterFrom(search: URLSearchParams, everyday: Mode): PaymentFilter {
  const mode = search.get("mode");
  const state = search.get("state");
  return {
    mode: isMode(mode) ? mode : everyday,
    state: paymentStates.find((one) => one === state) ?? null,
    query: (search.get("q") ?? "").trim().slice(0, 80),
    archived: search.get("archived") === "1",
    rehearsals: search.get("rehearsals") === "1",
    after: search.get("after"),
  };
}

/** One page of a storefront's payments, newest first. The cursor names time and id, so rows that come in do not shift pages. */
export async function listPayments(
  rt: Runtime,
  storefrontId: string,
  filter: PaymentFilter,
): Promise<PaymentPage> {
  const conditions = [eq(payments.storefrontId, storefrontId), eq(payments.mode, filter.mode)];
  if (filter.state) conditions.push(eq(payments.state, filter.state));
  if (filter.query) conditions.push(matching(storefrontId, filter.mode, filter.query));
  else {
    if (!filter.archived) conditions.push(isNull(payments.archivedAt));
    if (!filter.rehearsals) conditions.push(sql`${payments.origin} <> 'rehearsal'`);
  }
  const cursor = /^(\d{1,16})-([\w]{1,60})$/.exec(filter.after ?? "");
  if (cursor?.[2]) {
    const at = Number(cursor[1]);
    const before = or(
      lt(payments.createdAt, at),
      and(eq(payments.createdAt, at), lt(payments.id, cursor[2])),
    );
    if (before) conditions.push(before);
  }
  const rows = await rt.db.orm
    .select(shown)
    .from(payments)
    .where(and(...conditions))
    .orderBy(desc(payments.createdAt), desc(payments.id))
    .limit(PAGE + 1);
  const page = rows.slice(0, PAGE);
  const last = page.at(-1);
  return { rows: page, next: rows.length > PAGE && last ? `${last.createdAt}-${last.id}` : null };
}

const MOST_FOUND = 500;

/**
 * By the beginning of the order's number (the last 500 of them), or a whole reference of ours or the provider's.
 * Each part has an index of its own, and none has to be searched in the order of time.
 */
function matching(storefrontId: string, searchedMode: Mode, query: string) {
  const last = query.codePointAt(query.length - 1) ?? 0;
  const end = query.slice(0, -1) + String.fromCodePoint(Math.min(last + 1, 0x10ffff));
  return sql`id in (
    select id from (select id from payments
                    where storefront_id = ${storefrontId} and mode = ${searchedMode}
                    and order_reference >= ${query} and order_reference < ${end}
                    order by order_reference desc limit ${MOST_FOUND})
    union all select id from payments where reference = ${query}
    union all select id from payments where provider_ref = ${query}
    union all select id from payments where id = ${query})`;
}
