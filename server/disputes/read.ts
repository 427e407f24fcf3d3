import type { DisputePage, ListedDispute } from "#core/profiles/answers";
import { own } from "#core/profiles/own";
import type { Profile } from "#core/profiles/profile";
import { disputeOf } from "#core/profiles/statements";
import { fingerprint } from "#core/fingerprint";
import { accountIn, mustAnswer, seeToAccounts } from "../gateway/accounts";
import { call, type Line, openLine } from "../gateway/gateway";
import { type NamedPayment, paymentsNamed } from "../payments/named";
import { recordFacts } from "../payments/record";
import type { Runtime } from "../runtime";

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** A dispute takes months from round to round; of what was decided before that nothing is expected any more. */
const LOOKED_BACK = 180 * DAY;
const EVERY = 6 * HOUR;
const MOST_PAGES = 200;
/** Open disputes about payments that are not known here: how many, and the first of them. */
export interface UnknownDisputes {
  unknown: number;
  first?: Pick<ListedDispute, "id" | "amount" | "currency">;
}

const listsDisputes = ({ operations }: Profile): boolean => operations.listDisputes !== undefined;

/** Sees to it that the disputes of every account are read whose provider lists them. */
export const followDisputes = (rt: Runtime): Promise<void> =>
  seeToAccounts(rt, "read-disputes", listsDisputes);

/**
 * Reads the disputes of an account and tells their payments, so that one whose message was lost is known all the same.
 * Gives back after how many milliseconds to read again, with what is about no payment here; null where there is nothing to
 * ask. Throws what spoke against it.
 */
export async function readDisputes(
  rt: Runtime,
  key: string,
): Promise<{ again: number; progress: UnknownDisputes & Record<string, unknown> } | null> {
  const line = await openLine(rt, accountIn(key));
  if (!line || !listsDisputes(line.profile)) return null;
  const unknown: ListedDispute[] = [];
  const since = new Date(rt.now() - LOOKED_BACK).toISOString();
  let after = "";
  for (let page = 0; page < MOST_PAGES; page++) {
    const { disputes, next } = await mustAnswer<DisputePage>(
      line,
      call(rt, line, "listDisputes", { since, after }),
    );
    const about = await paymentsNamed(rt, line, disputes);
    for (const dispute of disputes) {
      const payment = about(dispute);
      if (payment?.currency === dispute.currency) await tell(rt, line, payment, dispute);
      else if (isOpen(line.profile, dispute)) unknown.push(dispute);
    }
    if (next === undefined || next === after) break;
    after = next;
  }
  const [first] = unknown;
  const told = first && { id: first.id, amount: first.amount, currency: first.currency };
  return { again: EVERY, progress: { unknown: unknown.length, ...(told && { first: told }) } };
}

/** A word that the profile does not know may mean that it is open. */
const isOpen = ({ disputes = {} }: Profile, { state }: ListedDispute): boolean => {
  const known = own(disputes, state);
  return known === undefined || known === "open";
};

/** Tells a payment of its dispute, unless that is known as it stands. */
async function tell(
  rt: Runtime,
  { profile }: Line,
  payment: NamedPayment,
  told: ListedDispute,
): Promise<void> {
  const statement = disputeOf(profile, told);
  const { dispute, disputeDue } = payment;
  if (statement.object === "dispute" && statement.state === dispute && (told.due ?? null) === disputeDue)
    return;
  await recordFacts(rt, payment.id, [
    { key: `dispute:${fingerprint(statement)}`, source: "look-up", at: rt.now(), statement },
  ]);
}
