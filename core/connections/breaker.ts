/** What is known of a provider's last answers at one account: how often in a row it failed, and until when it is left alone. */
export interface Breaker {
  failures: number;
  /** Milliseconds since the epoch; null: it is asked as always. */
  openUntil: number | null;
  /** How often it was left alone since it last answered. */
  times: number;
}

export const sound: Breaker = { failures: 0, openUntil: null, times: 0 };

const FIRST_REST = 5_000;
const LONGEST_REST = 60_000;

/** How long a provider is left alone that was left alone so often already, milliseconds. */
const restOf = (times: number): number => Math.min(LONGEST_REST, FIRST_REST * 2 ** times);

/**
 * Whether a request may go out now. While a provider is left alone none does; after that one may, to see whether it answers
 * again, and the next wait for what becomes of it.
 */
export function mayAsk(breaker: Breaker, now: number): { may: boolean; after: Breaker } {
  const { openUntil, times } = breaker;
  if (openUntil === null) return { may: true, after: breaker };
  if (now < openUntil) return { may: false, after: breaker };
  return { may: true, after: { ...breaker, openUntil: now + restOf(times) } };
}

/** What is known once a request was answered, or was not. `most`: after how many failures in a row it is left alone. */
export function afterAsking(breaker: Breaker, answered: boolean, now: number, most: number): Breaker {
  if (answered) return sound;
  const failures = breaker.failures + 1;
  if (failures < most) return { ...breaker, failures };
  const { times, openUntil } = breaker;
  // What was under way when it was first left alone says nothing new.
  if (openUntil !== null && now < openUntil && times > 0) return { ...breaker, failures };
  return { failures, openUntil: now + restOf(times), times: times + 1 };
}

export const isLeftAlone = ({ openUntil }: Breaker): boolean => openUntil !== null;
