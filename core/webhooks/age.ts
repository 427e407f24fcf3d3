import { VerificationError } from "./errors";
import type { Clock } from "./message";

/** Refuses a message whose own time (milliseconds) is too far from now: a replay, or a clock that is wrong. */
export function checkAge(at: number, { now, tolerance }: Clock): void {
  if (!Number.isFinite(at))
    throw new VerificationError("timestamp-malformed", "the message's time is malformed");
  if (now - at > tolerance) throw new VerificationError("timestamp-too-old", "the message is too old");
  if (at - now > tolerance)
    throw new VerificationError("timestamp-too-new", "the message is from the future");
}
