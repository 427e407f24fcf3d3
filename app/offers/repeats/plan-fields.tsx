import { X } from "lucide-react";
import { nameOfCode } from "#core/places/names";
import type { RhythmUnit } from "#core/subscriptions/schedule";
import { CheckBox } from "../../parts/check-box";
import { fieldId } from "../../parts/error-summary";
import { Button, FieldSet, Hint, Wrong } from "../../parts/form";
import { SelectBox } from "../../parts/select-box";
import { Row, Stack } from "../../parts/sheet";
import { AmountBox, TextBox } from "../../parts/text-box";
import { saysAt } from "../../words/says-at";
import type { SpokenProblem } from "../../words/speak";
import { Pair } from "../fields";
import { hasFixedDay, hasTrial, type PlanDraft } from "./repeats-draft";
import { t } from "../../words/pages/plans";

const unitNames: Record<RhythmUnit, string> = { day: t("days"), week: t("weeks"), month: t("months") };
const beginnings: Record<PlanDraft["begins"], string> = {
  "at-once": t("with-the-first-whole-period"),
  trial: t("with-a-trial"),
  "fixed-day": t("on-a-fixed-day-of"),
  "trial-then-day": t("with-a-trial-until-a"),
};

/** One plan: what shoppers read, what it costs, how often, and how it begins. */
export function PlanFields({
  plan,
  at,
  put,
  remove,
  problems,
  languages,
  currencies,
}: {
  plan: PlanDraft;
  /** Its place among the plans. */
  at: number;
  put: (change: Partial<PlanDraft>) => void;
  remove: () => void;
  problems: readonly SpokenProblem[];
  languages: readonly string[];
  currencies: readonly string[];
}) {
  const path = `repeats.plans.${at}`;
  const wrong = (name: string) => saysAt(problems, `${path}.${name}`);
  const costs = Object.values(plan.setUp).some((text) => text.trim() !== "");
  const sums = (name: "prices" | "setUp" | "trialPrices", field: string, label: string, empty: string) =>
    currencies.map((currency) => (
      <AmountBox
        key={`${name} ${currency}`}
        label={`${label}, ${currency}`}
        id={fieldId(`${path}.${field}.${currency}`)}
        value={plan[name][currency] ?? ""}
        currency={currency}
        placeholder={empty}
        onChange={(text) => put({ [name]: { ...plan[name], [currency]: text } })}
        wrong={wrong(`${field}.${currency}`)}
      />
    ));
  return (
    <FieldSet id={fieldId(path)}>
      <legend>{t("plan-at", { at: at + 1 })}</legend>
      <Stack>
        <Pair>
          {languages.map((language) => (
            <TextBox
              key={language}
              label={t("what-shoppers-read-language", { language: nameOfCode("language", language) })}
              id={fieldId(`${path}.names.${language}`)}
              value={plan.names[language] ?? ""}
              maxLength={80}
              onChange={(text) => put({ names: { ...plan.names, [language]: text } })}
              wrong={wrong(`names.${language}`)}
            />
          ))}
          <TextBox
            label={t("what-the-shop-calls-it")}
            id={fieldId(`${path}.id`)}
            value={plan.id}
            maxLength={40}
            onChange={(id) => put({ id })}
            wrong={wrong("id")}
          />
        </Pair>
        <Pair>
          <TextBox
            label={t("charged-every")}
            id={fieldId(`${path}.rhythm`)}
            value={plan.count}
            inputMode="numeric"
            maxLength={3}
            onChange={(count) => put({ count })}
            wrong={wrong("rhythm")}
          />
          <SelectBox
            label={t("of-these")}
            value={plan.unit}
            onChange={(chosen) => put({ unit: chosen as RhythmUnit })}
            choices={Object.entries(unitNames).map(([unit, name]) => ({ id: unit, name }))}
          />
          <TextBox
            label={t("how-many-times")}
            id={fieldId(`${path}.times`)}
            value={plan.times}
            inputMode="numeric"
            maxLength={4}
            placeholder={t("until-it-is-ended")}
            onChange={(times) => put({ times })}
            wrong={wrong("times")}
          />
        </Pair>
        <Pair>{sums("prices", "prices", t("price-of-a-period"), t("not-sold"))}</Pair>
        <Wrong>
          {problems
            .filter((one) => one.path === `${path}.prices`)
            .map((one) => one.says)
            .join(" ")}
        </Wrong>
        <Pair>{sums("setUp", "setUp", t("once-for-setting-up"), t("nothing"))}</Pair>
        {costs && (
          <Pair>
            {languages.map((language) => (
              <TextBox
                key={language}
                label={t("what-setting-up-is-called", { language: nameOfCode("language", language) })}
                id={fieldId(`${path}.setUpNames.${language}`)}
                value={plan.setUpNames[language] ?? ""}
                maxLength={80}
                onChange={(text) => put({ setUpNames: { ...plan.setUpNames, [language]: text } })}
                wrong={wrong(`setUpNames.${language}`)}
              />
            ))}
          </Pair>
        )}
        <Pair>
          <SelectBox
            label={t("it-begins")}
            value={plan.begins}
            onChange={(chosen) => put({ begins: chosen as PlanDraft["begins"] })}
            choices={Object.entries(beginnings).map(([begins, name]) => ({ id: begins, name }))}
          />
          {hasTrial(plan) && (
            <>
              <TextBox
                label={t("days-of-trial")}
                id={fieldId(`${path}.trial.days`)}
                value={plan.trialDays}
                inputMode="numeric"
                maxLength={3}
                onChange={(trialDays) => put({ trialDays })}
                hint={hasFixedDay(plan) ? t("at-least-it-goes-on") : undefined}
                wrong={wrong("trial.days")}
              />
              {sums("trialPrices", "trial.prices", t("price-of-the-trial"), t("free"))}
            </>
          )}
          {hasFixedDay(plan) && (
            <TextBox
              label={t("day-of-the-month")}
              id={fieldId(`${path}.fixedDay`)}
              value={plan.day}
              inputMode="numeric"
              maxLength={2}
              hint={t("shorter-months-have-it-on")}
              onChange={(day) => put({ day })}
              wrong={wrong("fixedDay")}
            />
          )}
        </Pair>
        {plan.begins === "fixed-day" && (
          <CheckBox checked={plan.prorated} onChange={(on) => put({ prorated: on })}>
            {t("the-days-before-the-first")}
          </CheckBox>
        )}
        <Pair>
          <TextBox
            label={t("tax-percent")}
            id={fieldId(`${path}.tax`)}
            value={plan.tax}
            inputMode="decimal"
            maxLength={5}
            placeholder={t("not-told")}
            onChange={(tax) => put({ tax })}
            wrong={wrong("tax")}
          />
          {plan.tax.trim() !== "" && (
            <CheckBox checked={plan.taxIncluded} onChange={(on) => put({ taxIncluded: on })}>
              {t("the-prices-hold-it-already")}
            </CheckBox>
          )}
        </Pair>
        <Row>
          <Button type="button" onClick={remove}>
            <X size={16} aria-hidden /> {t("take-plan-at-off", { at: at + 1 })}
          </Button>
          <Hint>{t("whoever-has-subscribed-to-it")}</Hint>
        </Row>
      </Stack>
    </FieldSet>
  );
}
