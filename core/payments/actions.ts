import type { Standing } from "./fold";

export const actionKinds = ["capture", "void", "refund"] as const;
export type ActionKind = (typeof actionKinds)[number];

/** What an administrator may do now: whether, how much at most (minor units), and why not. */
export type Allowed = { allowed: true; most: number; partial: boolean } | { allowed: false; because: string };

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
  const no = (because: string): Allowed => ({ allowed: false, because });
  const open = state === "authorised";
  return {
    capture: !can.capture
      ? no("This method captures at once.")
      : open
        ? { allowed: true, most: authorised, partial: can.partialCapture }
        : no(captured > 0 ? "It has been captured." : `A payment that is ${state} cannot be captured.`),
    void: !can.void
      ? no("This method cannot be voided.")
      : open
        ? { allowed: true, most: authorised, partial: false }
        : no(captured > 0 ? "It has been captured; refund it instead." : "There is nothing to void."),
    refund: !can.refund
      ? no("This method cannot be refunded.")
      : captured - refunded > 0
        ? { allowed: true, most: captured - refunded, partial: can.partialRefund }
        : no(refunded > 0 ? "Everything has been refunded." : "Nothing has been captured."),
  };
}

/**
 * Checks an amount (minor units) for an action. Returns the reason it cannot be, or undefined.
 */
export function amountRefused(action: Allowed, amount: number): string | undefined {
  if (!action.allowed) return action.because;
  if (!Number.isSafeInteger(amount) || amount <= 0) return "The amount must be more than zero.";
  if (amount > action.most) return "That is more than there is.";
  if (amount < action.most && !action.partial) return "Only the whole amount can be taken.";
  return undefined;
}
