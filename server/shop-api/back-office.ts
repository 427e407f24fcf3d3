import { and, asc, desc, eq, gt, gte, lt, lte, or } from "drizzle-orm";
import type { SQLiteColumn } from "drizzle-orm/sqlite-core";
import type { Request } from "express";
import * as yup from "yup";
import { parseDecimal } from "#core/money/money";
import { type ByLines, sumOfLines } from "#core/orders/by-lines";
import { orderStates } from "#core/orders/paid";
import { type ActionKind, actionKinds } from "#core/payments/actions";
import { paymentStates } from "#core/payments/facts";
import type { Told } from "#core/said";
import { checkoutOf } from "../checkouts/checkouts";
import { endCheckout } from "../checkouts/leave";
import type { Checkout, OrderRow, Payment } from "../database/rows";
import { orders, outbox, payments } from "../database/schema";
import { operationsOf } from "../operations/operations";
import { cancelOrder } from "../orders/cancel";
import { orderOf } from "../orders/orders";
import { sendAgain } from "../outbox/deliver";
import { newsOfTest, orderForShop } from "../outbox/news";
import { act } from "../payments/actions";
import { wantsTwo } from "../payments/second-person";
import type { Runtime } from "../runtime";
import type { ShopCaller } from "../storefronts/storefronts";
import { type Call, notFound, read } from "./call";
import { type Answer, idempotencyKeyOf } from "./once";
import { paymentNow, paymentsNow } from "./payments";
import { fieldsRefused, problem, ProblemError } from "./problem";

// What a shop's own back office does with payments and orders.

const MOST_LINES = 500;
const actBody = yup.object({
  amount: yup.string().strict().max(24),
  lines: yup
    .array(
      yup.object({
        line: yup.number().strict().integer().min(0).required(),
        quantity: yup.number().strict().min(0.001).max(100_000).required(),
      }),
    )
    .max(MOST_LINES),
  shipping: yup.boolean().strict(),
  reason: yup.string().strict().max(200),
  final: yup.boolean().strict(),
});

/** What the API says of something told: its code, without an administrator's words. */
const codeOf = (says: Told) => (typeof says === "string" ? says : says.code);

async function paymentHere(rt: Runtime, caller: ShopCaller, id: string): Promise<[Payment, Checkout]> {
  const [payment] = await rt.db.orm.select().from(payments).where(eq(payments.id, id));
  const checkout = payment && (await checkoutOf(rt, payment.checkoutId));
  if (!checkout || payment.storefrontId !== caller.storefrontId || payment.mode !== caller.mode)
    throw notFound("payment");
  return [payment, checkout];
}

export const isActionKind = (name: string): name is ActionKind => actionKinds.some((kind) => kind === name);

/**
 * Captures, releases, voids or refunds a payment. Without an amount: all there is. Answered 200 when it is done, 202 while
 * its end is not known; the same request tells later how it ended.
 */
export async function actOnPayment(
  rt: Runtime,
  request: Request,
  { caller }: Call,
  kind: ActionKind,
): Promise<Answer> {
  const key = idempotencyKeyOf(request);
  const [payment, checkout] = await paymentHere(rt, caller, String(request.params.id));
  const body = read(actBody, request.body);
  const { reason, final } = body;
  const once = `api:${key}`.slice(0, 200);
  const byLines =
    body.lines || body.shipping ? { lines: body.lines ?? [], shipping: body.shipping ?? false } : null;
  const amount = byLines
    ? await amountOfLines(rt, { payment, checkout }, { kind, once, byLines, amount: body.amount })
    : amountAsked(payment, kind, body.amount);
  if (kind === "refund" && (await wantsTwo(rt, payment, amount)))
    throw new ProblemError(
      problem(
        409,
        "second-person-needed",
        "Two people needed",
        "A refund of this amount wants two people. Ask for it in Zahlung, where a second person agrees.",
      ),
    );
  const acted = await act(rt, `shop:${caller.keyId}`, payment, {
    ...{ kind, amount, once },
    ...(reason && { reason }),
    ...(byLines && { byLines }),
    ...(final !== undefined && { final }),
  });
  const now = await paymentNow(rt, (await paymentHere(rt, caller, payment.id))[0], checkout);
  if (acted.ok) return { status: 200, body: { done: true, payment: now } };
  if (acted.open) return { status: 202, body: { done: false, payment: now } };
  throw new ProblemError({
    ...problem(409, "not-possible", "Not possible", codeOf(acted.says)),
    ...(acted.code && { detail: `The provider refused it: ${acted.code}` }),
  });
}

/** How much is asked for in minor units; all there is where nothing is said. */
function amountAsked(payment: Payment, kind: ActionKind, text: string | undefined): number {
  const parsed = text === undefined ? null : parseDecimal(text, payment.currency);
  if (parsed && !parsed.ok)
    throw fieldsRefused([
      { pointer: "/amount", code: parsed.problem, detail: 'must be decimal text such as "12.30"' },
    ]);
  if (parsed) return parsed.money.amount;
  return kind === "refund" ? payment.captured - payment.refunded - payment.refunding : payment.held;
}

/** The same of lines of the order that were not counted for this kind of act before. */
async function amountOfLines(
  rt: Runtime,
  { payment, checkout }: { payment: Payment; checkout: Checkout },
  { kind, once, byLines, amount }: { kind: ActionKind; once: string; byLines: ByLines; amount?: string },
): Promise<number> {
  if (amount !== undefined)
    throw fieldsRefused([
      { pointer: "/amount", code: "not-with-lines", detail: "say either an amount or lines" },
    ]);
  const all = await operationsOf(rt, payment.id);
  const before = all
    .filter((one) => one.kind === kind && one.once !== once && !cameToNothing.has(one.state))
    .flatMap((one) => one.byLines ?? []);
  const sum = sumOfLines(checkout.order, byLines, before);
  if (!sum.ok) throw fieldsRefused(sum.problems);
  return sum.amount;
}

const cameToNothing: ReadonlySet<string> = new Set(["refused", "nothing"]);

/** Cancels an order that is not paid, and lets go of whatever is asked of a shopper for it. */
export async function postCancel(rt: Runtime, request: Request, { caller }: Call): Promise<Answer> {
  idempotencyKeyOf(request);
  const order = await orderHere(rt, caller, request);
  if (order.state === "paid")
    throw new ProblemError(
      problem(
        409,
        "order-paid",
        "Paid already",
        "Void or refund its payment; that leaves nothing to cancel.",
      ),
    );
  const cancelled = await cancelOrder(rt, order);
  if (!cancelled)
    throw new ProblemError(
      problem(409, "not-let-go", "Not let go", "A payment under way could not be let go of yet. Ask again."),
    );
  return { status: 200, body: orderForShop(cancelled) };
}

async function orderHere(rt: Runtime, caller: ShopCaller, request: Request): Promise<OrderRow> {
  const reference = String(request.params.reference);
  const order = await orderOf(rt, { ...caller, origin: "shop", reference });
  if (!order) throw notFound("order");
  return order;
}

/** Ends an open checkout before its time. */
export async function postExpire(rt: Runtime, request: Request, { caller }: Call): Promise<Answer> {
  idempotencyKeyOf(request);
  const id = String(request.params.id);
  const checkout = await checkoutOf(rt, id);
  if (!checkout || checkout.storefrontId !== caller.storefrontId || checkout.mode !== caller.mode)
    throw notFound("checkout");
  if (!(await endCheckout(rt, checkout)))
    throw new ProblemError(
      problem(409, "not-let-go", "Not let go", "A payment under way could not be let go of yet. Ask again."),
    );
  const now = (await checkoutOf(rt, id)) ?? checkout;
  return { status: 200, body: { checkout: now.id, order: now.reference, state: now.state } };
}

const PAGE = 100;
const instant = () =>
  yup
    .string()
    .matches(/^\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d(\.\d+)?)?(Z|[+-]\d\d:\d\d)$/, "must be a time of RFC 3339");
const cursor = () => yup.string().matches(/^[a-z]+_[\w-]{1,60}$/, "must be a cursor that came with a page");
const listQuery = yup.object({ after: cursor(), since: instant(), until: instant() });
const orderQuery = listQuery.shape({ state: yup.string().oneOf(orderStates) });
const paymentQuery = listQuery.shape({
  state: yup.string().oneOf(paymentStates),
  order: yup.string().max(64),
});

/** What came about from one time to another, both included; what is not said bounds nothing. */
const within = (at: SQLiteColumn, { since, until }: { since?: string; until?: string }) =>
  and(since ? gte(at, Date.parse(since)) : undefined, until ? lte(at, Date.parse(until)) : undefined);

/** The rows of a page, and the cursor of the next; null on the last. */
const pageOf = <R extends { id: string }>(rows: R[]) => ({
  page: rows.slice(0, PAGE),
  next: rows.length > PAGE ? (rows[PAGE - 1]?.id ?? null) : null,
});

/** Orders, the newest first, by state and time. */
export async function listOrders(rt: Runtime, request: Request, { caller }: Call): Promise<Answer> {
  const { state, after, ...time } = read(orderQuery, request.query);
  const [from] = after ? await rt.db.orm.select().from(orders).where(eq(orders.id, after)) : [];
  const rows = await rt.db.orm
    .select()
    .from(orders)
    .where(
      and(
        eq(orders.storefrontId, caller.storefrontId),
        eq(orders.mode, caller.mode),
        eq(orders.origin, "shop"),
        state && eq(orders.state, state),
        within(orders.createdAt, time),
        from &&
          or(
            lt(orders.createdAt, from.createdAt),
            and(eq(orders.createdAt, from.createdAt), lt(orders.id, from.id)),
          ),
      ),
    )
    .orderBy(desc(orders.createdAt), desc(orders.id))
    .limit(PAGE + 1);
  const { page, next } = pageOf(rows);
  return { status: 200, body: { orders: page.map(orderForShop), next } };
}

/** Payments, the newest first, by state, order and time. */
export async function listPaymentsForShop(rt: Runtime, request: Request, { caller }: Call): Promise<Answer> {
  const { state, order, after, ...time } = read(paymentQuery, request.query);
  const [from] = after ? await rt.db.orm.select().from(payments).where(eq(payments.id, after)) : [];
  const rows = await rt.db.orm
    .select()
    .from(payments)
    .where(
      and(
        eq(payments.storefrontId, caller.storefrontId),
        eq(payments.mode, caller.mode),
        eq(payments.origin, "shop"),
        state && eq(payments.state, state),
        order !== undefined ? eq(payments.orderReference, order) : undefined,
        within(payments.createdAt, time),
        from &&
          or(
            lt(payments.createdAt, from.createdAt),
            and(eq(payments.createdAt, from.createdAt), lt(payments.id, from.id)),
          ),
      ),
    )
    .orderBy(desc(payments.createdAt), desc(payments.id))
    .limit(PAGE + 1);
  const { page, next } = pageOf(rows);
  return {
    status: 200,
    body: {
      payments: await paymentsNow(rt, page),
      next,
    },
  };
}

/** Everything the shop was or is to be told, the oldest first, from after a cursor: what was missed can be read here. */
export async function listEvents(rt: Runtime, request: Request, { caller }: Call): Promise<Answer> {
  const { after, ...time } = read(listQuery, request.query);
  const rows = await rt.db.orm
    .select()
    .from(outbox)
    .where(
      and(
        eq(outbox.storefrontId, caller.storefrontId),
        eq(outbox.mode, caller.mode),
        after ? gt(outbox.id, after) : undefined,
        within(outbox.createdAt, time),
      ),
    )
    .orderBy(asc(outbox.id))
    .limit(PAGE + 1);
  const { page, next } = pageOf(rows);
  return {
    status: 200,
    body: { events: page.map(({ id, body }) => ({ id, ...(JSON.parse(body) as object) })), next },
  };
}

/** Puts a piece of news into the outbox that says nothing but that news arrives. */
export async function postNewsTest(rt: Runtime, { caller }: Pick<Call, "caller">): Promise<Answer> {
  const { id, statements } = newsOfTest(rt, caller.storefrontId, caller.mode);
  await rt.db.write(statements);
  rt.nudge();
  return { status: 202, body: { event: id } };
}

/** Sends a piece of news once more, whether it was taken or not. */
export async function postEventAgain(rt: Runtime, request: Request, { caller }: Call): Promise<Answer> {
  const [news] = await rt.db.orm
    .select()
    .from(outbox)
    .where(eq(outbox.id, String(request.params.id)));
  if (news?.storefrontId !== caller.storefrontId || news.mode !== caller.mode) throw notFound("event");
  await sendAgain(rt, news);
  return { status: 202, body: { event: news.id } };
}
