/**
 * How an offer's money moves: through a provider (a wallet that rides on a card connection among them), or offline, where a
 * person or a bank statement says what came.
 */
export const ways = ["provider", "offline"] as const;
export type Way = (typeof ways)[number];
