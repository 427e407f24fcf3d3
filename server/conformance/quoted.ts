import type { ProfileMethod } from "#core/profiles/profile";
import type { Run } from "./run";

/** What instalments would come to: told for an amount that the method takes, in its currency, and never less than that amount. */
export async function quoted(run: Run, method: ProfileMethod): Promise<void> {
  if (!run.profile.operations.quote || method.kind !== "instalments") return;
  const { amount, currency, methodId, country, language } = run.order(method);
  const answer = await run.ask("quote", { amount, currency, methodId, country, language });
  if (answer.kind !== "answered") return run.refused("quote", "quote", answer);
  const { plans, currency: told, text } = answer.value;
  const below = plans.filter(
    ({ payments, amount: each, total }) => total < amount || each * payments < amount,
  );
  await run.hold(
    "quote",
    told === currency && plans.length > 0 && below.length === 0,
    `${plans.length} plans${text ? ", with what the law wants to be read" : ""}.`,
    plans.length === 0
      ? `No plan is told for an amount that the method takes.`
      : told !== currency
        ? `It is told in ${told}, and was asked for in ${currency}.`
        : `${below.length} of ${plans.length} plans come to less than what was asked for: are “amount” and “total” the right way round?`,
  );
}
