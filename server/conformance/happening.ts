import type { Standing } from "#core/payments/fold";
import type { ProfileInstrument, ProfileMethod, SandboxPlay } from "#core/profiles/profile";
import { own } from "#core/profiles/own";
import { standingOf } from "#core/profiles/statements";
import { saysWhat } from "../gateway/gateway";
import { expectStanding, stepOf } from "./steps";
import { paid } from "./paying";
import type { Run } from "./run";

/** What banks, shoppers and time do to a payment, as far as the sandbox can play it. */
export async function happened(run: Run, method: ProfileMethod, approved: ProfileInstrument) {
  const { plays = {}, operations } = run.profile;
  if (plays["authorisation-ends"] !== undefined && method.capture.includes("later"))
    await ends(run, method, approved, "authorisation-ends", ({ held }) => held === 0);
  const waits = { ...approved, answer: undefined };
  if (plays["payment-ends"] !== undefined)
    await ends(run, method, waits, "payment-ends", ({ state }) => state === "expired" || state === "voided");
  if (plays["shopper-leaves"] !== undefined)
    await ends(
      run,
      method,
      waits,
      "shopper-leaves",
      ({ state }) => state === "cancelled" || state === "voided",
    );
  await reviewed(run, method);
  if (plays["dispute-opens"] === undefined) return;
  if (plays["dispute-won"] !== undefined) {
    const open = await disputed(run, method, approved, "dispute, won");
    if (open && operations.answerDispute)
      await expectStanding(
        run,
        "answerDispute",
        await run.ask("answerDispute", {
          ...open,
          text: "The kite was handed over.",
          idempotencyKey: `a-${open.ref}`,
        }),
        ({ dispute }) => dispute?.state === "answered",
        "After the answer the dispute must be “answered” by the words in “disputes”.",
      );
    if (open)
      await decided(
        run,
        open.ref,
        "dispute-won",
        ({ dispute, inDispute }) => dispute?.state === "won" && inDispute === 0,
      );
  }
  if (plays["dispute-lost"] !== undefined) {
    const open = await disputed(run, method, approved, "dispute, lost");
    if (open)
      await decided(
        run,
        open.ref,
        "dispute-lost",
        ({ dispute, lost }) => dispute?.state === "lost" && lost > 0,
      );
  }
  if (!operations.acceptDispute) return;
  const open = await disputed(run, method, approved, "acceptDispute");
  if (open)
    await expectStanding(
      run,
      "acceptDispute",
      await run.ask("acceptDispute", { ...open, idempotencyKey: `b-${open.ref}` }),
      ({ dispute }) => dispute?.state === "lost",
      "After it was accepted the dispute must be “lost” by the words in “disputes”.",
    );
}

const play = (run: Run, ref: string, name: SandboxPlay) =>
  run.ask("actForShopper", { ref, answer: run.profile.plays?.[name] });

async function ends(
  run: Run,
  method: ProfileMethod,
  instrument: Pick<ProfileInstrument, "answer" | "token">,
  name: SandboxPlay,
  holds: (standing: Standing) => boolean,
) {
  const what = `Play ${name}`;
  const { made } = await paid(run, method, instrument as ProfileInstrument, what, {
    capture: method.capture.includes("later") ? "later" : "at-once",
  });
  if (!made) return;
  await expectStanding(
    run,
    what,
    await play(run, made.ref, name),
    holds,
    "Nothing may be held any more, and nobody may pay it: do “statuses” say so?",
  );
}

/** A check for fraud that waits for the shop: once it lets the payment go on, once it does not. */
async function reviewed(run: Run, method: ProfileMethod): Promise<void> {
  const watched = run.profile.instruments.find((one) => one.case === "fraud-review");
  if (!run.profile.operations.decideReview || !watched) return;
  for (const [decision, becomes] of [
    ["pass", "passed"],
    ["refuse", "refused"],
  ] as const) {
    const what = `decideReview, ${decision}`;
    const order = run.order(method, watched);
    const made = await run.ask("create", order);
    if (made.kind !== "answered") {
      await run.refused(what, "create", made);
      continue;
    }
    const { ref } = made.value;
    const { review } = standingOf(run.profile, made.value);
    if (review !== "open") {
      await run.hold(
        what,
        false,
        "",
        `Its review is “${review ?? ""}”; it should be open: do “reviews” say so?`,
      );
      continue;
    }
    await expectStanding(
      run,
      what,
      await run.ask("decideReview", { ref, decision, idempotencyKey: `${decision}-${ref}`.slice(0, 60) }),
      ({ review: now, held }) => now === becomes && (decision === "pass" || held === 0),
      `The review must be “${becomes}”${decision === "pass" ? "" : ", and nothing held any more"}.`,
    );
  }
}

/** A captured payment whose charge the card holder disputes; null when it went wrong, which is said. */
async function disputed(run: Run, method: ProfileMethod, approved: ProfileInstrument, what: string) {
  const { order, made } = await paid(run, method, approved, what, { capture: method.capture[0] });
  if (!made) return null;
  if (run.stateOf(made) === "authorised")
    await run.ask("capture", { ...stepOf(order, made, "capture", order.amount), final: true });
  const answer = await play(run, made.ref, "dispute-opens");
  let id: string | undefined;
  await expectStanding(
    run,
    `${what}: opens`,
    answer,
    ({ dispute, inDispute }) => {
      id = dispute?.id;
      return dispute?.state === "open" && inDispute > 0;
    },
    "The payment must hold a dispute that is “open”, with its amount.",
  );
  if (id === undefined) return null;
  await listed(run, { ref: made.ref, reference: order.reference, dispute: id });
  return { ref: made.ref, dispute: id };
}

/** Whether the list of disputes, where there is one, has an open one, and names its payment. */
async function listed(run: Run, open: { ref: string; reference: string; dispute: string }): Promise<void> {
  if (!run.profile.operations.listDisputes) return;
  let after = "";
  for (let page = 0; page < 200; page++) {
    const list = await run.ask("listDisputes", { since: new Date(0).toISOString(), after });
    if (list.kind !== "answered")
      return run.hold("listDisputes", false, "", saysWhat(run.profile.name, list));
    const { disputes, next } = list.value;
    const found = disputes.find(({ id }) => id === open.dispute);
    if (found)
      return run.hold(
        "listDisputes",
        (found.reference === open.reference || found.ref === open.ref) &&
          own(run.profile.disputes ?? {}, found.state) === "open",
        "The dispute is listed with its payment.",
        `It is listed as “${found.state}” of the payment “${found.reference ?? found.ref ?? ""}”: do “reference” or “ref” name it, and do “disputes” say “open”?`,
      );
    if (next === undefined || next === after) break;
    after = next;
  }
  return run.hold("listDisputes", false, "", `The dispute ${open.dispute} is not in the list.`);
}

const decided = async (run: Run, ref: string, name: SandboxPlay, holds: (standing: Standing) => boolean) =>
  expectStanding(
    run,
    `Play ${name}`,
    await play(run, ref, name),
    holds,
    "The dispute must end as it was played: do “disputes” say so?",
  );
