import { said, type Told } from "../said";
import type { Standing } from "./fold";

export const actionKinds = ["capture", "void", "refund"] as const;
export type ActionKind = (typeof actionKinds)[number];

/** What an administrator may do now: whether, how much at most (minor units), and why not. */
export type Allowed = { allowed: true; most: number; partial: boolean } | { allowed: false; because: Told };

export interface ActionCapabilities {
  capture: boolean;
  partialCapture: boolean;
  void: boolean;
  refund: boolean;
  partialRefund: boolean;
}

/** Which of capture, void and refund a payment's standing permits with this method. */
export function allowedActions(standing: Standing, can: ActionCapabilities): Record<ActionKind, Allowed> {
  const { state, authorised, captured, refunded } = standing;
  const no = (because: Told): Allowed => ({ allowed: false, because });
  const open = state === "authorised";
  return {
    capture: !can.capture
      ? no(said("actions.method-captures-once"))
      : open
        ? { allowed: true, most: authorised, partial: can.partialCapture }
        : no(captured > 0 ? said("actions.captured") : said("actions.payment-cannot-captured", { state })),
    void: !can.void
      ? no(said("actions.method-cannot-voided"))
      : open
        ? { allowed: true, most: authorised, partial: false }
        : no(captured > 0 ? said("actions.captured-refund-instead") : said("actions.nothing-void")),
    refund: !can.refund
      ? no(said("actions.method-cannot-refunded"))
      : captured - refunded > 0
        ? { allowed: true, most: captured - refunded, partial: can.partialRefund }
        : no(refunded > 0 ? said("actions.everything-refunded") : said("actions.nothing-captured")),
  };
}

/**
 * Checks an amount (minor units) for an action. Returns the reason it cannot be, or undefined.
 */
export function amountRefused(action: Allowed, amount: number): Told | undefined {
  if (!action.allowed) return action.because;
  if (!Number.isSafeInteger(amount) || amount <= 0) return said("actions.amount-must-more-than");
  if (amount > action.most) return said("actions.more-than-there-is");
  if (amount < action.most && !action.partial) return said("actions.only-whole-amount-can");
  return undefined;
}
