import { own } from "#core/profiles/own";
import { decimalText } from "#core/money/money";
import { saysWhat } from "../gateway/gateway";
import type { Run } from "./run";

/** Reads what was paid out, and whether what the newest payout is made of comes to it. Moves no money. */
export async function paidOut(run: Run): Promise<void> {
  const { operations, payouts: words = {} } = run.profile;
  if (!operations.listPayouts) return;
  const list = await run.ask("listPayouts", { since: new Date(0).toISOString(), after: "" });
  if (list.kind !== "answered") return run.hold("listPayouts", false, "", saysWhat(run.profile.name, list));
  const { payouts } = list.value;
  const strange = payouts.find(({ state }) => own(words, state) === undefined);
  await run.hold(
    "listPayouts",
    strange === undefined,
    payouts.length === 0 ? "Answered; nothing was paid out yet." : "Payouts are listed.",
    `The provider’s word “${strange?.state ?? ""}” is not in “payouts”.`,
  );
  const paid = payouts.findLast(({ state }) => own(words, state) === "paid");
  if (!operations.readPayout) return;
  if (!paid) return run.say("readPayout", null, "Nothing was paid out yet, so there is nothing to read.");
  let [sum, after, entries] = [0, "", 0];
  for (let page = 0; page < 200; page++) {
    const read = await run.ask("readPayout", { payout: paid.id, after });
    if (read.kind !== "answered") return run.hold("readPayout", false, "", saysWhat(run.profile.name, read));
    sum += read.value.entries.reduce((total, { net }) => total + net, 0);
    entries += read.value.entries.length;
    const { next } = read.value;
    if (next === undefined || next === after) break;
    after = next;
  }
  const of = (amount: number) => `${decimalText({ amount, currency: paid.currency })} ${paid.currency}`;
  await run.hold(
    "readPayout",
    sum === paid.amount,
    `${entries} entries come to what was paid.`,
    `Its ${entries} entries come to ${of(sum)}, and ${of(paid.amount)} was paid: “net” is what is left after the fee, below nothing where it was taken back.`,
  );
}
