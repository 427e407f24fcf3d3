import { said, type Told } from "../said";
import type { Standing } from "./fold";

export const actionKinds = ["capture", "release", "void", "refund"] as const;
export type ActionKind = (typeof actionKinds)[number];

/** What an administrator may do now: whether, how much at most (minor units), and why not. */
export type Allowed = { allowed: true; most: number; partial: boolean } | { allowed: false; because: Told };

export interface ActionCapabilities {
  capture: boolean;
  partialCapture: boolean;
  /** Whether more can be taken after a part was. */
  severalCaptures: boolean;
  /** Whether a part, or the rest after a part was taken, can be let go by itself. */
  release: boolean;
  void: boolean;
  refund: boolean;
  partialRefund: boolean;
}

/** Which of capture, release, void and refund a payment's standing permits with this method. */
export function allowedActions(standing: Standing, can: ActionCapabilities): Record<ActionKind, Allowed> {
  return {
    capture: mayCapture(standing, can),
    release: mayRelease(standing, can),
    void: mayVoid(standing, can),
    refund: mayRefund(standing, can),
  };
}

const no = (because: Told): Allowed => ({ allowed: false, because });
const upTo = (most: number, partial: boolean): Allowed => ({ allowed: true, most, partial });

function mayCapture({ state, held, captured, review, heldBack }: Standing, can: ActionCapabilities): Allowed {
  if (!can.capture) return no(said("actions.method-captures-once"));
  if (held === 0)
    return no(captured > 0 ? said("actions.captured") : said("actions.payment-cannot-captured", { state }));
  if (captured > 0 && !can.severalCaptures) return no(said("actions.method-captures-one-time"));
  if (review === "open") return no(said("actions.review-open"));
  if (heldBack) return no(said("actions.held-back"));
  return upTo(held, can.partialCapture);
}

function mayRelease({ held, captured }: Standing, can: ActionCapabilities): Allowed {
  if (!can.release) return no(said("actions.method-cannot-release-part"));
  if (held === 0) return no(captured > 0 ? said("actions.nothing-held") : said("actions.nothing-void"));
  return upTo(held, true);
}

function mayVoid({ held, captured }: Standing, can: ActionCapabilities): Allowed {
  if (!can.void) return no(said("actions.method-cannot-voided"));
  if (captured > 0)
    return no(
      held > 0 && can.release
        ? said("actions.captured-release-rest")
        : said("actions.captured-refund-instead"),
    );
  return held > 0 ? upTo(held, false) : no(said("actions.nothing-void"));
}

function mayRefund(
  { captured, refunded, refunding, inDispute, lost }: Standing,
  can: ActionCapabilities,
): Allowed {
  if (!can.refund) return no(said("actions.method-cannot-refunded"));
  const left = captured - refunded - refunding - inDispute - lost;
  if (left > 0) return upTo(left, can.partialRefund);
  if (inDispute > 0) return no(said("actions.in-dispute"));
  if (lost > 0) return no(said("actions.lost-in-dispute"));
  return no(
    refunded + refunding > 0 ? said("actions.everything-refunded") : said("actions.nothing-captured"),
  );
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
