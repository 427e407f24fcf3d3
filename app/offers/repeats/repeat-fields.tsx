import { Plus } from "lucide-react";
import { MOST_PLANS } from "#core/subscriptions/plan";
import type { OfferTerms } from "#core/offers/offer";
import { fieldId } from "../../parts/error-summary";
import { Button, Hint, Wrong } from "../../parts/form";
import { Row, Stack } from "../../parts/sheet";
import { TextBox } from "../../parts/text-box";
import { saysAt } from "../../words/says-at";
import type { OfferPart } from "../fields";
import { PlanFields } from "./plan-fields";
import { blankPlan, type RepeatsDraft } from "./repeats-draft";
import { TryingChart } from "./trying-chart";

/** To what shoppers can subscribe with the offer, and what becomes of a charge that is refused. */
export function RepeatFields({
  draft,
  edit,
  problems,
  terms,
  timeZone,
}: OfferPart & { terms: OfferTerms; timeZone: string }) {
  const { repeats } = draft;
  const { plans, trying } = repeats;
  const put = (change: Partial<RepeatsDraft>) =>
    edit({ repeats: { ...repeats, timeZone: repeats.timeZone || timeZone, ...change } });
  return (
    <Stack>
      <h2 id={fieldId("repeats")}>Payments that repeat</h2>
      <Hint>
        {plans.length === 0
          ? "It takes payments once. With a plan, shoppers subscribe: they agree and pay at the checkout, and are charged again without being there."
          : "The shop names a plan when it begins a subscription. Who has subscribed keeps the terms that they agreed to, whatever is changed here."}
      </Hint>
      {plans.map((plan, at) => (
        <PlanFields
          key={at}
          plan={plan}
          at={at}
          put={(change) => put({ plans: plans.map((one, i) => (i === at ? { ...one, ...change } : one)) })}
          remove={() => put({ plans: plans.filter((_, i) => i !== at) })}
          problems={problems}
          languages={terms.languages}
          currencies={terms.currencies}
        />
      ))}
      <Row>
        <Button
          type="button"
          disabled={plans.length >= MOST_PLANS}
          onClick={() => put({ plans: [...plans, blankPlan(plans)] })}
        >
          <Plus size={16} aria-hidden /> Add a plan
        </Button>
      </Row>
      {plans.length > 0 && (
        <>
          <TryingChart
            trying={trying}
            onChange={(next) => put({ trying: next })}
            wrong={saysAt(problems, "repeats.trying")}
          />
          <TextBox
            label="Days and hours are those of"
            id={fieldId("repeats.timeZone")}
            value={repeats.timeZone}
            maxLength={60}
            hint="A time zone, such as Europe/Berlin. Who subscribes at 14:05 there is charged at 14:05, in summer and in winter."
            onChange={(zone) => put({ timeZone: zone })}
            wrong={saysAt(problems, "repeats.timeZone")}
          />
        </>
      )}
      <Wrong>
        {problems
          .filter((one) => one.path === "repeats")
          .map((one) => one.says)
          .join(" ")}
      </Wrong>
    </Stack>
  );
}
