import { and, asc, desc, eq, isNull, or, type SQL, sql } from "drizzle-orm";
import { isMode, type Mode, modes } from "#core/mode";
import { paymentStates, type PaymentState } from "#core/payments/facts";
import type { Payment } from "../database/rows";
import { checkouts, orderEmail, orders, payments } from "../database/schema";
import { endOf, walk } from "../database/walk";
import { numberMeant } from "../orders/number-meant";
import type { Runtime } from "../runtime";

/** What a list of payments is narrowed to; null does not narrow. `after` is the cursor of the row before. */
export interface PaymentFilter {
  /** Both: only where something is searched for. */
  mode: Mode | "both";
  state: PaymentState | null;
  query: string;
  connection: string | null;
  offer: string | null;
  /** Minor units, exactly. */
  amount: number | null;
  /** The beginning of what it was paid with, such as a network's name. */
  instrument: string | null;
  /** Milliseconds since the epoch, both included. */
  from: number | null;
  to: number | null;
  archived: boolean;
  rehearsals: boolean;
  sort: PaymentSort;
  after: string | null;
}

/** What a list is in the order of; a minus: downwards. */
const sorts = ["-time", "time", "-amount", "amount"] as const;
export type PaymentSort = (typeof sorts)[number];

/** What a list shows of a payment. */
const shown = {
  id: payments.id,
  orderReference: payments.orderReference,
  amount: payments.amount,
  currency: payments.currency,
  state: payments.state,
  captured: payments.captured,
  refunded: payments.refunded,
  stage: payments.stage,
  dispute: payments.dispute,
  disputeDue: payments.disputeDue,
  instrument: payments.instrument,
  connectionId: payments.connectionId,
  offerId: payments.offerId,
  mode: payments.mode,
  createdAt: payments.createdAt,
  origin: payments.origin,
  lookAt: sql<number>`exists (select 1 from findings f where f.payment_id = ${payments.id} and f.state = 'open')`,
};

export type PaymentRow = Pick<Payment, Exclude<keyof typeof shown, "lookAt">> & { lookAt: number };

export interface PaymentPage {
  rows: PaymentRow[];
  next: string | null;
}

const PAGE = 25;
const MOST_EXPORTED = 50_000;
/** Sums are made of no more payments than this; beyond it, that there are more is said. */
const MOST_SUMMED = 10_000;

/**
 * Reads a filter of one mode's payments from an address; anything malformed counts as not given. What depends on how the
 * reader writes amounts and in which zone their days begin comes with it.
 */
export function filterFrom(
  search: URLSearchParams,
  mode: Mode | "both",
  { amount = null, from = null, to = null }: Partial<Pick<PaymentFilter, "amount" | "from" | "to">> = {},
): PaymentFilter {
  const named = (name: string) => /^[\w]{1,60}$/.exec(search.get(name) ?? "")?.[0] ?? null;
  const query = (search.get("q") ?? "").trim().slice(0, 80);
  return {
    mode: mode === "both" && query === "" ? "live" : mode,
    state: paymentStates.find((one) => one === search.get("state")) ?? null,
    query,
    connection: named("connection"),
    offer: named("offer"),
    amount,
    instrument: (search.get("with") ?? "").trim().slice(0, 40) || null,
    from,
    to,
    archived: search.get("archived") === "1",
    rehearsals: search.get("rehearsals") === "1",
    sort: sorts.find((one) => one === search.get("sort")) ?? "-time",
    after: search.get("after"),
  };
}

/** Whether anything but the mode narrows a list. */
export const isNarrowed = ({ state, connection, offer, amount, instrument, from, to }: PaymentFilter) =>
  [state, connection, offer, amount, instrument, from, to].some((one) => one !== null);

/** One page of a storefront's payments: what was searched for, or all of them from the newest on. */
export const listPayments = (
  rt: Runtime,
  storefrontId: string,
  filter: PaymentFilter,
): Promise<PaymentPage> =>
  filter.query ? searchPayments(rt, storefrontId, filter) : newestPayments(rt, storefrontId, filter);

/** What narrows a list, apart from its storefront and mode. */
function narrowing(filter: PaymentFilter): SQL[] {
  const { state, connection, offer, amount, instrument, from, to } = filter;
  return [
    ...(state ? [eq(payments.state, state)] : []),
    ...(connection ? [eq(payments.connectionId, connection)] : []),
    ...(offer ? [eq(payments.offerId, offer)] : []),
    ...(amount !== null ? [eq(payments.amount, amount)] : []),
    ...(instrument
      ? [sql`${payments.instrument} >= ${instrument} and ${payments.instrument} < ${endOf(instrument)}`]
      : []),
    // Walked along by another order, an index of days would not help; by their own, they bound the walk.
    ...(from !== null ? [sql`+${payments.createdAt} >= ${from}`] : []),
    ...(to !== null ? [sql`+${payments.createdAt} <= ${to}`] : []),
  ];
}

/** The conditions of a list from the newest on. */
function newestWhere(storefrontId: string, filter: PaymentFilter): SQL[] {
  return [
    eq(payments.storefrontId, storefrontId),
    eq(payments.mode, modeOf(filter)),
    ...narrowing(filter),
    ...(filter.archived ? [] : [isNull(payments.archivedAt)]),
    ...(filter.rehearsals ? [] : [sql`${payments.origin} <> 'rehearsal'`]),
  ];
}

const modeOf = ({ mode }: PaymentFilter) => (isMode(mode) ? mode : "live");

/** What a row is ordered by, each column in turn. */
const orderOf = {
  time: [payments.createdAt, payments.id],
  amount: [payments.amount, payments.createdAt, payments.id],
};

/** How a list is walked along the index that leaves the fewest rows of it, if any narrows it. */
function along(storefrontId: string, by: keyof typeof orderOf, filter: PaymentFilter) {
  const { state, connection, offer, amount, from, to } = filter;
  const here = and(eq(payments.storefrontId, storefrontId), eq(payments.mode, modeOf(filter)));
  const path = { table: payments, by: orderOf[by] };
  const ofAmount = { least: amount, greatest: amount };
  if (by === "amount") return { ...path, within: here, ...(amount === null ? {} : ofAmount) };
  const held = () => {
    if (amount !== null) return and(here, eq(payments.amount, amount));
    if (state && state !== "captured") return and(here, eq(payments.state, state));
    if (offer) return and(eq(payments.offerId, offer), eq(payments.mode, modeOf(filter)));
    return and(here, connection ? eq(payments.connectionId, connection) : undefined);
  };
  return { ...path, within: held(), least: from, greatest: to };
}

/** The cursor names what the last row was ordered by, so that rows that come in do not shift pages. */
async function newestPayments(
  rt: Runtime,
  storefrontId: string,
  filter: PaymentFilter,
  most = PAGE,
): Promise<PaymentPage> {
  const conditions = newestWhere(storefrontId, filter);
  const by = filter.sort.endsWith("amount") ? "amount" : "time";
  const columns = orderOf[by];
  const upwards = !filter.sort.startsWith("-");
  const cursor = /^((?:\d{1,16}-){1,2})(\w{1,60})$/.exec(filter.after ?? "");
  const values = cursor ? [...(cursor[1] ?? "").split("-").slice(0, -1).map(Number), cursor[2]] : [];
  const path = {
    ...along(storefrontId, by, filter),
    upwards,
    after: values.length === columns.length ? values : null,
  };
  const rows = await walk(rt, path, most + 1, (stretch, left) =>
    rt.db.orm
      .select(shown)
      .from(payments)
      .where(and(...conditions, stretch))
      .orderBy(...columns.map(upwards ? asc : desc))
      .limit(left),
  );
  return pageOf(rows, most, (last) =>
    [...(by === "amount" ? [last.amount] : []), last.createdAt, last.id].join("-"),
  );
}

/**
 * What a search leads to, in the modes asked for: payments by the beginning of the order's number, the last numbers
 * first; on the first page before them those with just this reference of ours, of the provider or of the payment, this
 * e-mail address, or these last four digits. Each is read in the order of an index, however many there are.
 */
async function searchPayments(
  rt: Runtime,
  storefrontId: string,
  filter: PaymentFilter,
): Promise<PaymentPage> {
  const { orm } = rt.db;
  const { query, after } = filter;
  const wanted = isMode(filter.mode) ? [filter.mode] : modes;
  const narrowed = narrowing(filter);
  const number = await numberMeant(rt, orders, storefrontId, query);
  const here = [eq(payments.storefrontId, storefrontId), ...narrowed];
  const cursor = /^[\w]{1,60}$/.exec(after ?? "")?.[0];
  const numbered = (mode: Mode) => {
    const path = {
      table: payments,
      by: [payments.orderReference, payments.id],
      within: and(eq(payments.storefrontId, storefrontId), eq(payments.mode, mode)),
      ...{ least: number, greatest: endOf(number) },
      all: narrowed.length === 0,
      after: cursor ?? null,
    };
    return walk(rt, path, PAGE + 1, (stretch, left) =>
      orm
        .select(shown)
        .from(payments)
        .where(and(...narrowed, stretch))
        .orderBy(desc(payments.orderReference), desc(payments.id))
        .limit(left),
    );
  };
  const exact = orm
    .select(shown)
    .from(payments)
    .where(
      and(
        or(eq(payments.reference, query), eq(payments.providerRef, query), eq(payments.id, query)),
        ...here,
      ),
    )
    .limit(PAGE);
  const ending = orm
    .select(shown)
    .from(payments)
    .where(and(sql`substr(instrument, -4) = ${query}`, ...here))
    .orderBy(desc(payments.createdAt), desc(payments.id))
    .limit(PAGE);
  const mailed = orm
    .select(shown)
    .from(checkouts)
    .innerJoin(payments, eq(payments.checkoutId, checkouts.id))
    .where(
      and(eq(checkouts.storefrontId, storefrontId), sql`${orderEmail} = ${query.toLowerCase()}`, ...narrowed),
    )
    .orderBy(desc(checkouts.createdAt))
    .limit(PAGE);
  const [[first = [], second = []], [byReference, byEnd, byMail]] = await Promise.all([
    Promise.all(wanted.map(numbered)),
    Promise.all([exact, /^\d{4}$/.test(query) ? ending : [], query.includes("@") ? mailed : []]),
  ]);
  const merged = [...first, ...second].sort(
    (a, b) => order(b.orderReference, a.orderReference) || order(b.id, a.id),
  );
  const { rows, next } = pageOf(merged, PAGE, (row) => row.id);
  const named = cursor
    ? []
    : [...byReference, ...byMail, ...byEnd].filter((row) => (wanted as string[]).includes(row.mode));
  const once = new Map([...named, ...rows].map((row) => [row.id, row]));
  return { rows: [...once.values()], next };
}

/** As SQLite orders texts: by their code points. */
const order = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);

function pageOf(rows: PaymentRow[], most: number, cursor: (last: PaymentRow) => string): PaymentPage {
  const page = rows.slice(0, most);
  const last = page.at(-1);
  return { rows: page, next: rows.length > most && last ? cursor(last) : null };
}

/** What a narrowed list comes to in one currency, minor units. */
export interface PaymentSum {
  currency: string;
  payments: number;
  amount: number;
  captured: number;
  refunded: number;
}

/** Sums of everything a filter lets through, by currency; of the newest ten thousand where there are `more`. */
export async function sumPayments(
  rt: Runtime,
  storefrontId: string,
  filter: PaymentFilter,
): Promise<{ sums: PaymentSum[]; more: boolean }> {
  const path = {
    ...along(storefrontId, "time", filter),
    first: MOST_SUMMED,
  };
  const count = (parts: readonly PaymentSum[]) => parts.reduce((all, one) => all + one.payments, 0);
  const summed = (stretch: SQL | undefined, most: number) => {
    const counted = rt.db.orm
      .select({
        currency: payments.currency,
        amount: payments.amount,
        captured: payments.captured,
        refunded: payments.refunded,
      })
      .from(payments)
      .where(and(...newestWhere(storefrontId, filter), stretch))
      .orderBy(desc(payments.createdAt), desc(payments.id))
      .limit(most)
      .as("counted");
    return rt.db.orm
      .select({
        currency: counted.currency,
        payments: sql<number>`count(*)`.mapWith(Number),
        amount: sql<number>`sum(${counted.amount})`.mapWith(Number),
        captured: sql<number>`sum(${counted.captured})`.mapWith(Number),
        refunded: sql<number>`sum(${counted.refunded})`.mapWith(Number),
      })
      .from(counted)
      .groupBy(counted.currency);
  };
  const sums = new Map<string, PaymentSum>();
  for (const part of await walk(rt, path, MOST_SUMMED, summed, count)) {
    const so = sums.get(part.currency);
    sums.set(part.currency, {
      currency: part.currency,
      payments: part.payments + (so?.payments ?? 0),
      amount: part.amount + (so?.amount ?? 0),
      captured: part.captured + (so?.captured ?? 0),
      refunded: part.refunded + (so?.refunded ?? 0),
    });
  }
  const all = [...sums.values()];
  return { sums: all, more: count(all) >= MOST_SUMMED };
}

/** All that a filter lets through, for an export; what was searched for is exported as its first page. */
export const exportedPayments = async (
  rt: Runtime,
  storefrontId: string,
  filter: PaymentFilter,
): Promise<PaymentRow[]> =>
  (filter.query
    ? await searchPayments(rt, storefrontId, { ...filter, after: null })
    : await newestPayments(rt, storefrontId, { ...filter, after: null }, MOST_EXPORTED)
  ).rows;
