import type { Told } from "./said";

/** The four lanes of a payment's score. */
export const lanes = ["shopper", "shop", "zahlung", "provider"] as const;
export type Lane = (typeof lanes)[number];

/** One recorded message. Times in milliseconds. */
export interface Message {
  id: string;
  at: number;
  duration: number | null;
  from: Lane;
  to: Lane;
  label: Told;
  answer: Told | null;
  ok: boolean;
}

/** A row of the score: an arrow, with the time since the first message. */
export interface ScoreRow extends Message {
  sinceStart: number;
  /** Milliseconds in which nothing was under way before this row. */
  gap: number;
  /** A pause before this row longer than two seconds, in milliseconds; else null. */
  pause: number | null;
}

/** Puts messages in the order of time. Equal times keep the order they were recorded in. */
export function scoreOf(messages: readonly Message[]): ScoreRow[] {
  const sorted = [...messages].sort((a, b) => a.at - b.at);
  const start = sorted[0]?.at ?? 0;
  let last = start;
  return sorted.map((message) => {
    const gap = Math.max(0, message.at - last);
    last = message.at + (message.duration ?? 0);
    return { ...message, sinceStart: message.at - start, gap, pause: gap > 2000 ? gap : null };
  });
}
