import type { Payment, ProviderPayment } from "../database/rows";

/** Whether a provider moves a payment's money. */
export const isThroughProvider = (payment: Payment): payment is ProviderPayment =>
  payment.connectionId !== null && payment.keySetId !== null && payment.profileVersionId !== null;

/** A payment that is known to go through a provider. Throws where a caller was wrong about that. */
export function throughProvider(payment: Payment): ProviderPayment {
  if (!isThroughProvider(payment)) throw new Error(`payment ${payment.id} goes through no provider`);
  return payment;
}

/** What background work about a payment depends on: its account, or its storefront where it has none. */
export const laneOf = ({
  connectionId,
  storefrontId,
}: Pick<Payment, "connectionId" | "storefrontId">): string => connectionId ?? storefrontId;
