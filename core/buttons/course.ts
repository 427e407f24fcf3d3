import type { Refusal } from "./delivery";

/** Where a purchase by a button stands; `ordering`: the shop is asked to make the order. */
export const sessionStates = ["open", "agreed", "ordering", "ordered", "over"] as const;
export type SessionState = (typeof sessionStates)[number];

/**
 * Why nothing came of it: the shopper left or took too long, what they agreed to is not what they were told, the shop did not
 * sell, or the same basket was ordered elsewhere.
 */
export const overs = [
  "left",
  "too-late",
  "not-as-told",
  "not-offered",
  "elsewhere",
  "not-served",
  "sold-out",
  "changed",
] as const satisfies readonly (Refusal | string)[];
export type Over = (typeof overs)[number];

/** How long a shopper has, and how long whoever makes the order is waited for; milliseconds. */
export const SESSION_LIVES = 30 * 60_000;
export const ORDERING_TAKES = 10_000;
/** A shop answers within this, or does not. */
export const SHOP_ANSWERS_WITHIN = 3_000;

/** Why a wallet is told that something cannot be, in the words of `writeButtonRefusal`. */
export const walletRefusals = [
  "silent",
  "not-served",
  "sold-out",
  "changed",
  "not-offered",
  "over",
  "elsewhere",
] as const;
export type WalletRefusal = (typeof walletRefusals)[number];
