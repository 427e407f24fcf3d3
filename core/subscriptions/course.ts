import type { DeclineReason } from "../payments/facts";
import type { Trying } from "./plan";

/** `waiting`: the shopper has not paid yet; `behind`: a period that was due is not paid. */
export const subscriptionStates = ["waiting", "running", "behind", "paused", "ended"] as const;
export type SubscriptionState = (typeof subscriptionStates)[number];

/** Why one is over: somebody ended it, all its periods are over, it was not paid, or it never began. */
export const endings = ["cancelled", "complete", "unpaid", "never-begun"] as const;
export type Ending = (typeof endings)[number];

export const periodStates = ["open", "paid", "skipped", "unpaid"] as const;
export type PeriodState = (typeof periodStates)[number];

/** A period that was charged and is not settled. Times in milliseconds since the epoch. */
export interface OpenPeriod {
  number: number;
  dueAt: number;
  /** How often it was charged without the shopper, and when last. */
  tries: number;
  triedAt: number | null;
  /** How often the shopper was asked for something else to pay with. */
  asks: number;
  /** Whether a payment of it is under way, has come, or was refused; `called-off`: its order is closed without one. */
  payment: "under-way" | "paid" | "refused" | "called-off" | "none";
  reason: DeclineReason | null;
  /** Whether there is something kept that it can be charged to. */
  chargeable: boolean;
}

/** What is known of a subscription when the next deed is decided. */
export interface Course {
  state: SubscriptionState;
  /** When its next period is due; milliseconds. */
  nextDue: number;
  /** Whether no period is to come any more: because it was cancelled for its end, or all have been. */
  lastBefore: Ending | null;
  open: OpenPeriod | null;
  trying: Trying;
}

export type Deed =
  /** Write the next period down, to be charged. */
  | { do: "open" }
  | { do: "charge" }
  | { do: "ask-shopper" }
  | { do: "settle" }
  /** Go on without what the period would have cost. */
  | { do: "let-off" }
  | { do: "end"; because: Ending }
  /** Nothing before then; null: nothing until somebody does something. */
  | { do: "wait"; until: number | null };

const DAY = 86_400_000;
/** How long until a payment that is under way is looked at again; its own news comes sooner as a rule. */
const LOOK_AGAIN = 60_000;

/** Reasons for which charging the same again is of no use: somebody has to pay with something else. */
const never: ReadonlySet<DeclineReason> = new Set<DeclineReason>([
  "expired-card",
  "wrong-code",
  "suspected-fraud",
  "authentication-failed",
]);

/** Whether the same can be charged again after it was refused. */
export const canTryAgain = (reason: DeclineReason | null): boolean => reason === null || !never.has(reason);

/** How many of a plan's letters are due by now: those that went by meanwhile are one. */
export const asksBy = ({ asks }: Pick<Trying, "asks">, dueAt: number, now: number): number =>
  Math.max(1, asks.filter((day) => dueAt + day * DAY <= now).length);

/** When the next of its letters is due; null where none is to come. */
export const nextAsk = ({ asks }: Pick<Trying, "asks">, dueAt: number, now: number): number | null => {
  const day = asks.find((one) => dueAt + one * DAY > now);
  return day === undefined ? null : dueAt + day * DAY;
};

/** What to do next for a subscription. Deciding again from what came of it leads to the next deed, until there is but to wait. */
export function nextDeed(course: Course, now: number): Deed {
  const { state, open, nextDue, lastBefore } = course;
  if (state === "waiting") return { do: "wait", until: null };
  if (state === "ended") return open ? deedAfterEnd(open, now) : { do: "wait", until: null };
  if (open) return deedForOpen(course, open, now);
  if (lastBefore !== null)
    return now >= nextDue ? { do: "end", because: lastBefore } : { do: "wait", until: nextDue };
  if (state === "paused") return { do: "wait", until: null };
  return now >= nextDue ? { do: "open" } : { do: "wait", until: nextDue };
}

/** What was under way as it ended is waited for; what is not paid then is called off. */
function deedAfterEnd({ payment }: OpenPeriod, now: number): Deed {
  if (payment === "paid") return { do: "settle" };
  return payment === "under-way" ? { do: "wait", until: now + LOOK_AGAIN } : { do: "let-off" };
}

function deedForOpen({ trying }: Course, open: OpenPeriod, now: number): Deed {
  const { payment, tries, triedAt, asks, dueAt, reason, chargeable } = open;
  if (payment === "paid") return { do: "settle" };
  if (payment === "called-off") return { do: "let-off" };
  if (payment === "under-way") return { do: "wait", until: now + LOOK_AGAIN };
  if (tries === 0 && chargeable) return { do: "charge" };
  const after = (days: number) => dueAt + days * DAY;
  if (trying.ends !== null && now >= after(trying.ends)) return { do: "end", because: "unpaid" };
  const ask = trying.asks[asks];
  // Whoever has nothing that can be charged is asked at once, whatever the plan says of later.
  const askAt = asks === 0 && !chargeable ? dueAt : ask === undefined ? null : after(ask);
  if (askAt !== null && now >= askAt) return { do: "ask-shopper" };
  const again = chargeable && canTryAgain(reason) ? nextTry(trying, dueAt, triedAt ?? dueAt) : null;
  if (again !== null && now >= again) return { do: "charge" };
  const ends = trying.ends === null ? null : after(trying.ends);
  const times = [askAt, again, ends].filter((one) => one !== null);
  return { do: "wait", until: times.length > 0 ? Math.min(...times) : null };
}

/** The first time of the plan after the last try; those that went by meanwhile are one. */
function nextTry({ tries }: Trying, dueAt: number, triedAt: number): number | null {
  const day = tries.find((one) => dueAt + one * DAY > triedAt);
  return day === undefined ? null : dueAt + day * DAY;
}
