import { said } from "#core/said";
import type { Payment } from "../database/rows";
import type { Runtime } from "../runtime";
import { askProvider, type Moved, standingNow } from "./ask-provider";

const becomes = { pass: "passed", refuse: "refused" } as const;

/** Decides the provider's check for fraud that is open: the payment may go on, or is let go. */
export async function decideReview(
  rt: Runtime,
  person: string,
  payment: Payment,
  decision: "pass" | "refuse",
): Promise<Moved> {
  const { review } = await standingNow(rt, payment.id);
  if (review !== "open") return { ok: false, says: said("actions.no-review-open") };
  return askProvider(rt, person, payment, {
    operation: "decideReview",
    input: { decision },
    idempotencyKey: `${payment.id}-review-${decision}`,
    action: `fraud review ${becomes[decision]}`,
    detail: {},
    holds: (now) => now.review === becomes[decision],
    done: said(`actions.review-${becomes[decision]}`),
  });
}
