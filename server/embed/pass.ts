import type { Mode } from "#core/mode";
import type { Cart } from "#core/offers/decide";
import { isNoticePlace, type NoticePlace } from "#core/offers/notices";
import type { Runtime } from "../runtime";

/** What a page of a shop may ask: about one basket, from one origin, for a while. It is public, so it says no more. */
export interface Pass {
  storefrontId: string;
  mode: Mode;
  origin: string;
  place: NoticePlace;
  cart: Omit<Cart, "asked"> & { asked: Omit<Cart["asked"], "at"> };
  /** Milliseconds since the epoch. */
  until: number;
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
    return isNoticePlace(pass.place) && pass.until > rt.now() ? pass : null;
  } catch {
    return null;
  }
}
