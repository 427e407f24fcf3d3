import { useEffect, useSyncExternalStore } from "react";

const PATIENCE = 5_000;

let reachable = true;
const listeners = new Set<() => void>();

/** Whether Zahlung answers just now. Asked before a page reads its data again by itself, so that a lost connection never takes the page away. */
export async function isReachable(): Promise<boolean> {
  let answers = false;
  try {
    const response = await fetch("/healthz", { cache: "no-store", signal: AbortSignal.timeout(PATIENCE) });
    answers = response.ok;
  } catch {
    // Nobody answers.
  }
  if (answers !== reachable) {
    reachable = answers;
    for (const tell of listeners) tell();
  }
  return answers;
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => void listeners.delete(listener);
};

/** Whether the last question was answered. */
export const useReachable = () =>
  useSyncExternalStore(
    subscribe,
    () => reachable,
    () => true,
  );

const ASK_EVERY = 2_000;

/** Brings the page back by itself as soon as Zahlung answers again. */
export function useReturn(lost: boolean): void {
  useEffect(() => {
    if (!lost) return;
    const timer = setInterval(
      () => void isReachable().then((answers) => answers && window.location.reload()),
      ASK_EVERY,
    );
    return () => clearInterval(timer);
  }, [lost]);
}

/** Whether an error says that a request never arrived, as browsers word it. */
export const isLostConnection = (error: unknown): boolean =>
  error instanceof TypeError && /fetch|network|load failed/i.test(error.message);
