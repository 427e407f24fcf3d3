import { and, asc, desc, eq, lt, or } from "drizzle-orm";
import type { Request } from "express";
import * as yup from "yup";
import { isShopperId } from "#core/instruments";
import { decimalText } from "#core/money/money";
import { type FieldProblem, readOrder } from "#core/orders/order";
import { subscriptionStates } from "#core/subscriptions/course";
import { type Customer, LONGEST_REFERENCE } from "#core/subscriptions/order";
import { firstSum, regularSum, termsOf } from "#core/subscriptions/terms";
import type { Terms } from "#core/subscriptions/agreed";
import { dayAt } from "#core/subscriptions/schedule";
import { checkoutAddress } from "../checkouts/checkouts";
import { isConflict } from "../database/guard";
import type { Subscription } from "../database/rows";
import { checkouts, subscriptionPeriods, subscriptions } from "../database/schema";
import { keptOf } from "../instruments/instruments";
import { candidatesIn } from "../offers/candidates";
import type { Runtime } from "../runtime";
import { newSubscription, termsIn } from "../subscriptions/begin";
import {
  actOn,
  changeInstrument,
  changePlan,
  type Changed,
  type SubscriptionAct,
} from "../subscriptions/change";
import { subscriptionForShop } from "../subscriptions/news";
import { subscriptionByReference } from "../subscriptions/subscriptions";
import { type Call, notFound, read } from "./call";
import { orderFrom } from "./checkouts";
import { type Answer, idempotencyKeyOf, once } from "./once";
import { fieldsRefused, problem, ProblemError } from "./problem";

// What a shop asks about payments that repeat: which plans there are, that one begins, changes or ends.

const MOST_PIECES = 1_000;
const PAGE = 50;

const refuse = (pointer: string, code: string, detail: string) =>
  fieldsRefused([{ pointer, code, detail } satisfies FieldProblem]);

/** The plans that a storefront's offers have, each with what it comes to in every currency. */
export async function listPlans(_: Runtime, __: Request, { caller, now }: Call): Promise<Answer> {
  const seen = new Set<string>();
  const plans = candidatesIn(now, caller.mode).flatMap(({ document: { repeats } }) =>
    (repeats?.plans ?? []).flatMap((plan) => {
      if (!repeats || seen.has(plan.id)) return [];
      seen.add(plan.id);
      const prices = Object.keys(plan.prices).flatMap((currency) => {
        const terms = termsOf(plan, { currency, language: now.storefront.languages[0] ?? "" }, repeats);
        return terms ? [priceOf(terms)] : [];
      });
      const { id, names, rhythm, times, trial } = plan;
      return [{ plan: id, names, every: rhythm, times, trialDays: trial?.days ?? null, prices }];
    }),
  );
  return { status: 200, body: { plans } };
}

const priceOf = (terms: Terms) => {
  const text = (amount: number) => decimalText({ amount, currency: terms.currency });
  return {
    currency: terms.currency,
    amount: text(regularSum(terms, 1).total),
    setUp: text(terms.setUp),
    trial: terms.trial && text(terms.trial.price),
  };
};

const newBody = yup.object({
  plan: yup.string().strict().max(40).required(),
  quantity: yup.number().strict().integer().min(1).max(MOST_PIECES),
  shopper: yup
    .string()
    .strict()
    .required()
    .test("shopper", "must be 1 to 64 printable ASCII characters without spaces", (value = "") =>
      isShopperId(value),
    ),
  instrument: yup.string().strict().max(60),
  mandate: yup.string().strict().min(1).max(2_000),
});

/**
 * Begins a subscription: with a checkout that the shopper is sent to; or, where it is charged to something they have kept,
 * by itself, with the words in which they agreed to that at the shop.
 */
export async function postSubscription(rt: Runtime, request: Request, { caller, now, storefront }: Call) {
  const body = request.body as Record<string, unknown>;
  const { plan, quantity = 1, shopper, instrument, mandate } = read(newBody.noUnknown(false), body);
  const terms = termsFrom(now, caller.mode, plan, body);
  const customer = customerFrom(body, storefront, terms);
  const reference = String(body.reference);
  if (reference.length > LONGEST_REFERENCE)
    throw refuse("/reference", "malformed", `may have ${LONGEST_REFERENCE} characters at most`);
  if (instrument !== undefined) {
    if (mandate === undefined)
      throw refuse("/mandate", "missing", "are the words in which the shopper agreed to be charged");
    const kept = await keptOf(rt, { storefrontId: storefront.id, mode: caller.mode, shopper });
    if (!kept.some(({ id }) => id === instrument))
      throw refuse("/instrument", "unknown", "is nothing that this shopper has kept and can use");
  }
  const at = rt.now();
  const open = () =>
    once(rt, caller, request, () => {
      const made = newSubscription(rt, now, {
        ...{ mode: caller.mode, origin: "shop", reference, shopper, customer, terms, quantity },
        ...(instrument !== undefined &&
          mandate !== undefined && {
            charge: {
              instrumentId: instrument,
              mandate: { words: mandate, language: customer.language, at },
            },
          }),
      });
      const { checkout, subscription, statements } = made;
      const due = firstSum(terms, quantity, dayAt(at, terms.timeZone).day).total;
      const answer = {
        ...subscriptionForShop(subscription),
        checkout: checkout.id,
        address: checkoutAddress(rt, checkout),
        due: decimalText({ amount: due, currency: terms.currency }),
      };
      return { answer: { status: 201, body: answer }, statements };
    });
  try {
    const answer = await open();
    rt.nudge();
    return answer;
  } catch (error) {
    if (!isConflict(error)) throw error;
    throw new ProblemError(
      problem(
        409,
        "reference-used",
        "Number used",
        `There is an order or a subscription ${reference} already.`,
      ),
    );
  }
}

function termsFrom(
  now: Call["now"],
  mode: Call["caller"]["mode"],
  plan: string,
  body: Record<string, unknown>,
): Terms {
  const terms = termsIn(now, mode, plan, {
    currency: String(body.currency),
    language: String(body.language),
  });
  if (!terms) throw refuse("/plan", "unknown", `no offer has a plan ${plan} in ${String(body.currency)}`);
  return terms;
}

/** Who subscribes, read as an order of theirs is. */
function customerFrom(body: Record<string, unknown>, storefront: Call["storefront"], terms: Terms): Customer {
  const one = decimalText({ amount: regularSum(terms, 1).total, currency: terms.currency });
  const { reference, currency, country, language, group, shopper, email, returnAddress, shipTo, billTo } =
    body;
  const shaped = {
    ...{ reference, currency, country, language, group, shopper, email, returnAddress, shipTo, billTo },
    ...{ lines: [{ name: terms.name, quantity: 1, unit: one, total: one }] },
    ...{ shipping: "0", tax: "0", total: one },
  };
  const told = Object.fromEntries(Object.entries(shaped).filter(([, value]) => value !== undefined));
  if (!readOrder(told).ok) orderFrom(told, storefront);
  const order = orderFrom(told, storefront);
  return {
    ...{ country: order.country, language: order.language, group: order.group },
    ...{ email: order.email, returnAddress: order.returnAddress },
    ...(order.shipTo && { shipTo: order.shipTo }),
    ...(order.billTo && { billTo: order.billTo }),
  };
}

async function subscriptionHere(rt: Runtime, request: Request, { caller }: Call): Promise<Subscription> {
  const { storefrontId, mode } = caller;
  const reference = String(request.params.reference);
  const one = await subscriptionByReference(rt, { storefrontId, mode, origin: "shop", reference });
  if (!one) throw notFound("subscription");
  return one;
}

/** A subscription with what was charged so far, the first period before the others. */
export async function getSubscription(rt: Runtime, request: Request, call: Call) {
  return { status: 200, body: await wholeOf(rt, await subscriptionHere(rt, request, call)) };
}

async function wholeOf(rt: Runtime, one: Subscription) {
  const periods = await rt.db.orm
    .select({ period: subscriptionPeriods, order: checkouts.reference })
    .from(subscriptionPeriods)
    .leftJoin(checkouts, eq(checkouts.id, subscriptionPeriods.checkoutId))
    .where(eq(subscriptionPeriods.subscriptionId, one.id))
    .orderBy(asc(subscriptionPeriods.number));
  return {
    ...subscriptionForShop(one),
    periods: periods.map(({ period: { number, first, until, amount, state, tries }, order }) => ({
      ...{ number, first, until, state, tries, order },
      amount: decimalText({ amount, currency: one.terms.currency }),
    })),
  };
}

const listQuery = yup.object({
  state: yup.string().oneOf([...subscriptionStates]),
  shopper: yup.string().max(64),
  after: yup.string().max(60),
});

/** Subscriptions, the newest first, by state and shopper. */
export async function listSubscriptions(rt: Runtime, request: Request, { caller }: Call): Promise<Answer> {
  const { state, shopper, after } = read(listQuery, request.query);
  const [from] = after ? await rt.db.orm.select().from(subscriptions).where(eq(subscriptions.id, after)) : [];
  const rows = await rt.db.orm
    .select()
    .from(subscriptions)
    .where(
      and(
        eq(subscriptions.storefrontId, caller.storefrontId),
        eq(subscriptions.mode, caller.mode),
        eq(subscriptions.origin, "shop"),
        state && eq(subscriptions.state, state),
        shopper !== undefined ? eq(subscriptions.shopper, shopper) : undefined,
        from &&
          or(
            lt(subscriptions.createdAt, from.createdAt),
            and(eq(subscriptions.createdAt, from.createdAt), lt(subscriptions.id, from.id)),
          ),
      ),
    )
    .orderBy(desc(subscriptions.createdAt), desc(subscriptions.id))
    .limit(PAGE + 1);
  const page = rows.slice(0, PAGE);
  const next = rows.length > PAGE ? (page.at(-1)?.id ?? null) : null;
  return { status: 200, body: { subscriptions: page.map(subscriptionForShop), next } };
}

/** Pauses, goes on with, skips or ends a subscription. What is so already is answered as if it had been done. */
export async function actOnSubscription(rt: Runtime, request: Request, call: Call, act: SubscriptionAct) {
  idempotencyKeyOf(request);
  const one = await subscriptionHere(rt, request, call);
  return answerOf(rt, await actOn(rt, one.id, act, "shop"));
}

const changeBody = yup.object({
  plan: yup.string().strict().max(40),
  quantity: yup.number().strict().integer().min(1).max(MOST_PIECES),
});

/** Changes plan or quantity, from the next period on. */
export async function changeSubscription(rt: Runtime, request: Request, call: Call) {
  idempotencyKeyOf(request);
  const one = await subscriptionHere(rt, request, call);
  const { plan, quantity } = read(changeBody, request.body);
  const { language } = one.customer;
  const terms =
    plan === undefined || plan === one.terms.plan
      ? undefined
      : termsFrom(call.now, call.caller.mode, plan, { currency: one.terms.currency, language });
  const change = { ...(terms && { terms }), ...(quantity !== undefined && { quantity }) };
  return answerOf(rt, await changePlan(rt, one.id, change, "shop"));
}

const instrumentBody = yup.object({ instrument: yup.string().strict().max(60).required() });

/** Has it charged to something else that its shopper has kept. */
export async function changeSubscriptionInstrument(rt: Runtime, request: Request, call: Call) {
  idempotencyKeyOf(request);
  const one = await subscriptionHere(rt, request, call);
  const { instrument } = read(instrumentBody, request.body);
  return answerOf(rt, await changeInstrument(rt, one.id, instrument, "shop"));
}

async function answerOf(rt: Runtime, changed: Changed): Promise<Answer> {
  if (changed.ok) return { status: 200, body: await wholeOf(rt, changed.subscription) };
  const { says } = changed;
  throw new ProblemError(
    problem(409, "not-possible", "Not possible", typeof says === "string" ? says : says.code),
  );
}
