import type { AskOutcome, LookOutcome } from "./operation";

/** What is known of an operation when the next step is decided. Times in milliseconds. */
export interface Seen {
  /** Whether the provider recognises a repetition by the idempotency key. */
  idempotent: boolean;
  /** Whether it can be asked at all any more: a one-time token is not kept. */
  askable: boolean;
  /** Whether the provider can be asked what became of it. */
  canLookUp: boolean;
  /** How often it was asked, and what the last asking brought; null: not at all yet, or whoever asked is gone. */
  asks: number;
  asked: AskOutcome | null;
  /** How often it was looked up since it was last asked, and what that brought. */
  looks: number;
  looked: LookOutcome | null;
  /** How long ago it was asked for the first time. */
  age: number;
  /** How long the provider wants to be left alone, if it said so. */
  retryAfter: number | null;
}

export type NextStep =
  | { do: "ask" | "look-up"; after: number }
  | { do: "end"; as: "done" | "refused" | "nothing" }
  /** Nobody but a person can find out. */
  | { do: "ask-person" };

/** For how long a request that nothing is seen of may still be on its way at the provider. */
export const ON_ITS_WAY = 90_000;

const WAITS = [0, 1_000, 3_000, 10_000, 30_000, 60_000, 300_000, 1_800_000];
const waitOf = (times: number): number => WAITS[Math.min(times, WAITS.length - 1)] ?? 0;

/** How often a provider that stays silent is asked the same again before it is left to a person. */
const MOST_ASKS = 6;

/**
 * What to do next for an operation. What was never asked is asked. What a silence left open is looked up, never guessed: is
 * it there, it is done; is there no trace, the same request goes out again only where the provider recognises it, and else
 * it has come to nothing once it can no longer be on its way. What can be neither looked up nor repeated is a person's.
 */
export function nextStep(seen: Seen): NextStep {
  const { asks, asked, looks, looked, age, askable, idempotent, canLookUp, retryAfter } = seen;
  if (asks === 0) return askable ? { do: "ask", after: 0 } : { do: "end", as: "nothing" };
  if (asked === "answered") return { do: "end", as: "done" };
  if (asked === "refused") return { do: "end", as: "refused" };
  if (asked === "busy" && askable)
    return asks < MOST_ASKS * 2
      ? { do: "ask", after: retryAfter ?? waitOf(asks) }
      : { do: "end", as: "refused" };
  if (!canLookUp) {
    const again = askable && idempotent && asks < MOST_ASKS;
    return again ? { do: "ask", after: waitOf(asks) } : { do: "ask-person" };
  }
  if (looked === null) return { do: "look-up", after: 0 };
  if (looked === "there") return { do: "end", as: "done" };
  if (looked === "silence") return { do: "look-up", after: waitOf(looks) };
  if (askable && idempotent && asks < MOST_ASKS) return { do: "ask", after: asks === 1 ? 0 : waitOf(asks) };
  return age > ON_ITS_WAY ? { do: "end", as: "nothing" } : { do: "look-up", after: waitOf(looks) };
}
