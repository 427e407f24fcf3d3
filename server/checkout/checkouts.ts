import { and, eq, lte, sql } from "drizzle-orm";
import type { Mode } from "#core/mode";
import { type Decision, decide } from "#core/offers/decide";
import type { Order } from "#core/order/order";
import type { Statement } from "../database/open";
import { checkouts, payments } from "../database/schema";
import { exchangeRow, type NewExchange } from "../gateway/exchanges";
import { candidatesOf } from "../offers/candidates";
import { newsOfCheckout } from "../outbox/news";
import type { Runtime } from "../runtime";

export type Checkout = typeof checkouts.$inferSelect;

const MINUTES = 60_000;
const OPEN_FOR = 45 * MINUTES;

export interface NewCheckout {
  storefrontId: string;
  mode: Mode;
  origin: Checkout["origin"];
  order: Order;
}

/** Opens a checkout for an order. `said` is the message that asked for it, for the score. */
export async function openCheckout(
  rt: Runtime,
  input: NewCheckout,
  said: Omit<NewExchange, "checkoutId" | "mode">,
): Promise<Checkout> {
  const now = rt.now();
  const row = {
    id: rt.ids.next("chk"),
    token: rt.ids.secret(),
    ...input,
    reference: input.order.reference,
    state: "open" as const,
    activePaymentId: null,
    deviceAsk: null,
    createdAt: now,
    expiresAt: now + OPEN_FOR,
    closedAt: null,
  };
  await rt.db.write([
    rt.db.orm.insert(checkouts).values(row),
    exchangeRow(rt, { ...said, checkoutId: row.id, mode: input.mode }),
  ]);
  return row;
}

export const checkoutAddress = (rt: Runtime, checkout: Pick<Checkout, "token">) =>
  `${rt.settings.origin}/pay/${checkout.token}`;

export async function checkoutByToken(rt: Runtime, token: string): Promise<Checkout | null> {
  if (!/^[\w-]{43}$/.test(token)) return null;
  const [row] = await rt.db.orm.select().from(checkouts).where(eq(checkouts.token, token));
  return row ?? null;
}

export async function checkoutOf(rt: Runtime, id: string): Promise<Checkout | null> {
  const [row] = await rt.db.orm.select().from(checkouts).where(eq(checkouts.id, id));
  return row ?? null;
}

/** Which offers this checkout's order gets, decided now. */
export async function decideFor(rt: Runtime, { order, storefrontId, mode }: Checkout): Promise<Decision> {
  const { total, currency, country, language, group } = order;
  return decide(await candidatesOf(rt, storefrontId, mode), {
    total: { amount: total, currency },
    country,
    language,
    group,
  });
}

export const paymentsOf = (rt: Runtime, checkoutId: string) =>
  rt.db.orm.select().from(payments).where(eq(payments.checkoutId, checkoutId)).orderBy(payments.createdAt);

/** The statements that end an open checkout without payment, and tell the shop. */
export function closing(rt: Runtime, checkout: Checkout, state: "cancelled" | "expired"): Statement[] {
  const now = rt.now();
  const statements: Statement[] = [
    rt.db.orm
      .update(checkouts)
      .set({
        state,
        closedAt: now,
        // Fails on NOT NULL, and with it the news, when the checkout was paid or taken up in between.
        token: sql`case when state = 'open' and active_payment_id is null then token else null end` as never,
      })
      .where(eq(checkouts.id, checkout.id)),
  ];
  if (checkout.origin === "shop") statements.push(newsOfCheckout(rt, checkout, state));
  return statements;
}

/** Open checkouts whose time is over. */
export const overdueCheckouts = (rt: Runtime, limit = 50) =>
  rt.db.orm
    .select()
    .from(checkouts)
    .where(and(sql`state = 'open'`, lte(checkouts.expiresAt, rt.now())))
    .limit(limit);
