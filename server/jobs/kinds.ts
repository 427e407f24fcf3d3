import { setTimeout as wait } from "node:timers/promises";
import { said, ToldError } from "#core/said";
import { isUnsettled } from "#core/payments/fold";
import { housekeeping, threeDays, towardsProvider, towardsShop } from "#core/jobs/back-off";
import { closeSession } from "../buttons/close";
import { checkoutOf } from "../checkouts/checkouts";
import { TAKE_EVERY, takeToken } from "../checkouts/device";
import { expireCheckout, isSetAside, letGoOf } from "../checkouts/leave";
import { waitsUntil } from "../checkouts/lives";
import { outlive } from "../checkouts/outlive";
import { lookUp, lookUpWait } from "../checkouts/look-up";
import {
  checkAccount,
  followRegistrations,
  followReviews,
  followSilence,
  readRegistrationsAgain,
} from "../connections/following";
import type { Job } from "../database/rows";
import { followTroubles } from "../connections/troubles";
import { followHolds } from "../findings/held";
import { followStandings } from "../findings/standing";
import { forgetThere } from "../instruments/forget";
import { applyAgain, applyWaiting, giveUp } from "../intake/apply";
import { tellFindings } from "../notices/notices";
import { deliver } from "../outbox/deliver";
import { carryOut } from "../operations/carry-out";
import { pressedBefore } from "../operations/operations";
import { act } from "../payments/actions";
import { captureWhenDue } from "../payments/held-back";
import { takeSteps } from "../payments/steps";
import { isToBeUndone, paymentOf } from "../payments/record";
import { isThroughProvider, laneOf } from "../payments/road";
import { followDisputes, readDisputes } from "../disputes/read";
import { followPayouts, readPayouts } from "../payouts/read";
import { remind, sendReceipt } from "../receipts/receipts";
import { runRehearsal } from "../rehearsal/run";
import { judgeWalk } from "../rehearsal/walks";
import type { Runtime } from "../runtime";
import { sendAsking } from "../subscriptions/asking";
import { goOn as goOnWithSubscription } from "../subscriptions/go-on";
import { askFor } from "./jobs";
import { prune } from "./prune";
import type { Done, Kinds } from "./runner";

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const END: Done = { end: true };

/** Asks the provider about a payment whose outcome is open, until it is not. */
async function lookUpPayment(rt: Runtime, { key, progress }: Job): Promise<Done> {
  const before = await paymentOf(rt, key);
  const payment = before && (await lookUp(rt, before));
  if (!payment || !isUnsettled(payment)) return END;
  // Nobody will do any more what the provider asks for.
  if (payment.state === "pending" && (await isSetAside(rt, key)) && (await letGoOf(rt, key))) return END;
  const looks = Number(progress?.looks ?? 0);
  return { again: lookUpWait(looks), progress: { looks: looks + 1 } };
}

/** Goes on with an operation whose end is not known. */
async function goOn(rt: Runtime, { key }: Job): Promise<Done> {
  const carried = await carryOut(rt, key, { patience: 0, byWorker: true });
  return carried?.again === null || carried === null ? END : { again: carried.again };
}

/** Ends a checkout whose time is over. What has to be asked of a provider first goes into that provider's lane. */
async function expire(rt: Runtime, { key }: Job): Promise<Done> {
  const checkout = await checkoutOf(rt, key);
  if (!checkout || checkout.state !== "open") return END;
  if (checkout.expiresAt > rt.now()) return { again: checkout.expiresAt - rt.now() };
  const active = checkout.activePaymentId ? await paymentOf(rt, checkout.activePaymentId) : null;
  const until = active ? await waitsUntil(rt, active) : 0;
  if (until > rt.now()) {
    await rt.db.write([outlive(rt, checkout, until)]);
    return { again: until - rt.now() };
  }
  if (!active) await expireCheckout(rt, checkout);
  else await rt.db.write([askFor(rt, { kind: "let-go", key, lane: laneOf(active) })]);
  return END;
}

async function letGo(rt: Runtime, { key }: Job): Promise<Done> {
  const checkout = await checkoutOf(rt, key);
  if (checkout) await expireCheckout(rt, checkout);
  return END;
}

/** Lets go of what another payment has overtaken. One that was made all the same is a surplus, which is undone by itself. */
async function letGoOvertaken(rt: Runtime, { key }: Job): Promise<Done> {
  if (await letGoOf(rt, key)) return END;
  const payment = await paymentOf(rt, key);
  return payment?.state === "created" || payment?.state === "pending" ? { again: 5_000 } : END;
}

/** Asks a wallet about a request that a shopper has not come back from. */
async function take(rt: Runtime, { key }: Job): Promise<Done> {
  const waits = (checkout: Awaited<ReturnType<typeof checkoutOf>>) =>
    checkout?.state === "open" &&
    checkout.activePaymentId === null &&
    checkout.deviceAsk !== null &&
    !checkout.deviceAsk.over;
  const checkout = await checkoutOf(rt, key);
  if (!checkout || !waits(checkout)) return END;
  await takeToken(rt, checkout);
  return waits(await checkoutOf(rt, key)) ? { again: TAKE_EVERY } : END;
}

/**
 * A second yes for an order that is paid already, or one that came too late where a storefront gives that back, is let go, or
 * handed back where the money has moved. It may move just while
 * this decides which; then it is decided again. What the provider refuses is left to a person, as a finding; what is not known
 * yet has a job of its own.
 */
async function undoSurplus(rt: Runtime, { key }: Job): Promise<Done> {
  for (let attempt = 1; attempt <= 5; attempt++) {
    const payment = await paymentOf(rt, key);
    // What came without a provider goes back the same way: a person is told.
    if (!payment || !isThroughProvider(payment) || !(await isToBeUndone(rt, payment))) return END;
    const { held, captured, refunded, refunding } = payment;
    const left = captured - refunded - refunding;
    const press =
      captured === 0
        ? { kind: "void" as const, amount: held, once: `surplus-void-${held}` }
        : { kind: "refund" as const, amount: left, once: `surplus-refund-${refunded}` };
    if (press.amount <= 0) return END;
    await act(rt, "zahlung", payment, { ...press, patience: 0 });
    if (await pressedBefore(rt, key, press.once)) return END;
    await wait(200);
  }
  return END;
}

async function deliverNews(rt: Runtime, { key }: Job): Promise<Done> {
  const delivery = await deliver(rt, key);
  if (delivery.kind === "not-taken") throw new ToldError(delivery.says);
  // Without an address nothing was tried; the shop's saying where it listens wakes it.
  return delivery.kind === "taken" ? END : { again: HOUR };
}

const provider = { backOff: towardsProvider, atOnce: 24, ofOneLane: 6 };
const round = (work: (rt: Runtime) => Promise<void>) => ({
  work: async (rt: Runtime): Promise<Done> => {
    await work(rt);
    return END;
  },
  backOff: housekeeping,
  atOnce: 1,
  ofOneLane: 1,
  every: MINUTE,
});

/** What each kind of background work does. */
export const kinds: Kinds = {
  "apply-webhooks": {
    work: async (rt, { key }) => (await applyWaiting(rt, key), END),
    backOff: housekeeping,
    atOnce: 12,
    ofOneLane: 1,
  },
  "apply-webhook": {
    work: async (rt, { key }) => (await applyAgain(rt, Number(key)), END),
    backOff: threeDays,
    atOnce: 6,
    ofOneLane: 2,
    onGivenUp: (rt, { key }) => giveUp(rt, Number(key)),
  },
  "deliver-news": { work: deliverNews, backOff: towardsShop, atOnce: 48, ofOneLane: 4 },
  "look-up": { work: lookUpPayment, ...provider },
  operation: { work: goOn, ...provider },
  "expire-checkout": { work: expire, backOff: housekeeping, atOnce: 12, ofOneLane: 6 },
  "let-go": { work: letGo, ...provider },
  "let-go-payment": {
    work: letGoOvertaken,
    ...provider,
  },
  "take-token": { work: take, ...provider },
  "capture-due": {
    work: async (rt, { key }) => {
      const again = await captureWhenDue(rt, key);
      return again === null ? END : { again };
    },
    ...provider,
    ofOneLane: 2,
  },
  "take-steps": {
    work: async (rt, { key }) => {
      const again = await takeSteps(rt, key, { patience: 0 });
      return again === null ? END : { again };
    },
    ...provider,
  },
  "undo-surplus": { work: undoSurplus, ...provider, ofOneLane: 2 },
  "judge-walk": {
    work: async (rt, { key, progress }) => {
      if ((await judgeWalk(rt, key)) !== "waits") return END;
      const looks = Number(progress?.looks ?? 0);
      return { again: Math.min(500 * 2 ** looks, 8_000), progress: { looks: looks + 1 } };
    },
    ...provider,
  },
  rehearse: { work: async (rt, { key }) => (await runRehearsal(rt, key), END), ...provider, ofOneLane: 1 },
  "check-account": { work: async (rt, { key }) => (await checkAccount(rt, key), END), ...provider },
  "read-registrations": {
    work: async (rt, { key }) => (await readRegistrationsAgain(rt, key), END),
    ...provider,
  },
  "follow-reviews": round(followReviews),
  "follow-registrations": round(followRegistrations),
  "follow-silence": round(followSilence),
  "follow-holds": round(followHolds),
  "follow-standings": round(followStandings),
  "read-payouts": {
    work: async (rt, { key }) => {
      const again = await readPayouts(rt, key);
      return again === null ? END : { again };
    },
    ...provider,
    ofOneLane: 1,
  },
  "read-disputes": {
    work: async (rt, { key }) => (await readDisputes(rt, key)) ?? END,
    ...provider,
    ofOneLane: 1,
  },
  "follow-disputes": { ...round(followDisputes), every: HOUR },
  "follow-payouts": { ...round(followPayouts), every: HOUR },
  "follow-troubles": { ...round(followTroubles), every: 15_000 },
  "tell-findings": round(tellFindings),
  remind: {
    work: async (rt, { key }) => {
      const next = await remind(rt, key);
      return next === null ? END : { again: Math.max(0, next - rt.now()) };
    },
    backOff: housekeeping,
    atOnce: 4,
    ofOneLane: 2,
  },
  "send-receipt": {
    work: async (rt, { key }) => (await sendReceipt(rt, key), END),
    backOff: threeDays,
    atOnce: 4,
    ofOneLane: 2,
  },
  repeat: {
    work: async (rt, { key }) => {
      const until = await goOnWithSubscription(rt, key);
      return until === null ? END : { again: Math.max(0, until - rt.now()) };
    },
    ...provider,
  },
  "ask-shopper": {
    work: async (rt, { key }) => (await sendAsking(rt, key), END),
    backOff: threeDays,
    atOnce: 4,
    ofOneLane: 2,
  },
  "close-button": {
    work: async (rt, { key }) => {
      if (!(await closeSession(rt, key))) throw new ToldError(said("buttons.not-told"));
      return END;
    },
    backOff: towardsShop,
    atOnce: 6,
    ofOneLane: 2,
  },
  "forget-instrument": { work: async (rt, { key }) => (await forgetThere(rt, key), END), ...provider },
  prune: { ...round(async () => {}), work: async (rt) => (await prune(rt), END), every: HOUR },
};
