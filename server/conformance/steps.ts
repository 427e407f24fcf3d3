import type { CapturePolicy } from "#core/offers/offer";
import { stateWords } from "#core/payments/facts";
import type { Standing } from "#core/payments/fold";
import type { PaymentReading } from "#core/profiles/answers";
import { standingOf } from "#core/profiles/statements";
import { type GatewayAnswer, saysWhat } from "../gateway/gateway";
import { nextOf } from "../payments/steps";
import type { Order, Run } from "./run";

/** What an operation about a payment is asked with. */
export const stepOf = (order: Order, made: Pick<PaymentReading, "ref">, name: string, amount: number) => ({
  ref: made.ref,
  amount,
  currency: order.currency,
  idempotencyKey: `${name}-${made.ref}`.slice(0, 60),
});

/** Says whether what was answered leaves a payment as it must be. */
export async function expectStanding(
  run: Run,
  what: string,
  answer: GatewayAnswer<unknown>,
  holds: (standing: Standing) => boolean,
  no: string,
) {
  if (answer.kind !== "answered") return run.hold(what, false, "", saysWhat(run.profile.name, answer));
  const standing = standingOf(run.profile, answer.value as PaymentReading);
  await run.hold(what, holds(standing), `${stateWords(standing.state)}.`, no);
}

/** Takes the steps of a payment that its provider leaves to us, each once. What is refused stays as it was. */
export async function stepsTaken(run: Run, order: Order, made: PaymentReading): Promise<PaymentReading> {
  const taken = new Set<string>();
  for (let now = made; ;) {
    const standing = standingOf(run.profile, now);
    const { captured } = standing;
    const payment = {
      methodId: String(order.methodId),
      capture: order.capture as CapturePolicy,
      amount: order.amount,
      captured,
    };
    const next = nextOf(run.profile, payment, standing);
    if (!next || taken.has(next.kind)) return now;
    taken.add(next.kind);
    const answer = await run.ask(next.kind, stepOf(order, now, `step-${next.kind}`, next.amount));
    if (answer.kind !== "answered") return now;
    now = answer.value;
  }
}
