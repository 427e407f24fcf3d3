import { and, desc, eq, gte, isNull, lt, or, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { paymentStates, type PaymentState } from "#core/payments/facts";
import type { Payment } from "../database/rows";
import { payments } from "../database/schema";
import type { Runtime } from "../runtime";

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

/** Reads a filter of one mode's payments from an address; anything malformed counts as not given. */
export function filterFrom(search: URLSearchParams, mode: Mode): PaymentFilter {
  const state = search.get("state");
  return {
    mode,
    state: paymentStates.find((one) => one === state) ?? null,
    query: (search.get("q") ?? "").trim().slice(0, 80),
    archived: search.get("archived") === "1",
    rehearsals: search.get("rehearsals") === "1",
    after: search.get("after"),
  };
}

/** One page of a storefront's payments: what was searched for, or all of them from the newest on. */
export const listPayments = (
  rt: Runtime,
  storefrontId: string,
  filter: PaymentFilter,
): Promise<PaymentPage> =>
  filter.query ? searchPayments(rt, storefrontId, filter) : newestPayments(rt, storefrontId, filter);

/** The cursor names time and id, so that rows that come in do not shift pages. */
async function newestPayments(
  rt: Runtime,
  storefrontId: string,
  filter: PaymentFilter,
): Promise<PaymentPage> {
  const conditions = [eq(payments.storefrontId, storefrontId), eq(payments.mode, filter.mode)];
  if (filter.state) conditions.push(eq(payments.state, filter.state));
  if (!filter.archived) conditions.push(isNull(payments.archivedAt));
  if (!filter.rehearsals) conditions.push(sql`${payments.origin} <> 'rehearsal'`);
  const [, at, id] = /^(\d{1,16})-([\w]{1,60})$/.exec(filter.after ?? "") ?? [];
  if (at && id) conditions.push(sql`(${payments.createdAt}, ${payments.id}) < (${Number(at)}, ${id})`);
  const rows = await rt.db.orm
    .select(shown)
    .from(payments)
    .where(and(...conditions))
    .orderBy(desc(payments.createdAt), desc(payments.id))
    .limit(PAGE + 1);
  return pageOf(rows, (last) => `${last.createdAt}-${last.id}`);
}

/**
 * By the beginning of the order's number, the last numbers first; on the first page before them what has just this
 * reference of ours, of the provider or of the payment. Each is read in the order of an index, however many there are.
 */
async function searchPayments(
  rt: Runtime,
  storefrontId: string,
  { mode, state, query, after }: PaymentFilter,
): Promise<PaymentPage> {
  const { orm } = rt.db;
  const here = [eq(payments.storefrontId, storefrontId), eq(payments.mode, mode)];
  if (state) here.push(eq(payments.state, state));
  const last = query.codePointAt(query.length - 1) ?? 0;
  const end = query.slice(0, -1) + String.fromCodePoint(Math.min(last + 1, 0x10ffff));
  const beginning = [gte(payments.orderReference, query), lt(payments.orderReference, end)];
  const cursor = /^[\w]{1,60}$/.exec(after ?? "")?.[0];
  if (cursor)
    beginning.push(
      sql`(${payments.orderReference}, ${payments.id}) < (select p.order_reference, p.id from payments p where p.id = ${cursor})`,
    );
  const [numbered, exact] = await orm.batch([
    orm
      .select(shown)
      .from(payments)
      .where(and(...here, ...beginning))
      .orderBy(desc(payments.orderReference), desc(payments.id))
      .limit(PAGE + 1),
    orm
      .select(shown)
      .from(payments)
      .where(
        and(
          or(eq(payments.reference, query), eq(payments.providerRef, query), eq(payments.id, query)),
          ...here,
        ),
      )
      .limit(PAGE),
  ]);
  const named = new Set(exact.map((row) => row.id));
  const { rows, next } = pageOf(numbered, (row) => row.id);
  return { rows: [...(cursor ? [] : exact), ...rows.filter((row) => !named.has(row.id) || cursor)], next };
}

function pageOf(rows: PaymentRow[], cursor: (last: PaymentRow) => string): PaymentPage {
  const page = rows.slice(0, PAGE);
  const last = page.at(-1);
  return { rows: page, next: rows.length > PAGE && last ? cursor(last) : null };
}
