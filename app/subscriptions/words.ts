import type { Ending, SubscriptionState } from "#core/subscriptions/course";
import type { SubscriptionEvent } from "#core/subscriptions/event";
import type { Rhythm } from "#core/subscriptions/schedule";
import { refusalWords } from "../payments/fact-words";
import { t } from "../words/pages/subscriptions";

export const stateNames: Record<SubscriptionState, string> = {
  waiting: t("not-begun"),
  running: t("running"),
  behind: t("not-paid"),
  paused: t("paused"),
  ended: t("ended-within"),
};
export const endingNames: Record<Ending, string> = {
  cancelled: t("cancelled"),
  complete: t("all-periods-are-over"),
  unpaid: t("it-was-not-paid"),
  "never-begun": t("its-shopper-never-paid"),
};

const units = { day: "day", week: "week", month: "month" };

/** How often something is charged, as people say it. */
export function rhythmWords({ count, unit }: Rhythm): string {
  const inYears = unit === "month" && count % 12 === 0;
  const [times, name] = inYears ? [count / 12, "year"] : [count, units[unit]];
  return t("every-times-name-s", { times, name });
}

/** What happened to a subscription. */
export function eventWords(event: SubscriptionEvent): string {
  switch (event.what) {
    case "begun":
      return t("the-shopper-paid-it-runs");
    case "opened":
      return t("period-number-was-due", { number: event.number });
    case "paid":
      return t("period-number-is-paid", { number: event.number });
    case "refused":
      return t("period-number-was-refused-reason", {
        number: event.number,
        reason: event.reason ? refusalWords({ reason: event.reason }) : "",
      });
    case "asked":
      return event.sent
        ? t("the-shopper-was-asked-by", { number: event.number })
        : t("the-shopper-is-to-be", { number: event.number });
    case "instrument-ends":
      return t("what-it-is-charged-to");
    case "instrument-changed":
      return t("from-now-on-it-is");
    case "paused":
      return t("paused-done");
    case "resumed":
      return t("gone-on-with");
    case "skipped":
      return t("period-number-is-left-out", { number: event.number });
    case "let-off":
      return t("period-number-is-over-without", { number: event.number });
    case "changed":
      return t("from-the-next-period-on", { quantity: event.quantity, plan: event.plan });
    case "ends-then":
      return t("cancelled-for-the-end-of");
    case "goes-on":
      return t("goes-on-after-all");
    case "ended":
      return t("ended-ending-names-done", { endingNames: endingNames[event.because] });
  }
}
