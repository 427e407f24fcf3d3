import type { Mode } from "#core/mode";
import type { PassCart } from "#core/buttons/pass-cart";
import { type EmbedPlace, isEmbedPlace } from "#core/buttons/places";
import type { Runtime } from "../runtime";

/** What a page of a shop may ask: about one basket, from one origin, for a while. It is public, so it says no more. */
export interface Pass {
  storefrontId: string;
  mode: Mode;
  origin: string;
  place: EmbedPlace;
  cart: PassCart;
  /** What its buttons need, where it has any. */
  buys?: Buying;
  /** Milliseconds since the epoch. */
  until: number;
}

/** What a press on a button begins with. */
export interface Buying {
  /** The shop's own name of what is bought: one order comes of it. */
  basket: string;
  /** Where the shop answers what delivery and tax come to, and makes the order. */
  answersAt: string;
  /** Where the shopper comes back to, and where they look once more, if that is at the shop. */
  returnAddress: string;
  lookAddress: string | null;
}

/** How long a page can ask; milliseconds. */
export const PASS_LIVES = 30 * 60_000;

const PURPOSE = "embed pass";

export const passText = (rt: Pick<Runtime, "seal">, pass: Pass): string =>
  rt.seal.close(JSON.stringify(pass), PURPOSE);

/** What a pass says; null where it is none of ours, or is over. */
export function readPass(rt: Pick<Runtime, "seal" | "now">, text: string): Pass | null {
  try {
    const pass = JSON.parse(rt.seal.open(text, PURPOSE)) as Pass;
    return isEmbedPlace(pass.place) && pass.until > rt.now() ? pass : null;
  } catch {
    return null;
  }
}
