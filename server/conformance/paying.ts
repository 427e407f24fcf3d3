import { decimalText } from "#core/money/money";
import { declineReasons, type DeclineReason, type PaymentState, stateWords } from "#core/payments/facts";
import { isTold } from "#core/rehearsal/judge";
import type { ProfileInstrument, ProfileMethod } from "#core/profiles/profile";
import { standingOf } from "#core/profiles/statements";
import type { PaymentReading } from "#core/profiles/answers";
import { saysWhat } from "../gateway/gateway";
import { paidOut } from "./paid-out";
import type { Order, Run } from "./run";
import { expectStanding, stepOf, stepsTaken } from "./steps";

/** Creates a payment, lets the shopper answer, and takes the steps that follow. Null, and said, when it went wrong on the way. */
export async function payAs(
  run: Run,
  what: string,
  order: Order,
  answer: string | undefined,
): Promise<PaymentReading | null> {
  const made = await agreedTo(run, what, order, answer);
  return made && stepsTaken(run, order, made);
}

/** Creates a payment and lets the shopper answer, and nothing more. */
async function agreedTo(
  run: Run,
  what: string,
  order: Order,
  answer: string | undefined,
): Promise<PaymentReading | null> {
  const created = await run.ask("create", order);
  if (created.kind !== "answered") {
    await run.refused(what, "create", created);
    return null;
  }
  if (!answer) return created.value;
  const played = await run.ask("actForShopper", { ref: created.value.ref, answer });
  if (played.kind === "answered" && "reference" in played.value) return played.value;
  if (played.kind === "answered") return created.value;
  await run.refused(what, "actForShopper", played);
  return null;
}

/** Plays one test instrument: as a shopper who goes on and, where there is that, as one who fails to. */
export async function outcome(run: Run, method: ProfileMethod, instrument: ProfileInstrument) {
  await played(run, method, instrument, instrument.case, instrument.answer);
  if (instrument.fail) await played(run, method, instrument, `${instrument.case}, failed`, instrument.fail);
}

async function played(
  run: Run,
  method: ProfileMethod,
  instrument: ProfileInstrument,
  title: string,
  answer: string | undefined,
) {
  const what = `Outcome ${title}`;
  const order = run.order(method, instrument);
  const made = await payAs(run, what, order, answer);
  if (!made) return;
  let read: PaymentReading | null = null;
  const wanted = expectedOf(instrument.case, answer !== undefined && answer === instrument.fail);
  await run.until(async () => {
    const answered = await run.ask("read", { ref: made.ref });
    read = answered.kind === "answered" ? await stepsTaken(run, order, answered.value) : null;
    return read !== null && (wanted.states.length === 0 || wanted.states.includes(run.stateOf(read)));
  });
  const seen = read as PaymentReading | null;
  if (!seen) return run.hold(what, false, "", "It could not be read back: does “read” fit?");
  const state = run.stateOf(seen);
  const same =
    seen.reference === order.reference && seen.amount === order.amount && seen.currency === order.currency;
  if (!same)
    return run.hold(
      what,
      false,
      "",
      `It was read back as ${decimalText(seen)} ${seen.currency} for ${seen.reference}, and asked for as ${decimalText(order)} ${order.currency} for ${order.reference}.`,
    );
  if (!Object.hasOwn(run.profile.statuses, seen.status))
    return run.hold(what, false, "", `The provider's word “${seen.status}” is not in “statuses”.`);
  if (wanted.states.length > 0 && !wanted.states.includes(state))
    return run.hold(
      what,
      false,
      "",
      `It is ${stateWords(state)} (“${seen.status}”); it should be ${wanted.states.map(stateWords).join(" or ")}.`,
    );
  const reason =
    seen.declineCode && Object.hasOwn(run.profile.declines, seen.declineCode)
      ? run.profile.declines[seen.declineCode]
      : undefined;
  if (wanted.reason && reason !== wanted.reason)
    return run.hold(
      what,
      false,
      "",
      `The code “${seen.declineCode ?? "none"}” means ${reason ?? "nothing"} in “declines”; this case is ${wanted.reason}.`,
    );
  const told = isTold(state, run.profile.webhooks?.silent ?? []);
  if (
    run.hears &&
    told &&
    !(await run.until(async () =>
      (await run.messages()).some((one) => one.verdict === "verified" && one.body.includes(order.reference)),
    ))
  )
    return run.hold(what, false, "", "No believed message about it arrived.");
  run.say(what, true, `${stateWords(state)}${reason ? `, ${reason}` : ""}.`);
}

/** A payment that went well, or null when it did not, which is said. */
export async function paid(
  run: Run,
  method: ProfileMethod,
  approved: ProfileInstrument,
  what: string,
  change = {},
) {
  const order = run.order(method, approved, change);
  return { order, made: await payAs(run, what, order, approved.answer) };
}

/** What it tells of asking who the shopper is, where its profile says that it does: of a payment, and of an exemption. */
export async function authenticated(run: Run, method: ProfileMethod) {
  if (run.profile.authentications === undefined || method.authentication.length === 0) return;
  const tried = [
    { case: "challenge", policy: method.authentication[0], results: ["passed", "attempted"] },
    { case: "approved", policy: "exemption", results: ["exempt"] },
  ] as const;
  for (const { case: id, policy, results } of tried) {
    const instrument = run.profile.instruments.find((one) => one.case === id);
    if (!instrument || !policy || !method.authentication.includes(policy)) continue;
    const what = `authentications, ${results[0]}`;
    const { made } = await paid(run, method, instrument, what, { authentication: policy });
    if (!made) continue;
    const { authentication } = standingOf(run.profile, made);
    await run.hold(
      what,
      authentication !== null && results.some((one) => one === authentication.result),
      `It tells ${authentication?.result ?? ""}${authentication?.liability ? `, borne by the ${authentication.liability}` : ""}.`,
      `It tells ${authentication?.result ?? "nothing"}; it should be ${results.join(" or ")}: do “payment” and “authentications” say so?`,
    );
  }
}

/** What is only prepared until it is confirmed: nothing is held before, all of it after, and once however often it is asked. */
export async function confirmed(run: Run, method: ProfileMethod, approved: ProfileInstrument) {
  const { confirm } = run.profile.operations;
  if (!confirm) return;
  const order = run.order(method, approved);
  const made = await agreedTo(run, "confirm", order, approved.answer);
  if (!made) return;
  const before = standingOf(run.profile, made);
  await run.hold(
    "create, to be confirmed",
    before.toConfirm && before.held === 0,
    "Prepared; nothing is held.",
    `It is ${stateWords(before.state)} (“${made.status}”): a status that means to-confirm should say that it waits for “confirm”.`,
  );
  const input = stepOf(order, made, "confirm", order.amount);
  const again = confirm.idempotent ? (["confirm", "confirm, asked twice"] as const) : (["confirm"] as const);
  for (const what of again)
    await expectStanding(
      run,
      what,
      await run.ask("confirm", input),
      ({ held, captured }) => held + captured === order.amount,
      "What was asked for must be held or captured after it.",
    );
}

/** Asking twice for the same. */
export async function askedTwice(run: Run, method: ProfileMethod, approved: ProfileInstrument) {
  const { operations } = run.profile;
  if (operations.create?.idempotent) {
    const order = run.order(method, approved);
    const [first, second] = [await run.ask("create", order), await run.ask("create", order)];
    const once =
      first.kind === "answered" && second.kind === "answered" && first.value.ref === second.value.ref;
    await run.hold(
      "create, asked twice",
      once,
      "One payment.",
      "The same idempotency key made two payments, or the second was refused; “idempotent” is not true.",
    );
  }
}

/** Reading: by our reference, by the provider's, the list, and what is not there. */
export async function found(run: Run, method: ProfileMethod, approved: ProfileInstrument) {
  const { operations } = run.profile;
  if (operations.find) {
    const { order, made } = await paid(run, method, approved, "find");
    const answer = made && (await run.ask("find", { reference: order.reference }));
    const ok =
      answer?.kind === "answered" &&
      answer.value.payments.length === 1 &&
      answer.value.payments[0]?.ref === made?.ref;
    if (made)
      await run.hold(
        "find",
        ok,
        "Found by our reference, once.",
        answer?.kind === "answered"
          ? `${answer.value.payments.length} were found; is “response” the list, and does the address carry the reference?`
          : "It was not answered.",
      );
  }
  await looked(run, true);
}

/** What can be asked without moving money: the list, and what is not there. `some`: the list must not be empty. */
export async function looked(run: Run, some = false) {
  const { operations } = run.profile;
  if (operations.find) {
    const none = await run.ask("find", { reference: "conform-nobody" });
    const empty =
      (none.kind === "answered" && none.value.payments.length === 0) ||
      (none.kind === "refused" && none.problem.kind === "not-found");
    await run.hold(
      "find, nothing there",
      empty,
      "Nothing was found.",
      "A reference that nobody used finds something, or is refused otherwise than as not-found.",
    );
  }
  if (operations.list) {
    const list = await run.ask("list", {});
    await run.hold(
      "list",
      list.kind === "answered" && (!some || list.value.payments.length > 0),
      "Payments are listed.",
      list.kind === "answered" ? "The list is empty." : saysWhat(run.profile.name, list),
    );
  }
  await paidOut(run);
  if (!operations.read) return;
  const missing = await run.ask("read", { ref: "conform-nobody" });
  await run.hold(
    "read, nothing there",
    missing.kind === "refused" && missing.problem.kind === "not-found",
    "Refused as not found.",
    missing.kind === "refused"
      ? `It is refused as ${missing.problem.kind} (${missing.problem.code}); “problems” should say not-found.`
      : "Something was read.",
  );
}

/** The states a case may end in, and the reason it must be declined for. An unknown case only has to end. */
function expectedOf(id: string, failed: boolean): { states: PaymentState[]; reason?: DeclineReason } {
  if (id === "challenge" && failed) return { states: ["declined"], reason: "authentication-failed" };
  if (id === "challenge" || id.startsWith("approved")) return { states: ["captured", "authorised"] };
  if (id === "processing-error") return { states: ["failed"] };
  const reason = declineReasons.find((one) => one === id);
  return reason ? { states: ["declined"], reason } : { states: [] };
}
