import { type PaymentState, stateWords } from "#core/payments/facts";
import type { PaymentReading } from "#core/profiles/answers";
import type { ProfileInstrument, ProfileMethod } from "#core/profiles/profile";
import { type GatewayAnswer, saysWhat } from "../gateway/gateway";
import { paid } from "./paying";
import type { Run } from "./run";
import { expectStanding, stepOf } from "./steps";

async function expectState(
  run: Run,
  what: string,
  answer: GatewayAnswer<PaymentReading>,
  state: PaymentState,
  sums: Partial<PaymentReading>,
) {
  if (answer.kind !== "answered") return run.hold(what, false, "", saysWhat(run.profile.name, answer));
  const found = run.stateOf(answer.value);
  const off = Object.entries(sums).filter(
    ([name, sum]) => answer.value[name as keyof PaymentReading] !== sum,
  );
  await run.hold(
    what,
    found === state && off.length === 0,
    `${stateWords(found)}.`,
    found !== state
      ? `It is ${stateWords(found)}; it should be ${stateWords(state)}.`
      : off
          .map(
            ([name, sum]) =>
              `${name} is ${String(answer.value[name as keyof PaymentReading])} and should be ${String(sum)}`,
          )
          .join("; "),
  );
}

/** Capturing, letting go, giving back: each from a payment of its own. */
export async function moved(run: Run, method: ProfileMethod, approved: ProfileInstrument) {
  const { operations } = run.profile;
  const later = method.capture.includes("later");
  const half = (amount: number) => Math.floor(amount / 2);
  const start = (what: string, capture: "later" | "at-once") =>
    paid(run, method, approved, what, { capture });
  if (later && operations.capture) {
    const { order, made } = await start("capture", "later");
    if (made) {
      await run.hold(
        "create, captured later",
        run.stateOf(made) === "authorised" || approved.answer === undefined,
        "Held.",
        `It is ${stateWords(run.stateOf(made))}; it should be authorised.`,
      );
      await expectState(
        run,
        "capture",
        await run.ask("capture", stepOf(order, made, "capture", order.amount)),
        "captured",
        { captured: order.amount },
      );
    }
  }
  if (later && method.severalCaptures && operations.capture) {
    const { order, made } = await start("capture in two parts", "later");
    if (made) {
      const [first, second] = [half(order.amount), order.amount - half(order.amount)];
      const part = { ...stepOf(order, made, "first", first), final: false };
      await run.ask("capture", part);
      const rest = { ...stepOf(order, made, "second", second), final: true };
      await expectState(run, "capture in two parts", await run.ask("capture", rest), "captured", {
        captured: order.amount,
      });
    }
  }
  if (later && operations.release) {
    const { order, made } = await start("release in part", "later");
    if (made) {
      const part = half(order.amount);
      await expectStanding(
        run,
        "release in part",
        await run.ask("release", stepOf(order, made, "release", part)),
        ({ held, released }) => held === order.amount - part && released === part,
        `What is held must be less by what was let go: “authorised” stays as it was, and “released” or “releases” says how much.`,
      );
    }
  }
  if (later && method.void && operations.void) {
    const { order, made } = await start("void", "later");
    if (made)
      await expectState(
        run,
        "void",
        await run.ask("void", stepOf(order, made, "void", order.amount)),
        "voided",
        {},
      );
  }
  if (method.refund && operations.refund) {
    const { order, made } = await start("refund", "at-once");
    if (made) {
      const input = stepOf(order, made, "refund", order.amount);
      await expectState(run, "refund", await run.ask("refund", input), "refunded", {
        refunded: order.amount,
      });
      if (operations.refund.idempotent)
        await expectState(run, "refund, asked twice", await run.ask("refund", input), "refunded", {
          refunded: order.amount,
        });
    }
  }
  if (method.partialRefund && operations.refund) {
    const { order, made } = await start("refund in part", "at-once");
    if (made) {
      await expectState(
        run,
        "refund in part",
        await run.ask("refund", stepOf(order, made, "part", half(order.amount))),
        "partly-refunded",
        { refunded: half(order.amount) },
      );
      const tooMuch = await run.ask("refund", stepOf(order, made, "more", order.amount));
      await run.hold(
        "refund beyond what was taken",
        tooMuch.kind === "refused" && tooMuch.problem.kind !== "provider-fault",
        "Refused.",
        "It was not refused, or with a code that “problems” does not know.",
      );
    }
  }
}
