import type { Ending, SubscriptionState as State } from "#core/subscriptions/course";
import { Says } from "../parts/marks";
import { endingNames, stateNames } from "./words";
import { t } from "../words/pages/subscriptions";

const meanings = {
  waiting: "none",
  running: "proven",
  behind: "wrong",
  paused: "waits",
  ended: "none",
} as const;

/** Where a subscription stands. */
export function SubscriptionState({
  subscription: { state, ending, ends },
}: {
  subscription: { state: State; ending: Ending | null; ends: boolean };
}) {
  if (state === "ended" && ending)
    return <Says meaning="none">{t("ended-ending-names", { endingNames: endingNames[ending] })}</Says>;
  return (
    <Says meaning={ends ? "waits" : meanings[state]}>
      {t("state-names-ends-with-its", { stateNames: stateNames[state], hasEnds: ends ? "yes" : "no" })}
    </Says>
  );
}
