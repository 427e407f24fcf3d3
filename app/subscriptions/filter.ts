import type { Mode } from "#core/mode";
import { subscriptionStates } from "#core/subscriptions/course";
import type { SubscriptionFilter } from "#server/subscriptions/list";

/** What a page or a file of subscriptions is asked to show. */
export const filterIn = (search: URLSearchParams, mode: Mode): SubscriptionFilter => ({
  mode,
  state: subscriptionStates.find((one) => one === search.get("state")) ?? null,
  query: (search.get("q") ?? "").trim().slice(0, 64),
  after: search.get("after"),
});
