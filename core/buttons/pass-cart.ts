import type { Cart } from "../offers/decide";

/** What is bought, as a page's pass and what comes of it keep it: when it is asked about comes in later. */
export type PassCart = Omit<Cart, "asked"> & { asked: Omit<Cart["asked"], "at"> };
