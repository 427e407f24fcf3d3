import { setTimeout as wait } from "node:timers/promises";
import { type NextStep, nextStep } from "#core/operations/next-step";
import {
  type AskOutcome,
  isUnderWay,
  type LookOutcome,
  movedOf,
  outcomeOfRefusal,
  showsIn,
} from "#core/operations/operation";
import { isOver } from "#core/payments/fold";
import type { PaymentReading } from "#core/profiles/answers";
import type { OperationName } from "#core/profiles/profile";
import { said, type Told } from "#core/said";
import { guardFailed } from "../database/guard";
import type { Statement } from "../database/open";
import type { Operation, Payment } from "../database/rows";
import { call, type GatewayAnswer, type Line, lineOf, type RimFault, saysWhat } from "../gateway/gateway";
import { opening } from "../findings/record";
import { askFor, takeOff } from "../jobs/jobs";
import { recordReading } from "../payments/readings";
import { paymentOf, recordFacts } from "../payments/record";
import { laneOf } from "../payments/road";
import type { Runtime } from "../runtime";
import { changed, operationOf, takeUp } from "./operations";

export interface CarryOptions {
  /** What the request carries beside the payment; where it is needed and no longer there, the provider is not asked again. */
  input?: Readonly<Record<string, unknown>>;
  /** Values that no exchange may keep. */
  secrets?: string[];
  /** A rehearsal's fault: what is made of the first asking. */
  fault?: RimFault;
  /** For how long whoever waits is kept waiting between steps, milliseconds; the worker goes on after that. */
  patience?: number;
  /** Whether the worker does it, which comes back by itself. */
  byWorker?: boolean;
  /** Whether this is who wrote the operation just now, and asks for the first time. */
  first?: boolean;
}

/** One operation with what carrying it out needs. */
interface Job {
  rt: Runtime;
  operation: Operation;
  payment: Payment;
  line: Line;
  options: CarryOptions;
}

/** How an operation stands after it was gone on with, and when the worker is to go on; null: it has ended. */
export interface CarriedOut {
  operation: Operation;
  again: number | null;
}

/**
 * Goes on with an operation, step after step as `nextStep` decides, until its end is known or patience is over; the worker
 * goes on from there, also when this process is gone.
 */
export async function carryOut(
  rt: Runtime,
  id: string,
  options: CarryOptions = {},
): Promise<CarriedOut | null> {
  const patience = performance.now() + (options.patience ?? rt.settings.providerTimeout * 2);
  // The worker comes when the time to wait is over.
  let waited = options.byWorker === true;
  for (let first = options.first === true; ; first = false) {
    const operation = await operationOf(rt, id);
    const payment = operation && (await paymentOf(rt, operation.paymentId));
    if (!operation || !payment) return null;
    // A question stays one until somebody answers it.
    if (!isUnderWay(operation.state) || operation.state === "question") return { operation, again: null };
    const line = await lineOf(rt, payment);
    if (!line) return { operation, again: WITHOUT_KEYS };
    const job: Job = { rt, operation, payment, line, options };
    const step: NextStep = first ? { do: "ask", after: 0 } : nextStep(seenOf(job));
    if (!("after" in step)) {
      await unlessOvertaken(() => end(job, step));
      continue;
    }
    const after = waited ? 0 : step.after;
    waited = false;
    if (after > 0 && performance.now() + after > patience) {
      if (!options.byWorker) await later(job, after);
      return { operation, again: after };
    }
    await wait(after);
    await unlessOvertaken(() => (step.do === "ask" ? ask(job, first) : lookUp(job)));
  }
}

/** Somebody else may have gone on with it meanwhile: then nothing was written, and what they made of it is read anew. */
async function unlessOvertaken(work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    if (!guardFailed(error)) throw error;
  }
}

/** How long until keys that are gone are looked for again. */
const WITHOUT_KEYS = 600_000;

const isCreate = ({ kind }: Operation) => kind === "create";
/** Whether there is no payment without it. */
const makesPayment = ({ kind }: Operation) => kind === "create" || kind === "confirm";

function seenOf({ rt, operation, line, options }: Job) {
  const { operations } = line.profile;
  const { asks, asked, looks, looked, retryAfter, at, kind } = operation;
  return {
    idempotent: operations[kind as OperationName]?.idempotent === true,
    askable: !isCreate(operation) || options.input !== undefined,
    canLookUp: (isCreate(operation) ? operations.find : (operations.read ?? operations.find)) !== undefined,
    asks,
    asked,
    looks,
    looked,
    age: rt.now() - at,
    retryAfter,
  };
}

/** Asks the provider to do it. Every asking is counted before it goes out, so that none is forgotten. */
async function ask(job: Job, first: boolean): Promise<void> {
  const { rt, payment, line, options } = job;
  let { operation } = job;
  if (!first) {
    const counted = {
      asks: operation.asks + 1,
      asked: null,
      looks: 0,
      looked: null,
      state: "asked" as const,
    };
    await rt.db.write(changed(rt, operation, counted));
    operation = { ...operation, ...counted };
  }
  const answer = (await call(
    rt,
    line,
    operation.kind as OperationName,
    inputOf(operation, payment, options),
    {
      paymentId: payment.id,
      checkoutId: payment.checkoutId,
      ...(options.secrets && { secrets: options.secrets }),
      ...(first && options.fault && { fault: options.fault }),
    },
  )) as GatewayAnswer<PaymentReading>;
  if (answer.kind === "answered") {
    const done = changed(rt, operation, { asked: "answered", state: "done", endedAt: rt.now() });
    await recordReading(rt, line.profile, payment, answer.value, "answer", [
      ...done,
      takeOff("operation", operation.id),
    ]);
    return;
  }
  const asked = outcomeOf(answer, first && options.patience !== 0);
  const change: Partial<Operation> = {
    asked,
    state: asked === "silence" ? "unknown" : "asked",
    retryAfter: retryAfterOf(answer),
    // What was left alone was not asked.
    ...(answer.kind === "left-alone" && { asks: Math.max(1, operation.asks - (first ? 0 : 1)) }),
    code:
      answer.kind === "refused" ? answer.problem.code : answer.kind === "left-alone" ? "left-alone" : null,
    says: saysWhat(line.profile.name, answer),
  };
  const next = nextStep(seenOf({ ...job, operation: { ...operation, ...change } }));
  const isRefusal = answer.kind === "refused" || asked === "refused";
  if (!isRefusal || next.do !== "end") return rt.db.write(changed(rt, operation, change));
  await refused({ ...job, operation }, change, answer.kind === "refused" ? answer.problem.text : answer.says);
}

/**
 * What no request went out for was refused: there is nothing to look up. Where the provider is left alone, whoever waits is
 * told so at once; what nobody waits for is done when it answers again.
 */
function outcomeOf(answer: Unanswered, waits: boolean): AskOutcome {
  if (answer.kind === "refused") return outcomeOfRefusal(answer.problem.kind);
  if (answer.kind === "left-alone") return waits ? "refused" : "busy";
  return answer.because === "not-allowed" ? "refused" : "silence";
}

const retryAfterOf = (answer: Unanswered): number | null =>
  answer.kind === "left-alone" ? answer.for : (answer.kind === "refused" && answer.retryAfter) || null;

type Unanswered = Exclude<GatewayAnswer<unknown>, { kind: "answered" }>;

/** Ends an operation that the provider refused, with what follows for its payment. */
async function refused(job: Job, change: Partial<Operation>, text: Told): Promise<void> {
  const { rt, operation, payment, line } = job;
  const statements = [
    ...changed(rt, operation, { ...change, state: "refused", endedAt: rt.now() }),
    takeOff("operation", operation.id),
  ];
  if (isCreate(operation)) return neverMade(job, "answer", change.code ?? "refused", text, statements);
  await rt.db.write(statements);
  // What was refused may have been decided on an old picture; the newest is read.
  const reading = await readAtProvider(rt, line, payment);
  const recorded = reading && (await recordReading(rt, line.profile, payment, reading, "look-up"));
  // What cannot be confirmed comes to nothing, also where the provider still waits for it.
  if (operation.kind === "confirm" && (recorded?.standing.toConfirm ?? true))
    await neverMade(job, "answer", change.code ?? "refused", text, []);
}

const inputOf = (operation: Operation, payment: Payment, { input }: CarryOptions) =>
  isCreate(operation)
    ? { ...input, idempotencyKey: operation.idempotencyKey }
    : {
        ref: payment.providerRef,
        amount: operation.amount,
        currency: payment.currency,
        final: operation.final,
        reference: payment.reference,
        operationReference: operation.id,
        idempotencyKey: operation.idempotencyKey,
      };

/** Asks the provider what became of it, records what is told, and holds it against what was before. */
async function lookUp(job: Job): Promise<void> {
  const { rt, operation } = job;
  const looked = isCreate(operation) ? await lookForCreated(job) : await lookForMoved(job);
  await rt.db.write(changed(rt, operation, { looked, looks: operation.looks + 1 }));
}

async function lookForCreated({ rt, payment, line }: Job): Promise<LookOutcome> {
  const marks = { paymentId: payment.id, checkoutId: payment.checkoutId };
  const answer = await call(rt, line, "find", { reference: payment.reference }, marks);
  if (answer.kind === "refused" && answer.problem.kind === "not-found") return "absent";
  if (answer.kind !== "answered") return "silence";
  const found = answer.value.payments.find((one) => one.reference === payment.reference);
  if (!found) return "absent";
  await recordReading(rt, line.profile, payment, found, "look-up");
  return "there";
}

async function lookForMoved({ rt, operation, payment, line }: Job): Promise<LookOutcome> {
  const reading = await readAtProvider(rt, line, payment);
  const recorded = reading && (await recordReading(rt, line.profile, payment, reading, "look-up"));
  if (!recorded) return "silence";
  const { kind, amount, before } = operation;
  // What was not held yet is let go of without any money that could show it.
  const over = kind === "void" && isOver(recorded.standing.state);
  const confirmed = kind === "confirm" && !recorded.standing.toConfirm;
  return over || confirmed || showsIn(kind, amount, before, movedOf(recorded.standing)) ? "there" : "absent";
}

/** A payment as its provider reports it now; null when it does not say. */
export async function readAtProvider(
  rt: Runtime,
  line: Line,
  payment: Payment,
): Promise<PaymentReading | null> {
  const marks = { paymentId: payment.id, checkoutId: payment.checkoutId };
  if (line.profile.operations.read && payment.providerRef) {
    const answer = await call(rt, line, "read", { ref: payment.providerRef }, marks);
    return answer.kind === "answered" ? answer.value : null;
  }
  const answer = await call(rt, line, "find", { reference: payment.reference }, marks);
  if (answer.kind !== "answered") return null;
  return answer.value.payments.find((one) => one.reference === payment.reference) ?? null;
}

/** Writes how an operation ended, or that only a person can say. */
async function end(job: Job, step: Extract<NextStep, { do: "end" | "ask-person" }>): Promise<void> {
  const { rt, operation, payment, line } = job;
  const provider = line.profile.name;
  if (step.do === "ask-person") {
    const question = { state: "question" as const, says: said("operations.question", { provider }) };
    const { kind, amount } = operation;
    const sum = { amount, currency: payment.currency };
    await rt.db.write([
      ...changed(rt, operation, question),
      ...(payment.origin === "rehearsal"
        ? []
        : [opening(rt, payment, { kind: "question", detail: operation.id, values: { kind, sum } })]),
      takeOff("operation", operation.id),
    ]);
    return;
  }
  if (step.as === "refused") return refused(job, {}, operation.says ?? "");
  const says = step.as === "nothing" ? said("operations.nothing", { provider }) : null;
  const statements = [
    ...changed(rt, operation, { state: step.as, says, endedAt: rt.now() }),
    takeOff("operation", operation.id),
    // What follows a confirmation was looked for while it was still under way.
    ...(step.as === "done" && operation.kind === "confirm"
      ? [askFor(rt, { kind: "take-steps", key: payment.id, lane: laneOf(payment) })]
      : []),
  ];
  if (step.as === "done" || !makesPayment(operation)) {
    await rt.db.write(statements);
    return rt.nudge();
  }
  await neverMade(job, "look-up", "absent", said("look-up.no-record", { provider }), statements);
}

/** Says of a payment that the provider refused to make it, or has never heard of it. */
async function neverMade(
  { rt, payment }: Job,
  source: "answer" | "look-up",
  code: string,
  text: Told,
  statements: readonly Statement[],
): Promise<void> {
  const statement = { object: "attempt", state: "failed", code, text } as const;
  await recordFacts(rt, payment.id, [{ key: `${source}:failed:${code}`, source, at: rt.now(), statement }], {
    with: statements,
  });
}

/** Leaves the rest to the worker. Whoever waits for a payment to be made sees that it waits. */
async function later({ rt, operation, payment }: Job, after: number): Promise<void> {
  const statements = [takeUp(rt, operation, laneOf(payment), after)];
  if (!isCreate(operation)) return rt.db.write(statements);
  const statement = { object: "attempt", state: "unanswered" } as const;
  await recordFacts(
    rt,
    payment.id,
    [{ key: "zahlung:unanswered", source: "zahlung", at: rt.now(), statement }],
    { with: statements },
  );
}

/** Looks an operation up at once, whatever its turn, and goes on from what is found. */
export async function lookUpNow(rt: Runtime, operation: Operation): Promise<CarriedOut | null> {
  const payment = await paymentOf(rt, operation.paymentId);
  const line = payment && (await lineOf(rt, payment));
  if (!payment || !line) return null;
  await unlessOvertaken(() => lookUp({ rt, operation, payment, line, options: {} }));
  return carryOut(rt, operation.id, { patience: 0 });
}
