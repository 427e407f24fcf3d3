import type { CapturePolicy } from "../offers/offer";
import type { Statement } from "../payments/facts";
import { fold } from "../payments/fold";
import type { CaseId } from "./cases";

/**
 * Which case a purchase walked by a person amounts to, from what was stated about its payment; null while it is
 * under way or when it is none of the cases.
 */
export function walkedCase(statements: readonly Statement[], capture: CapturePolicy): CaseId | null {
  const { state, declined } = fold(statements.map((statement) => ({ statement })));
  const asked = statements.some((one) => one.kind === "pending" && one.challenge !== undefined);
  switch (state) {
    case "declined":
      if (asked) return "challenge-failed";
      return declined === "insufficient-funds" || declined === "expired-card" || declined === "wrong-code"
        ? declined
        : null;
    case "failed":
      return "processing-error";
    case "authorised":
      // Where the money is to be taken at once, holding it is not the end of it.
      if (capture === "at-once") return null;
      return asked ? "challenge-passed" : "approved";
    case "captured":
    case "partly-captured":
      if (asked) return "challenge-passed";
      return capture === "later" ? "captured-later" : "approved";
    case "refunded":
      return "refund";
    case "partly-refunded":
      return "part-refund";
    case "voided":
      return "void";
    default:
      return null;
  }
}
