import { said, sentences } from "#core/said";
import { addConnection, connectionOf, currentEndpoint, endpointAddress } from "../connections/connections";
import { enterKeys } from "../connections/keys";
import { keySideOf } from "../connections/key-sides";
import { verifyingField } from "../connections/verifying";
import { lookAtRegistrations, pingWebhook, registerWebhook } from "../connections/webhook";
import { openLine, saysWhat } from "../gateway/gateway";
import { installVersion } from "../profiles/profiles";
import { addStorefront } from "../storefronts/storefronts";
import type { Run } from "./run";

/** Connects an account with the given keys, reads it back and tries each right. False: nothing more can be tried. */
export async function connect(run: Run): Promise<boolean> {
  const { rt, profile, options } = run;
  const currencies = [...new Set(profile.methods.flatMap((method) => method.currencies))];
  await installVersion(rt, "conformance", profile, "file");
  await addStorefront(rt, "conformance", {
    id: `conform-${profile.id}`,
    name: "Conformance",
    domain: "shop.example",
    https: true,
    country: profile.merchantCountries[0] ?? "DE",
    languages: ["en"],
    currencies,
    groups: [{ id: "all", name: "All" }],
  });
  const id = await addConnection(rt, "conformance", { profile, storefrontId: `conform-${profile.id}` });
  run.where = await connectionOf(rt, id);
  if (!run.where) throw new Error("the connection that was just made is gone");
  const missing = profile.fields.filter((field) => !options.keys[field.id]).map((field) => field.id);
  if (missing.length > 0) {
    run.say("Keys", false, `No value was given for ${missing.join(", ")}.`);
    return false;
  }
  const entered = await enterKeys(rt, "conformance", run.where, options.mode, options.keys);
  for (const [field, check] of Object.entries(entered))
    run.say(`Field ${field}`, check.ok, check.ok ? "Its value fits the pattern." : check.says);
  if (Object.values(entered).some((check) => !check.ok)) return false;
  run.line = await openLine(rt, { connectionId: id, mode: options.mode });
  const { check } = await keySideOf(rt, run.where, options.mode);
  const wrong = Object.entries(check?.wrong ?? {}).map(([field, { says }]) =>
    said("conformance.of-operation", { operation: field, because: says }),
  );
  const told = [...(check?.unanswered ? [check.unanswered] : []), ...wrong];
  await run.hold(
    "account",
    check?.account != null,
    `Read back as ${check?.account?.account ?? ""}, ${check?.account?.name ?? ""}.`,
    told.length > 0 ? sentences(told) : "The account could not be read.",
  );
  if (!check?.account || !run.line) return false;
  run.account = check.account;
  const { account, country, currencies: charged, mayCharge } = check.account;
  const whole =
    typeof account === "string" &&
    /^[A-Z]{2}$/.test(country) &&
    Array.isArray(charged) &&
    typeof mayCharge === "boolean";
  await run.hold(
    "account, its shape",
    whole,
    "Account, country, currencies and whether it may charge are there.",
    "The mapping does not give account, country (two capitals), currencies (a list) and mayCharge (true or false).",
  );
  const unproven = profile.fields.filter(
    (field) => field.provenBy === "call" && !check.proven.includes(field.id),
  );
  await run.hold(
    "Every key proven by a call",
    unproven.length === 0,
    "Each was.",
    `Not proven: ${unproven.map((field) => field.id).join(", ")}. Which operation “proves” it?`,
  );
  for (const right of profile.rights) {
    const held = check.rights[right.id];
    run.say(
      `Right ${right.id}`,
      held ?? null,
      held === false
        ? `The key lacks it. ${right.why}`
        : held
          ? "The key has it."
          : "The provider did not say.",
    );
  }
  return whole;
}

/** Makes our address known, and waits for a signed message. */
export async function hearMessages(run: Run) {
  const { rt, profile, options } = run;
  const where = run.where;
  if (!where || !profile.webhooks) return run.say("Webhook", null, "The profile has none.");
  const endpoint = await currentEndpoint(rt, where.connection.id, options.mode);
  if (profile.operations.registerWebhook) {
    const made = await registerWebhook(rt, "conformance", where, options.mode);
    await run.hold("registerWebhook", made.ok, "Our address is registered.", made.ok ? "" : made.says);
    if (!made.ok) return;
    const again = await registerWebhook(rt, "conformance", where, options.mode);
    await run.hold("listWebhooks", again.ok, "It is found again in the list.", again.ok ? "" : again.says);
  } else if (options.byHand) await options.byHand(endpointAddress(rt, endpoint));
  else
    return run.say(
      "Webhook",
      null,
      `Nobody made ${endpointAddress(rt, endpoint)} known to the provider, so messages were not tried.`,
    );
  if (profile.operations.pingWebhook) {
    const sent = await pingWebhook(rt, where, options.mode);
    await run.hold("pingWebhook", sent.ok, "A test message was asked for.", sent.ok ? "" : sent.says);
  }
  const proven = async () => (await currentEndpoint(rt, where.connection.id, options.mode)).provenAt !== null;
  const refusedOne = async () => (await run.messages()).find((one) => one.verdict !== "verified");
  await run.until(async () => (await proven()) || (await refusedOne()) !== undefined);
  const heard = await proven();
  run.hears = heard;
  const refused = await refusedOne();
  const key = verifyingField(profile.webhooks.signing);
  run.say(
    "Webhook, a signed message",
    heard,
    heard
      ? "One arrived and was believed."
      : refused
        ? `One arrived and was refused: ${refused.verdict}. Is “signing” as the provider signs${key ? `, and ${key} the right value` : ""}?`
        : "None arrived.",
  );
}

/** Takes our address off again, and looks whether the provider's list has forgotten it. */
export async function unhang(run: Run) {
  const { rt, profile, options, where } = run;
  if (!where || !profile.operations.removeWebhook) return;
  const { id } = (await currentEndpoint(rt, where.connection.id, options.mode)).registration ?? {};
  if (!id) return;
  const gone = await run.ask("removeWebhook", { id });
  if (gone.kind !== "answered") return run.hold("removeWebhook", false, "", saysWhat(profile.name, gone));
  await lookAtRegistrations(rt, where, options.mode);
  const { registrations } = await currentEndpoint(rt, where.connection.id, options.mode);
  await run.hold(
    "removeWebhook",
    !registrations?.ours.includes(id),
    "Our address is taken off.",
    "The provider's list still holds it.",
  );
}
