import type { PaymentReading } from "#core/profiles/answers";
import type { ProfileInstrument, ProfileMethod } from "#core/profiles/profile";
import { own } from "#core/profiles/own";
import { stateWords } from "#core/payments/facts";
import type { Run } from "./run";

type Kept = NonNullable<PaymentReading["kept"]>;

/** What a method keeps: stored where the shopper agreed, used, charged without them, shown to be good for nothing, forgotten. */
export async function kept(run: Run, method: ProfileMethod, approved: ProfileInstrument): Promise<void> {
  if (!method.keeps) return;
  const one = await stored(run, "kept", method, approved);
  if (!one) return;
  const others: (Kept | null | undefined)[] = [];
  await used(run, "kept, used", method, { kept: one.id });
  if (method.repeats) {
    await used(run, "kept, charged without the shopper", method, later(one));
    const refused = run.profile.instruments.find((each) => each.case === "renewal-refused");
    const never = refused && (await stored(run, "kept, refused later", method, refused));
    if (never) await used(run, "kept, refused later", method, later(never), ["declined"]);
    others.push(never);
  }
  if (method.verifies) others.push(await stored(run, "kept, verified", method, approved, { amount: 0 }));
  if (!run.profile.operations.forget) return;
  await forgotten(run, method, one);
  // Nothing stays kept over there; the same may have been kept several times.
  for (const other of others) if (other && other.id !== one.id) await run.ask("forget", { kept: other.id });
}

const later = ({ id, networkReference }: Kept) => ({
  ...{ kept: id, initiator: "shop" },
  ...(networkReference !== undefined && { networkReference }),
});

/** Pays with a test instrument whose shopper wants it kept, and answers where they are asked who they are. */
async function stored(
  run: Run,
  what: string,
  method: ProfileMethod,
  instrument: ProfileInstrument,
  change: Record<string, unknown> = {},
): Promise<Kept | null> {
  const order = run.order(method, instrument, {
    ...{ keep: true, initiator: "shopper", ...change },
    ...(method.repeats && { repeats: true }),
    ...(method.authentication.includes("always") && { authentication: "always" }),
  });
  const created = await run.ask("create", order);
  if (created.kind !== "answered") {
    await run.refused(what, "create", created);
    return null;
  }
  const { ref } = created.value;
  const known = run.profile.instruments.find((one) => one.case === "challenge");
  const answer = instrument.answer ?? known?.answer;
  if (run.stateOf(created.value) === "pending" && answer) await run.ask("actForShopper", { ref, answer });
  const seen = await ended(run, ref);
  const state = seen && run.stateOf(seen);
  const name = seen?.kept?.name ?? "";
  await run.hold(
    what,
    (state === "captured" || state === "authorised") && seen?.kept !== undefined,
    `${name || "It"} is kept.`,
    `It is ${state ? stateWords(state) : "not read"}, and ${seen?.kept ? "something" : "nothing"} is told to be kept: does “payment” say “kept”?`,
  );
  return seen?.kept ?? null;
}

/** Pays with what is kept. */
async function used(
  run: Run,
  what: string,
  method: ProfileMethod,
  change: Record<string, unknown>,
  wanted: readonly string[] = ["captured", "authorised"],
): Promise<void> {
  const order = run.order(method, undefined, { initiator: "shopper", ...change, token: null });
  const created = await run.ask("create", order);
  if (created.kind !== "answered") return void (await run.refused(what, "create", created));
  const seen = await ended(run, created.value.ref);
  const state = seen && run.stateOf(seen);
  await run.hold(
    what,
    state !== null && wanted.includes(state),
    `${state ? stateWords(state) : ""}.`,
    `It is ${state ? stateWords(state) : "not read"}; it should be ${wanted.join(" or ")}.`,
  );
}

/** Has it forgotten: it pays no more, and is refused as what is gone. */
async function forgotten(run: Run, method: ProfileMethod, { id }: Kept): Promise<void> {
  const what = "forget";
  const answer = await run.ask("forget", { kept: id });
  if (answer.kind !== "answered") return void (await run.refused(what, "forget", answer));
  const again = await run.ask("create", run.order(method, undefined, { token: null, kept: id }));
  const gone = again.kind === "refused" && own(run.profile.problems, again.problem.code) === "kept-gone";
  await run.hold(
    what,
    gone,
    "It pays no more.",
    again.kind === "refused"
      ? `It is refused as ${again.problem.kind} (${again.problem.code}); “problems” should say kept-gone.`
      : "It pays all the same.",
  );
}

/** A payment read back once it has come to its end; null where it cannot be read. */
async function ended(run: Run, ref: string): Promise<PaymentReading | null> {
  let read: PaymentReading | null = null;
  await run.until(async () => {
    const answered = await run.ask("read", { ref });
    read = answered.kind === "answered" ? answered.value : null;
    return read !== null && run.stateOf(read) !== "pending" && run.stateOf(read) !== "created";
  });
  return read;
}
