import type { Checkout } from "../database/rows";
import type { Shopper } from "../instruments/instruments";

/** Whose checkout it is, where the shop has signed its shopper in. */
export const shopperOf = ({
  storefrontId,
  mode,
  order: { shopper },
}: Pick<Checkout, "storefrontId" | "mode" | "order">): Shopper | null =>
  shopper === undefined ? null : { storefrontId, mode, shopper };
