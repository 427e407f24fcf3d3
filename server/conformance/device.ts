import { type Said, said } from "#core/said";
import type { ProfileInstrument, ProfileMethod } from "#core/profiles/profile";
import type { TokenReading } from "#core/profiles/answers";
import { saysWhat } from "../gateway/gateway";
import type { Run } from "./run";

/** The case of a test instrument whose shopper gives no token. */
const REFUSED = "refused-on-device";

/** Tries a wallet that rides along: its look at a shop's domain, and what comes of requests to the device. */
export async function rideAlong(run: Run, method: ProfileMethod) {
  const { profile, options } = run;
  if (!options.domain)
    return run.say(
      "Requests to the device",
      null,
      "No domain was given on which the provider finds its file, so none was made.",
    );
  if (profile.file) {
    const near = /^(localhost|127\.0\.0\.1)(:|$)/.test(options.domain);
    const address = `${near ? "http" : "https"}://${options.domain}${profile.file.path[options.mode]}`;
    const looked = await run.ask("checkDomain", {
      domain: options.domain,
      address,
    });
    const ok = looked.kind === "answered" && looked.value.ok === true;
    const said = looked.kind === "answered" ? looked.value.says : saysWhat(profile.name, looked);
    await run.hold("checkDomain", ok, said, said);
    if (!ok) return;
  }
  for (const instrument of profile.instruments) await decided(run, method, instrument);
  await takenBack(run, method);
  const missing = await run.ask("readToken", { ref: "conform-nobody" });
  await run.hold(
    "readToken, nothing there",
    missing.kind === "refused" && missing.problem.kind === "not-found",
    "Refused as not found.",
    missing.kind === "refused"
      ? `It is refused as ${missing.problem.kind} (${missing.problem.code}); “problems” should say not-found.`
      : "Something was read.",
  );
}

/** Asks the device. Null, and said, when that went wrong. */
async function asked(run: Run, method: ProfileMethod, what: string): Promise<string | null> {
  const order = run.order(method);
  const made = await run.ask("requestToken", {
    ...order,
    domain: run.options.domain,
  });
  if (made.kind !== "answered") {
    await run.refused(what, "requestToken", made);
    return null;
  }
  const { ref, address } = made.value;
  if (typeof ref === "string" && typeof address === "string" && URL.canParse(address)) return ref;
  await run.hold(what, false, "", "requestToken does not give ref and address (a page for the shopper).");
  return null;
}

/** How a request stands, or why that could not be read. */
async function stateOf(run: Run, ref: string): Promise<TokenReading | { unread: Said }> {
  const read = await run.ask("readToken", { ref });
  return read.kind === "answered"
    ? read.value
    : {
        unread: said("conformance.of-operation", {
          operation: "readToken",
          because: saysWhat(run.profile.name, read),
        }),
      };
}

async function decided(run: Run, method: ProfileMethod, { case: id, answer }: ProfileInstrument) {
  const what = `Outcome ${id}`;
  const ref = await asked(run, method, what);
  if (!ref) return;
  const before = await stateOf(run, ref);
  if ("unread" in before || before.state !== "waiting")
    return run.hold(
      what,
      false,
      "",
      "unread" in before
        ? before.unread
        : `Before the shopper decides it is “${before.state}”; it should be waiting.`,
    );
  const played = await run.ask("actForShopper", { ref, answer });
  if (played.kind !== "answered") return run.refused(what, "actForShopper", played);
  const after = await stateOf(run, ref);
  if ("unread" in after) return run.hold(what, false, "", after.unread);
  const wanted = id === REFUSED ? "refused" : "given";
  const whole = after.state === wanted && (wanted === "refused" || typeof after.token === "string");
  await run.hold(
    what,
    whole,
    wanted === "given"
      ? "A token was handed over; what it pays shows at the card connection."
      : "Refused, and no token.",
    `It is “${after.state}”${after.token ? "" : " without a token"}; it should be ${wanted}.`,
  );
}

async function takenBack(run: Run, method: ProfileMethod) {
  if (!run.profile.operations.dropToken) return;
  const ref = await asked(run, method, "dropToken");
  if (!ref) return;
  const dropped = await run.ask("dropToken", { ref });
  if (dropped.kind !== "answered")
    return run.hold("dropToken", false, "", saysWhat(run.profile.name, dropped));
  const after = await stateOf(run, ref);
  const over = !("unread" in after) && after.state === "refused";
  await run.hold(
    "dropToken",
    over,
    "The request is over.",
    "unread" in after ? after.unread : `It is “${after.state}”; it should be refused.`,
  );
}
