import { styled } from "styled-components";
import { LONGEST, outcomes } from "#core/offers/afterwards";
import type { OfferTerms } from "#core/offers/offer";
import { type PaymentState, stateWords } from "#core/payments/facts";
import { CheckBox } from "../parts/check-box";
import { ChooseMany } from "../parts/choose";
import { fieldId } from "../parts/error-summary";
import { countryChoices } from "../parts/places";
import { nameOfCode } from "#core/places/names";
import { FieldSet, Hint, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { SelectBox } from "../parts/select-box";
import { Row, Soft, Stack, Table } from "../parts/sheet";
import { saysAt } from "../words/says-at";
import type { SpokenProblem } from "../words/speak";
import type { Draft } from "./draft";
import { outcomeNames } from "./outcome-names";
import { AmountBox, TextBox } from "../parts/text-box";
import { t } from "../words/pages/offers";

/** What every part of an offer’s sheet is given. */
export interface OfferPart {
  draft: Draft;
  edit: (change: Partial<Draft>) => void;
  problems: readonly SpokenProblem[];
}

export const Pair = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(13rem, 1fr));
  gap: 0.9rem 1.2rem;
`;

const Four = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(17rem, 1fr));
  gap: 0.9rem 1.2rem;
`;

/** The shopper's wording and hint, in each language of the storefront. */
export function Wording({
  draft,
  edit,
  problems,
  languages,
  provider,
}: OfferPart & { languages: readonly string[]; provider: string | null }) {
  return (
    <Stack>
      <h2>{t("in-the-shoppers-words")}</h2>
      {languages.map((language) => {
        const own = draft.wording[language] ?? { label: "", hint: "" };
        const put = (change: Partial<typeof own>) =>
          edit({ wording: { ...draft.wording, [language]: { ...own, ...change } } });
        const onlyProvider = provider !== null && own.label.trim().toLowerCase() === provider.toLowerCase();
        return (
          <Four key={language}>
            <TextBox
              label={t("name-language", { language: nameOfCode("language", language) })}
              id={fieldId(`wording.${language}.label`)}
              value={own.label}
              maxLength={60}
              lang={language}
              onChange={(label) => put({ label })}
              invalid={own.label.trim() === ""}
            >
              {own.label.trim() === "" && <Wrong>{t("shoppers-need-a-name-to")}</Wrong>}
              {onlyProvider && <Hint>{t("this-is-only-the-providers")}</Hint>}
            </TextBox>
            <TextBox
              label={t("hint-language", { language: nameOfCode("language", language) })}
              value={own.hint}
              maxLength={160}
              lang={language}
              onChange={(hint) => put({ hint })}
            />
            <TextBox
              label={t("on-the-button-language", { language: nameOfCode("language", language) })}
              id={fieldId(`wording.${language}.button`)}
              value={own.button ?? ""}
              maxLength={40}
              lang={language}
              placeholder={t("as-it-is")}
              onChange={(button) => put({ button })}
            />
            <TextBox
              label={t("help-language", { language: nameOfCode("language", language) })}
              id={fieldId(`wording.${language}.help`)}
              value={own.help ?? ""}
              maxLength={600}
              lang={language}
              placeholder={t("none")}
              onChange={(help) => put({ help })}
            />
            <Afterwards language={language} draft={draft} edit={edit} problems={problems} />
          </Four>
        );
      })}
      <Wrong>{saysAt(problems, "wording")}</Wrong>
    </Stack>
  );
}

const Folded = styled.details`
  grid-column: 1 / -1;
  summary {
    cursor: pointer;
    font-weight: 600;
    font-size: 0.93rem;
  }
  > div {
    margin-top: 0.6rem;
  }
`;

/** What the shop says after each outcome, beside what is said anyway. */
function Afterwards({ language, draft, edit, problems }: OfferPart & { language: string }) {
  const texts = draft.afterwards[language] ?? {};
  const count = Object.values(texts).filter((text) => text.trim() !== "").length;
  const name = nameOfCode("language", language);
  const wrong = saysAt(problems, `afterwards.${language}`);
  return (
    <Folded open={wrong !== undefined || undefined}>
      <summary>
        {t("what-you-say-afterwards-name", {
          name,
          count: count === 0 ? t("nothing-of-your-own") : t("count-texts", { count }),
          soft: (inner) => <Soft>{inner}</Soft>,
        })}
      </summary>
      <div>
        <Pair>
          {outcomes.map((outcome) => (
            <TextBox
              key={outcome}
              label={
                <>
                  {outcomeNames[outcome]}
                  <span className="quiet">, {name}</span>
                </>
              }
              id={fieldId(`afterwards.${language}.${outcome}`)}
              value={texts[outcome] ?? ""}
              maxLength={LONGEST}
              lang={language}
              onChange={(text) =>
                edit({ afterwards: { ...draft.afterwards, [language]: { ...texts, [outcome]: text } } })
              }
              wrong={saysAt(problems, `afterwards.${language}.${outcome}`)}
            />
          ))}
        </Pair>
        <Hint>{t("said-beside-what-shoppers-are")}</Hint>
      </div>
    </Folded>
  );
}

function toggle(list: readonly string[], all: readonly string[], one: string, on: boolean): string[] {
  const now = list.length === 0 ? all : list;
  const next = on ? [...now, one] : now.filter((entry) => entry !== one);
  const kept = all.filter((entry) => next.includes(entry));
  // All of them is written as none, so that one added to the storefront later is offered too.
  return kept.length === all.length ? [] : kept;
}

/** To whom, where and for how much. */
export function Rules({
  draft,
  edit,
  problems,
  terms,
}: OfferPart & { terms: OfferTerms & { groupNames: { id: string; name: string }[] } }) {
  const has = (list: readonly string[], one: string) => list.length === 0 || list.includes(one);
  return (
    <Stack>
      <h2>{t("who-is-offered-it")}</h2>
      <Pair>
        <ChooseMany
          label={t("shopper-countries")}
          choices={countryChoices()}
          value={draft.countries.split(", ").filter(Boolean)}
          onChange={(codes) => edit({ countries: codes.join(", ") })}
          none={t("all-countries-choose-some-to")}
          wrong={saysAt(problems, "countries")}
        />
        <FieldSet>
          <legend>{t("currencies")}</legend>
          <Row>
            {terms.currencies.map((one) => (
              <CheckBox
                key={one}
                checked={has(draft.currencies, one)}
                onChange={(on) =>
                  edit({
                    currencies: toggle(draft.currencies, terms.currencies, one, on),
                  })
                }
              >
                {one}
              </CheckBox>
            ))}
          </Row>
        </FieldSet>
        <FieldSet>
          <legend>{t("shopper-groups")}</legend>
          {terms.groupNames.map((group) => (
            <CheckBox
              key={group.id}
              checked={has(draft.groups, group.id)}
              onChange={(on) => edit({ groups: toggle(draft.groups, terms.groups, group.id, on) })}
            >
              {group.name}
            </CheckBox>
          ))}
        </FieldSet>
      </Pair>
      {terms.offline === undefined && (
        <CheckBox
          checked={draft.withheldInTrouble ?? false}
          onChange={(on) => edit({ withheldInTrouble: on })}
        >
          {t("withhold-it-by-itself-while")}
        </CheckBox>
      )}
      <CheckBox
        checked={draft.limitsOf === "goods"}
        onChange={(on) => edit({ limitsOf: on ? "goods" : undefined })}
      >
        {t("the-totals-below-are-of")}
      </CheckBox>
      {terms.currencies.map((currency) => {
        const own = draft.limits[currency] ?? { least: "", greatest: "" };
        const put = (change: Partial<typeof own>) =>
          edit({ limits: { ...draft.limits, [currency]: { ...own, ...change } } });
        const says = saysAt(problems, `limits.${currency}`);
        return (
          <Stack key={currency} $gap={0.3}>
            <Pair>
              <AmountBox
                label={t("least-order-total-in-currency", { currency })}
                id={fieldId(`limits.${currency}`)}
                value={own.least}
                placeholder={t("no-limit")}
                currency={currency}
                onChange={(least) => put({ least })}
                invalid={Boolean(says)}
              />
              <AmountBox
                label={t("greatest-order-total-in-currency", { currency })}
                value={own.greatest}
                placeholder={t("no-limit")}
                currency={currency}
                onChange={(greatest) => put({ greatest })}
                invalid={Boolean(says)}
              />
            </Pair>
            <Wrong>{says}</Wrong>
          </Stack>
        );
      })}
    </Stack>
  );
}

/** Which of the shop's own stages an order gets for each state its payment can reach. */
export function Stages({
  draft,
  edit,
  problems,
  stages,
  states,
}: OfferPart & { stages: readonly string[]; states: readonly PaymentState[] }) {
  return (
    <Stack>
      <h2>{t("which-order-stage-follows")}</h2>
      {stages.length === 0 ? (
        <Says meaning="waits">{t("the-shop-has-not-declared")}</Says>
      ) : (
        <Table>
          <thead>
            <tr>
              <th scope="col">{t("when-the-payment-is")}</th>
              <th scope="col">{t("the-order-becomes")}</th>
            </tr>
          </thead>
          <tbody>
            {states.map((state) => (
              <tr key={state}>
                <td>{stateWords(state)}</td>
                <td>
                  <SelectBox
                    label={t("order-stage-when-state", { state: stateWords(state) })}
                    bare
                    value={draft.stages[state] ?? ""}
                    onChange={(chosen) => edit({ stages: { ...draft.stages, [state]: chosen } })}
                    choices={[
                      { id: "", name: t("not-chosen") },
                      ...stages.map((stage) => ({ id: stage, name: stage })),
                    ]}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      <Wrong>{saysAt(problems, "stages")}</Wrong>
    </Stack>
  );
}
