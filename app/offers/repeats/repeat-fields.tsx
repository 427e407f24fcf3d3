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
import { t } from "../../words/pages/plans";

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
      <h2 id={fieldId("repeats")}>{t("payments-that-repeat")}</h2>
      <Hint>{t("the-shop-names-a-plan", { noPlans: plans.length === 0 ? "yes" : "no" })}</Hint>
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
          <Plus size={16} aria-hidden /> {t("add-a-plan")}
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
            label={t("days-and-hours-are-those")}
            id={fieldId("repeats.timeZone")}
            value={repeats.timeZone}
            maxLength={60}
            hint={t("a-time-zone-such-as")}
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
