import type { Payment } from "../database/rows";
import { call, lineOf, saysWhat } from "../gateway/gateway";
import { lookUp } from "../checkouts/look-up";
import { asksDevice } from "../checkouts/device";
import { act } from "../payments/actions";
import { paymentOf } from "../payments/record";
import { throughProvider } from "../payments/road";
import { confirmBy, isUnderWay } from "../payments/steps";
import type { Runtime } from "../runtime";
import type { OfferWithRevisions } from "../storefronts/now";
import type { ProfileInstrument, SandboxPlay } from "#core/profiles/profile";
import { type AnswerFault, type RehearsalCase, standsForShopper, type Step } from "#core/rehearsal/script";
import { said, type Told } from "#core/said";
import { forge } from "./forge";
import { waitFor, webhooksAbout } from "./observe";

/** What the steps of a case are played with. */
export interface Stage {
  rt: Runtime;
  offer: OfferWithRevisions;
  script: RehearsalCase;
  instrument: ProfileInstrument;
  payment: Payment;
}

/** Plays the steps after the payment was asked for. Returns what got in the way, or null. */
export async function playSteps(stage: Stage): Promise<Told | null> {
  const { rt, offer, script, instrument } = stage;
  const { fault } = script;
  const asksElsewhere = instrument.answer && !asksDevice(offer) && fault !== "other-amount";
  if (asksElsewhere && !script.steps.some(standsForShopper)) {
    // The shopper goes on at the provider's before anything else can happen.
    const say = await shopperActs(stage, instrument.answer ?? "");
    if (say) return say;
    const heldBack = fault === "reorder-webhooks" || fault === "delay-webhooks";
    await waitFor(rt, async () => {
      const payment = await now(stage);
      return heldBack || (payment.state !== "pending" && !(await isUnderWay(rt, payment)));
    });
  }
  for (const step of script.steps) {
    const say = await playStep(stage, step);
    if (say) return say;
  }
  return null;
}

const now = async ({ rt, payment }: Stage): Promise<Payment> => (await paymentOf(rt, payment.id)) ?? payment;

async function playStep(stage: Stage, step: Step): Promise<Told | null> {
  const { rt, offer, instrument } = stage;
  switch (step.do) {
    case "answer": {
      if (step.as !== "again")
        return shopperActs(stage, (step.as === "pass" ? instrument.answer : instrument.fail) ?? "");
      const good = offer.profile.instruments.find((one) => one.case === "approved");
      return tellSandbox(stage, good?.answer ?? "");
    }
    case "confirm":
      return confirm(stage, step.answer);
    case "take": {
      const payment = await now(stage);
      return payment.state === "authorised"
        ? move(stage, { do: "move", kind: "capture", share: "all" })
        : null;
    }
    case "move":
      return move(stage, step);
    case "play":
      return play(stage, step.what);
    case "look-up": {
      const payment = await now(stage);
      const kept = (one: { outcome: string }) => one.outcome === "lost" || one.outcome === "held";
      await waitFor(rt, async () => (await webhooksAbout(rt, payment)).some(kept));
      await lookUp(rt, payment);
      return null;
    }
    case "forge-webhook":
      return forge(rt, throughProvider(await now(stage)));
  }
}

/** Confirms what the shopper has agreed to, as soon as the provider says so, with what is made of its answer. */
async function confirm({ rt, payment }: Stage, answer: AnswerFault): Promise<Told | null> {
  const line = await lineOf(rt, payment);
  if (!line) return said("play.keys-gone");
  let confirmed = false;
  await waitFor(rt, async () => (confirmed = await confirmBy(rt, line, payment.id, answer)));
  return confirmed ? null : said("play.nothing-to-confirm", { provider: line.profile.name });
}

async function move(stage: Stage, step: Extract<Step, { do: "move" }>): Promise<Told | null> {
  const { rt } = stage;
  const payment = await now(stage);
  const { kind, share, final, answer } = step;
  const half = Math.floor(payment.amount / 2);
  const amount = { all: payment.amount, half, rest: payment.amount - half }[share];
  const acted = await act(rt, "rehearsal", payment, {
    ...{ kind, amount, once: `rehearsed-${kind}-${share}` },
    ...(final && { final }),
    ...(answer && { fault: answer }),
  });
  return acted.ok ? null : acted.says;
}

/** Whether what was played has come to be known here. */
const isKnown: Record<SandboxPlay, (payment: Payment) => boolean> = {
  "authorisation-ends": ({ held }) => held === 0,
  "dispute-opens": ({ dispute }) => dispute === "open",
  "dispute-won": ({ dispute }) => dispute === "won",
  "dispute-lost": ({ dispute }) => dispute === "lost",
  "payment-ends": ({ state }) => state !== "pending",
  "shopper-leaves": ({ state }) => state !== "pending",
};

async function play(stage: Stage, what: SandboxPlay): Promise<Told | null> {
  const asksFirst = what === "payment-ends" || what === "shopper-leaves";
  if (!asksFirst) await waitFor(stage.rt, async () => (await now(stage)).authorised > 0);
  const word = stage.offer.profile.plays?.[what] ?? "";
  const say = asksFirst ? await shopperActs(stage, word) : await tellSandbox(stage, word);
  if (say) return say;
  await waitFor(stage.rt, async () => isKnown[what](await now(stage)));
  return null;
}

/** The shopper does what a payment that is pending asks of them. */
async function shopperActs(stage: Stage, answer: string): Promise<Told | null> {
  const { state } = await now(stage);
  if (state !== "pending") return said("play.payment-should-wait-shopper", { state });
  return tellSandbox(stage, answer);
}

/** Has the sandbox do something with a payment. What comes of it is news to Zahlung only by webhook or look-up. */
async function tellSandbox(stage: Stage, answer: string): Promise<Told | null> {
  const { rt } = stage;
  const payment = await now(stage);
  const line = await lineOf(rt, payment);
  if (!line) return said("play.keys-gone");
  const marks = { paymentId: payment.id, checkoutId: payment.checkoutId };
  const answered = await call(rt, line, "actForShopper", { ref: payment.providerRef, answer }, marks);
  return answered.kind === "answered" ? null : saysWhat(line.profile.name, answered);
}
