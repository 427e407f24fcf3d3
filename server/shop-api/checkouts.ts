import { eq } from "drizzle-orm";
import type { Request } from "express";
import { decimalText, type Money } from "#core/money/money";
import { decide } from "#core/offers/decide";
import { askedOf } from "#core/orders/asked";
import { type Order, readOrder } from "#core/orders/order";
import { coveredOf } from "#core/orders/paid";
import { said, type SaidValue, type SaidValues } from "#core/said";
import { cartOf, checkoutAddress, checkoutOf, newCheckout, paymentsOf } from "../checkouts/checkouts";
import { misfitsOf } from "../checkouts/fits-storefront";
import { isConflict } from "../database/guard";
import type { OrderRow, Storefront } from "../database/rows";
import { payments } from "../database/schema";
import { recorded } from "../exchanges/exchanges";
import { candidatesIn } from "../offers/candidates";
import { orderOf, paymentsOfOrder } from "../orders/orders";
import { orderForShop } from "../outbox/news";
import type { Runtime } from "../runtime";
import { type Call, notFound } from "./call";
import { type Deed, once } from "./once";
import { paymentNow, paymentsNow } from "./payments";
import { fieldsRefused, problem, ProblemError } from "./problem";

// What a shop asks while its shoppers buy: what can be paid with, a checkout, and what became of it.

/** Reads an order and holds it against what the storefront sells in. */
export function orderFrom(body: unknown, storefront: Storefront): Order {
  const reading = readOrder(body);
  if (!reading.ok) throw fieldsRefused(reading.problems);
  const { order } = reading;
  const problems = misfitsOf(order, storefront);
  if (problems.length > 0) throw fieldsRefused(problems);
  return order;
}

/** What goes into a reason, as the API writes it: amounts as decimal text, countries and languages by their codes. */
const valuesForShop = (values: SaidValues): Record<string, unknown> =>
  Object.fromEntries(Object.entries(values).map(([name, value]) => [name, valueForShop(value)]));

function valueForShop(value: SaidValue): unknown {
  if (typeof value !== "object") return value;
  if (Array.isArray(value)) return value.map((one: SaidValue) => valueForShop(one));
  if ("code" in value && "values" in value) return { code: value.code, values: valuesForShop(value.values) };
  if ("country" in value) return value.country;
  if ("language" in value) return value.language;
  return "amount" in value && "currency" in value ? decimalText(value as Money) : undefined;
}

/** A question, which changes nothing: it may be asked again and again, and needs no Idempotency-Key. */
export async function askOffers(rt: Runtime, request: Request, { caller, now, storefront }: Call) {
  const order = orderFrom(request.body, storefront);
  const { shown, withheld } = decide(candidatesIn(now, caller.mode), cartOf(order, { at: rt.now() }));
  return {
    status: 200,
    body: {
      shown: shown.map(({ id, label, hint, charge, sign }) => ({
        ...{ id, label, hint },
        charge: decimalText({ amount: charge, currency: order.currency }),
        picture: sign && "picture" in sign ? `${rt.settings.origin}/pictures/${sign.picture.id}.png` : null,
      })),
      withheld: withheld.map(({ because, ...offer }) => ({
        ...offer,
        because: because.map(({ code, says }) => ({ code, values: valuesForShop(says.values) })),
      })),
    },
  };
}

export async function postCheckout(rt: Runtime, request: Request, { caller, storefront }: Call) {
  const wanted = orderFrom(request.body, storefront);
  const whose = { storefrontId: storefront.id, mode: caller.mode, origin: "shop" as const };
  const open = async () => {
    const known = await orderOf(rt, { ...whose, reference: wanted.reference });
    return once(rt, caller, request, () => deed(known));
  };
  const deed = (known: OrderRow | null): Deed => {
    if (known?.state === "paid")
      throw new ProblemError(
        problem(409, "order-paid", "Paid already", `Order ${wanted.reference} is paid; nothing more is due.`),
      );
    const order = known ? restOf(known, wanted) : wanted;
    const { checkout, statements } = newCheckout(
      rt,
      { ...whose, order, known },
      {
        at: rt.now(),
        from: "shop",
        to: "zahlung",
        label: said("checkouts.opened"),
        request: recorded(
          { method: "POST", url: "/api/v1/checkouts", headers: [], body: JSON.stringify(request.body) },
          [],
        ),
        response: { status: 201, headers: {}, body: "" },
        ok: true,
      },
    );
    const body = {
      checkout: checkout.id,
      address: checkoutAddress(rt, checkout),
      mode: checkout.mode,
      state: checkout.state,
      expiresAt: new Date(checkout.expiresAt).toISOString(),
    };
    return { answer: { status: 201, body }, statements };
  };
  // Two checkouts of one new order at the same moment: the second finds the order there.
  return open().catch((error: unknown) => {
    if (isConflict(error)) return open();
    throw error;
  });
}

/** Of an order that was paid in part, a checkout asks for the rest at most. */
function restOf(known: OrderRow, order: Order): Order {
  const covered = coveredOf(known);
  if (covered === 0) return order;
  const left = order.total - covered;
  const says = (amount: number) => decimalText({ amount, currency: order.currency });
  if (order.currency !== known.currency)
    throw fieldsRefused([
      { pointer: "/currency", code: "other-currency", detail: `a part of it was paid in ${known.currency}` },
    ]);
  if (left <= 0)
    throw fieldsRefused([
      {
        pointer: "/total",
        code: "paid-already",
        detail: `${says(covered)} of it is paid or promised already`,
      },
    ]);
  if (order.payNow !== undefined && order.payNow > left)
    throw fieldsRefused([
      { pointer: "/payNow", code: "more-than-left", detail: `no more than ${says(left)} is left to pay` },
    ]);
  return { ...order, payNow: order.payNow ?? left };
}

export async function getCheckout(rt: Runtime, request: Request, { caller }: Call) {
  const checkout = await checkoutOf(rt, String(request.params.id));
  if (!checkout || checkout.storefrontId !== caller.storefrontId || checkout.mode !== caller.mode)
    throw notFound("checkout");
  const all = await paymentsOf(rt, checkout.id);
  return {
    status: 200,
    body: {
      checkout: checkout.id,
      order: checkout.reference,
      state: checkout.state,
      total: decimalText({ amount: checkout.order.total, currency: checkout.order.currency }),
      payNow: decimalText({ amount: askedOf(checkout.order), currency: checkout.order.currency }),
      currency: checkout.order.currency,
      payments: await paymentsNow(rt, all),
    },
  };
}

export async function getOrder(rt: Runtime, request: Request, { caller }: Call) {
  const reference = String(request.params.reference);
  const order = await orderOf(rt, { ...caller, origin: "shop", reference });
  if (!order) throw notFound("order");
  const all = await paymentsOfOrder(rt, order.id);
  return {
    status: 200,
    body: {
      ...orderForShop(order),
      payments: await paymentsNow(rt, all),
    },
  };
}

export async function getPayment(rt: Runtime, request: Request, { caller }: Call) {
  const [payment] = await rt.db.orm
    .select()
    .from(payments)
    .where(eq(payments.id, String(request.params.id)));
  const checkout = payment && (await checkoutOf(rt, payment.checkoutId));
  if (!checkout || payment.storefrontId !== caller.storefrontId || payment.mode !== caller.mode)
    throw notFound("payment");
  return { status: 200, body: await paymentNow(rt, payment, checkout) };
}
