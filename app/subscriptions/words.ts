import type { Ending, SubscriptionState } from "#core/subscriptions/course";
import type { SubscriptionEvent } from "#core/subscriptions/event";
import type { Rhythm } from "#core/subscriptions/schedule";
import { refusalWords } from "../payments/fact-words";

export const stateNames: Record<SubscriptionState, string> = {
  waiting: "not begun",
  running: "running",
  behind: "not paid",
  paused: "paused",
  ended: "ended",
};
export const endingNames: Record<Ending, string> = {
  cancelled: "cancelled",
  complete: "all periods are over",
  unpaid: "it was not paid",
  "never-begun": "its shopper never paid",
};

const units = { day: "day", week: "week", month: "month" };

/** How often something is charged, as people say it. */
export function rhythmWords({ count, unit }: Rhythm): string {
  const inYears = unit === "month" && count % 12 === 0;
  const [times, name] = inYears ? [count / 12, "year"] : [count, units[unit]];
  return times === 1 ? `every ${name}` : `every ${times} ${name}s`;
}

/** What happened to a subscription. */
export function eventWords(event: SubscriptionEvent): string {
  switch (event.what) {
    case "begun":
      return "The shopper paid; it runs.";
    case "opened":
      return `Period ${event.number} was due.`;
    case "paid":
      return `Period ${event.number} is paid.`;
    case "refused":
      return `Period ${event.number} was refused${event.reason ? refusalWords({ reason: event.reason }) : ""}.`;
    case "asked":
      return event.sent
        ? `The shopper was asked by mail for something else to pay period ${event.number} with.`
        : `The shopper is to be asked for period ${event.number}; there is no address to write to.`;
    case "instrument-ends":
      return "What it is charged to ends before the next charge.";
    case "instrument-changed":
      return "From now on it is charged to something else that the shopper has kept.";
    case "paused":
      return "Paused.";
    case "resumed":
      return "Gone on with.";
    case "skipped":
      return `Period ${event.number} is left out.`;
    case "let-off":
      return `Period ${event.number} is over without being paid.`;
    case "changed":
      return `From the next period on: ${event.quantity} × ${event.plan}.`;
    case "ends-then":
      return "Cancelled for the end of the period.";
    case "goes-on":
      return "Goes on after all.";
    case "ended":
      return `Ended: ${endingNames[event.because]}.`;
  }
}
