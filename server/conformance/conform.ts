import { type Profile, type ProfileMethod, ridesAlong } from "#core/profiles/profile";
import type { Runtime } from "../runtime";
import { connect, hearMessages, unhang } from "./connecting";
import { rideAlong } from "./device";
import { happened } from "./happening";
import { kept } from "./kept";
import { moved } from "./moving";
import { askedTwice, authenticated, confirmed, found, looked, outcome } from "./paying";
import { quoted } from "./quoted";
import { openedByButton } from "./session";
import { type ConformOptions, type Finding, Run } from "./run";

/**
 * Runs a profile against its provider: the keys, the account, the rights, the webhook, every operation and every
 * outcome that it declares, with the provider's sandbox calls in the shopper's place. `rt` is a runtime of its own
 * whose intake can be reached; nothing of it is kept.
 */
export async function conform(rt: Runtime, profile: Profile, options: ConformOptions): Promise<Finding[]> {
  const run = new Run(rt, profile, options);
  await tryAll(run);
  run.of = "";
  // Nothing of the run is left at the provider.
  await unhang(run);
  return run.findings;
}

async function tryAll(run: Run): Promise<void> {
  if (!(await connect(run))) return;
  await hearMessages(run);
  if (run.profile.operations.linkedKeys)
    run.say("linkedKeys", null, "Linking was not tried: a person has to agree to it at the provider.");
  if (run.options.mode === "live") {
    await looked(run);
    return run.say("Payments", null, "Payments are not made in live: they would move money.");
  }
  for (const [i, method] of run.profile.methods.entries()) {
    run.of = i === 0 ? "" : ` (${method.id})`;
    if (run.isOff(method))
      run.say(`Method ${method.id}`, null, "It is switched off for this account over there.");
    else if (ridesAlong(run.profile)) await rideAlong(run, method);
    else if (run.profile.operations.create) await payBy(run, method);
    if (!run.isOff(method)) await openedByButton(run, method);
  }
}

/** Plays every outcome with a method, and every operation on the payments that come of it. */
async function payBy(run: Run, method: ProfileMethod): Promise<void> {
  for (const instrument of run.profile.instruments) await outcome(run, method, instrument);
  const approved = run.profile.instruments.find((one) => one.case === "approved");
  if (!approved)
    return run.say(
      "Test instruments",
      false,
      "There is none for the case “approved”, so nothing else can be tried.",
    );
  await authenticated(run, method);
  await quoted(run, method);
  for (const attempt of [confirmed, askedTwice, found, moved, happened, kept])
    await attempt(run, method, approved);
}
