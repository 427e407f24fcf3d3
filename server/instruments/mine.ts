import type { Runtime } from "../runtime";
import type { Shopper } from "./instruments";

/** Who opens the page of what they have kept, in which language, and where they go back to. */
export interface Mine extends Shopper {
  language: string;
  returnAddress: string;
  /** Milliseconds since the epoch. */
  until: number;
}

/** How long its address opens it; milliseconds. */
export const MINE_LIVES = 30 * 60_000;

const PURPOSE = "page of what is kept";

export const mineText = (rt: Pick<Runtime, "seal">, mine: Mine): string =>
  rt.seal.close(JSON.stringify(mine), PURPOSE);

/** What an address says; null where it is none of ours, or is over. */
export function readMine(rt: Pick<Runtime, "seal" | "now">, text: string): Mine | null {
  try {
    const mine = JSON.parse(rt.seal.open(text, PURPOSE)) as Mine;
    return mine.until > rt.now() ? mine : null;
  } catch {
    return null;
  }
}
