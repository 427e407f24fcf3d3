import type { MethodFees } from "../profiles/profile";
import { paymentFee } from "./fees";

/** A payment as far as its fee depends on it; minor units of its currency, ISO 4217. */
export interface FeePayment {
  captured: number;
  currency: string;
}

/**
 * What each of a month's payments by one method should cost by its published rates, in the order in which they were made:
 * the volume that rates depend on grows with them. `before`: the volume by currency that there was already. Whether a card
 * is a foreign one is not known; that surcharge is not in it.
 */
export function expectedFees(
  fees: MethodFees,
  payments: readonly FeePayment[],
  converted: (currency: string) => boolean,
  before: Readonly<Record<string, number>> = {},
): number[] {
  const volumes = new Map(Object.entries(before));
  return payments.map(({ captured, currency }) => {
    const volume = volumes.get(currency) ?? 0;
    volumes.set(currency, volume + captured);
    if (captured === 0) return 0;
    return paymentFee(fees, captured, { currency, foreign: false, converted: converted(currency), volume })
      .total;
  });
}
