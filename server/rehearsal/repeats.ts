import { eq } from "drizzle-orm";
import type { Order } from "#core/orders/order";
import type { ProfileInstrument } from "#core/profiles/profile";
import type { Repeating, RehearsalCase } from "#core/rehearsal/script";
import { said, type Told, ToldError } from "#core/said";
import { type Customer } from "#core/subscriptions/order";
import type { Terms } from "#core/subscriptions/agreed";
import { usualTrying } from "#core/subscriptions/plan";
import { dueAt } from "#core/subscriptions/schedule";
import { termsOf } from "#core/subscriptions/terms";
import { paymentsOf } from "../checkouts/checkouts";
import type { Payment, Subscription } from "../database/rows";
import { subscriptionEvents, subscriptionPeriods } from "../database/schema";
import { call, openLine } from "../gateway/gateway";
import { chargeable } from "../instruments/instruments";
import type { Runtime } from "../runtime";
import type { OfferWithRevisions } from "../storefronts/now";
import { mustStand } from "../storefronts/now";
import { newSubscription } from "../subscriptions/begin";
import { actOn } from "../subscriptions/change";
import { eraseShopper } from "../subscriptions/erase";
import { goOn } from "../subscriptions/go-on";
import { see, subscriptionOf } from "../subscriptions/subscriptions";
import { payFor } from "./kept";
import { observe, type Play, waitFor } from "./observe";

/** What stands for the words that a shopper agrees to, where nobody reads any. */
const MANDATE = { words: "A rehearsal subscribes, and has everything ended and forgotten.", language: "en" };
const TWO_YEARS = 2 * 365 * 86_400_000;
/** Of a plan of days or weeks no more periods are played than these. */
const MOST_PERIODS = 60;

/** What is subscribed to where the offer has no plan: a rehearsal tries what the method can. */
const ownTerms = ({ currency, price }: { currency: string; price: number }): Terms => ({
  ...{ plan: "rehearsal", name: "Rehearsal", currency, rhythm: { count: 1, unit: "month" }, times: null },
  ...{ price, setUp: 0, setUpName: "", trial: null, fixedDay: null, tax: null },
  ...{ trying: usualTrying, timeZone: "UTC" },
});

/** What got in a case's way. */
class Stuck extends Error {
  constructor(
    readonly says: Told,
    readonly paymentId?: string,
  ) {
    super("stuck");
  }
}

/** One rehearsed subscription with what plays it. */
interface Scene {
  rt: Runtime;
  offer: OfferWithRevisions;
  id: string;
  /** The test instrument that is always good. */
  good: ProfileInstrument | undefined;
}

/**
 * Plays a shopper who subscribes, and what becomes of the subscription, with its calendar turned ahead. The last of its
 * payments is the one that is observed; everything is ended and erased again, whatever came of it.
 */
export async function playRepeats(
  rt: Runtime,
  offer: OfferWithRevisions,
  script: RehearsalCase & { repeats?: Repeating },
  { currency, language, shopper, reference, ...order }: Order & { shopper: string },
  instrument: ProfileInstrument,
): Promise<Play> {
  const { storefrontId } = offer.offer;
  const { repeats } = offer.working.document;
  const plans = (repeats?.plans ?? []).flatMap((plan) =>
    repeats ? (termsOf(plan, { currency, language }, repeats) ?? []) : [],
  );
  const terms = plans[0] ?? ownTerms({ currency, price: order.total });
  const { country, group, email, returnAddress } = order;
  const customer: Customer = { country, language, group, email, returnAddress };
  const good = offer.profile.instruments.find((one) => one.case === "approved");
  try {
    const made = newSubscription(rt, await mustStand(rt, storefrontId), {
      ...{ mode: "test", origin: "rehearsal", reference, shopper, customer, terms, quantity: 1 },
    });
    await rt.db.write(made.statements);
    const scene: Scene = { rt, offer, id: made.subscription.id, good };
    const first = await payFor(rt, offer, made.checkout, instrument, { mandate: MANDATE });
    if (!first.ok) return first;
    const begun = async () => {
      const { state, instrumentId } = await now(scene);
      return state === "running" && instrumentId !== null;
    };
    await waitFor(rt, begun);
    if (!(await begun())) return { ok: false, says: said("play.not-begun"), paymentId: first.payment.id };
    const planned = await courses[script.repeats ?? "begun"](scene);
    const counted = { planned, ...(await countsOf(scene)) };
    const last = (await lastPaymentOf(scene)) ?? first.payment;
    const seen = await observe(rt, offer.working.document.capture, script, last.id);
    if (!seen.ok) return { ...seen, paymentId: last.id };
    return { ok: true, paymentId: last.id, observed: { ...seen.observed, ...counted } };
  } catch (error) {
    if (!(error instanceof Stuck)) throw error;
    const { says, paymentId } = error;
    return { ok: false, says, ...(paymentId !== undefined && { paymentId }) };
  } finally {
    await eraseShopper(rt, { storefrontId, mode: "test", shopper });
  }
}

async function now({ rt, id }: Scene): Promise<Subscription> {
  const subscription = await subscriptionOf(rt, id);
  if (!subscription) throw new Error(`subscription ${id} is gone`);
  return subscription;
}

/** What is played of a subscription that has begun; how many periods have to be paid after the first in the end. */
const courses: Record<Repeating, (scene: Scene) => Promise<number>> = {
  begun: () => Promise.resolve(0),
  charged: async (scene) => {
    await comesDue(scene);
    return 1;
  },
  rescued: async (scene) => {
    await comesDue(scene);
    await rescue(scene);
    // What the shopper paid with instead is charged from then on.
    await comesDue(scene);
    return 2;
  },
  forgotten: async (scene) => {
    const { rt, offer } = scene;
    const { instrumentId } = await now(scene);
    const by = await chargeable(rt, instrumentId);
    const line = await openLine(rt, { connectionId: offer.connection.id, mode: "test" });
    if (!by || !line) throw new Stuck(said("play.keys-gone"));
    await call(rt, line, "forget", { kept: by.kept }, { secrets: [by.kept] });
    await comesDue(scene);
    return 0;
  },
  cancelled: async (scene) => {
    const due = (await now(scene)).nextDue;
    await actOn(scene.rt, scene.id, "cancel", "shop");
    await goOn(scene.rt, scene.id, due ?? undefined);
    return 0;
  },
  "two-years": async (scene) => {
    const { schedule, createdAt, next, terms } = await now(scene);
    let planned = 0;
    while (
      schedule &&
      planned < Math.min(MOST_PERIODS, terms.times ?? MOST_PERIODS) &&
      dueAt(schedule, next + planned) <= createdAt + TWO_YEARS
    )
      planned += 1;
    for (let period = 0; period < planned; period++) await comesDue(scene);
    return planned;
  },
};

/** Turns the calendar to the next period, and waits until it is paid or refused. */
async function comesDue(scene: Scene): Promise<void> {
  const { rt, id } = scene;
  const due = (await now(scene)).nextDue;
  if (due === null) return;
  const settled = async () => {
    // What cannot be done just now is tried again, as the work in the background would.
    await goOn(rt, id, due).catch((error: unknown) => {
      if (!(error instanceof ToldError)) throw error;
    });
    const open = (await see(rt, id))?.course.open;
    return !open || open.payment === "refused";
  };
  await waitFor(rt, settled);
  if (!(await settled())) throw new Stuck(said("play.not-settled"), (await lastPaymentOf(scene))?.id);
}

/** The shopper comes to the page that they were asked to, and pays with something that is good. */
async function rescue(scene: Scene): Promise<void> {
  const { rt, offer, id, good } = scene;
  const open = (await see(rt, id))?.unsettled;
  if (!open) return;
  const paid = await payFor(rt, offer, open.checkout, good, { mandate: MANDATE });
  if (!paid.ok) throw new Stuck(paid.says, paid.paymentId);
  const runs = async () => (await now(scene)).state === "running";
  await waitFor(rt, runs);
  if (!(await runs())) throw new Stuck(said("play.not-settled"), paid.payment.id);
}

/** How often periods were paid, refused, and asked for. One that was paid twice counts twice. */
async function countsOf({ rt, id }: Scene) {
  const { orm } = rt.db;
  const [periods, events] = await Promise.all([
    orm.select().from(subscriptionPeriods).where(eq(subscriptionPeriods.subscriptionId, id)),
    orm.select().from(subscriptionEvents).where(eq(subscriptionEvents.subscriptionId, id)),
  ]);
  let renewals = 0;
  for (const { number, checkoutId } of periods)
    if (number > 0 && checkoutId)
      renewals += (await paymentsOf(rt, checkoutId)).filter(
        ({ authorised, captured }) => authorised + captured > 0,
      ).length;
  const count = (what: string) => events.filter(({ event }) => event.what === what).length;
  return { renewals, refusals: count("refused"), asked: count("asked") };
}

/** The last payment of the last period that has one. */
async function lastPaymentOf({ rt, id }: Scene): Promise<Payment | null> {
  const periods = await rt.db.orm
    .select()
    .from(subscriptionPeriods)
    .where(eq(subscriptionPeriods.subscriptionId, id))
    .orderBy(subscriptionPeriods.number);
  for (const { checkoutId } of periods.reverse()) {
    const last = checkoutId ? (await paymentsOf(rt, checkoutId)).at(-1) : undefined;
    if (last) return last;
  }
  return null;
}
