import type { Profile } from "#core/profiles/profile";
import type { Runtime } from "../runtime";
import { connect, hearMessages } from "./connecting";
import { operations, outcome } from "./paying";
import { type ConformOptions, type Finding, Run } from "./run";

/**
 * Runs a profile against its provider: the keys, the account, the rights, the webhook, every operation and every
 * outcome that it declares, with the provider's sandbox calls in the shopper's place. `rt` is a runtime of its own
 * whose intake can be reached; nothing of it is kept.
 */
export async function conform(rt: Runtime, profile: Profile, options: ConformOptions): Promise<Finding[]> {
  const run = new Run(rt, profile, options);
  await tryAll(run);
  return run.findings;
}

async function tryAll(run: Run): Promise<void> {
  if (!(await connect(run))) return;
  await hearMessages(run);
  const [method] = run.profile.methods;
  if (!method || !run.profile.operations.create) return;
  if (run.options.mode === "live")
    return run.say("Payments", null, "Payments are not tried in live: they would move money.");
  for (const instrument of run.profile.instruments) await outcome(run, method, instrument);
  const approved = run.profile.instruments.find((one) => one.case === "approved");
  if (!approved)
    return run.say(
      "Test instruments",
      false,
      "There is none for the case “approved”, so nothing else can be tried.",
    );
  await operations(run, method, approved);
}
