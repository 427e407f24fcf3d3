import { type Problem, problem } from "../../said";

/** What a shopper is asked to send in to show that the money is on its way: a few words, or a picture or PDF. */
export interface SlipAsk {
  asks: "text" | "file";
  /** What exactly is wanted, by language; where it is not said, proof of the payment. */
  says: Record<string, string>;
}

export const LONGEST_SLIP = 200;
export const LONGEST_ASK = 120;
/** How often a shopper may send something in for one payment. */
export const MOST_SLIPS = 5;

export const slipStates = ["open", "accepted", "refused"] as const;
export type SlipState = (typeof slipStates)[number];

/** What a shopper is shown of what is asked for, and where that stands; null: nothing was sent in yet. */
export interface SlipScene {
  asks: SlipAsk["asks"];
  says: string | null;
  state: SlipState | null;
  /** Whether something more can be sent in. */
  open: boolean;
}

/** Reads what an editor hands over; null for what has not the shape. Languages that are not wanted are left out. */
export function readSlipAsk(
  input: unknown,
  languages: readonly string[],
  problems: Problem[],
): SlipAsk | null {
  if (input === null || input === undefined) return null;
  const { asks, says } = input as Partial<SlipAsk>;
  if ((asks !== "text" && asks !== "file") || typeof says !== "object" || says === null) {
    problems.push(problem("offline.slip", "offline.no-slip"));
    return null;
  }
  const told: SlipAsk["says"] = {};
  for (const language of languages) {
    const text = says[language];
    if (text === undefined) continue;
    if (typeof text !== "string" || text.length > LONGEST_ASK)
      problems.push(problem(`offline.slip.${language}`, "offline.ask-too-long", { most: LONGEST_ASK }));
    else if (text.trim() !== "") told[language] = text.trim();
  }
  return { asks, says: told };
}

/** A telephone number as people write it, to pay to: digits and what stands between them. */
export const isPhone = (text: string): boolean =>
  /^\+?[\d\s()./-]{4,30}$/.test(text) && text.replace(/\D/g, "").length >= 4;
