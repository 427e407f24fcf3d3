import { styled } from "styled-components";
import type { OfferTerms } from "#core/offers/offer";
import { checkStatement, STATEMENT_LENGTH } from "#core/offers/statement";
import { ChooseMany } from "../parts/choose";
import { fieldId } from "../parts/error-summary";
import { FieldSet, Hint, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { countryChoices } from "../parts/places";
import { Radio, Radios } from "../parts/radios";
import { Mono, Small, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import { AmountBox, TextBox } from "../parts/text-box";
import { offering } from "../words/offering";
import { saysAt } from "../words/says-at";
import type { Draft } from "./draft";
import { type OfferPart, Pair } from "./fields";
import { t } from "../words/pages/offers";

const captureWords = {
  "at-once": t("at-once-with-the-order"),
  later: t("later-by-hand-or-when"),
};
const authenticationWords = {
  issuer: t("when-the-issuer-asks"),
  always: t("always"),
  exemption: t("ask-the-issuer-to-do"),
};

/** How money moves: capture, authentication, and what stands on the shopper's statement. */
export function MoneyPath({ draft, edit, problems, terms }: OfferPart & { terms: OfferTerms }) {
  const most = Math.min(terms.statement?.most ?? STATEMENT_LENGTH.most, STATEMENT_LENGTH.most);
  const affix = (change: Partial<Draft["orderNumber"]>) =>
    edit({ orderNumber: { ...draft.orderNumber, ...change } });
  const findings = offering("en").spoken(
    checkStatement(draft.statement, terms.storefrontName, terms.statement),
  );
  return (
    <Stack>
      <h2>{t("how-the-money-moves")}</h2>
      <Pair>
        <FieldSet>
          <legend>{t("capture")}</legend>
          <Radios label={t("capture")} value={draft.capture} onChange={(capture) => edit({ capture })}>
            {terms.capture.map((one) => (
              <Radio key={one} value={one}>
                {captureWords[one]}
              </Radio>
            ))}
          </Radios>
          {draft.capture === "later" && (
            <TextBox
              label={t("by-itself-after-so-many")}
              id={fieldId("captureAfterDays")}
              value={draft.captureAfterDays}
              inputMode="numeric"
              size={4}
              maxLength={2}
              placeholder={t("never")}
              onChange={(captureAfterDays) => edit({ captureAfterDays })}
              hint={t("sooner-where-what-is-held")}
              wrong={saysAt(problems, "captureAfterDays")}
            />
          )}
        </FieldSet>
        {terms.authentication.length > 0 && (
          <FieldSet>
            <legend>{t("strong-authentication")}</legend>
            <Radios
              label={t("strong-authentication")}
              value={draft.authentication}
              onChange={(authentication) => edit({ authentication })}
            >
              {terms.authentication.map((one) => (
                <Radio key={one} value={one}>
                  {authenticationWords[one]}
                </Radio>
              ))}
            </Radios>
            {draft.authentication === "exemption" &&
              terms.currencies.map((currency) => (
                <AmountBox
                  key={currency}
                  label={t("for-orders-up-to-in", { currency })}
                  id={fieldId(`exemptUpTo.${currency}`)}
                  value={draft.exemptUpTo[currency] ?? ""}
                  placeholder={t("never")}
                  currency={currency}
                  onChange={(text) => edit({ exemptUpTo: { ...draft.exemptUpTo, [currency]: text } })}
                  invalid={Boolean(saysAt(problems, `exemptUpTo.${currency}`))}
                />
              ))}
            {draft.authentication === "exemption" && <Hint>{t("where-the-issuer-agrees-nobody")}</Hint>}
          </FieldSet>
        )}
        <TextBox
          label={t("statement-text")}
          id={fieldId("statement")}
          value={draft.statement}
          maxLength={60}
          onChange={(statement) => edit({ statement })}
          invalid={findings.some((one) => one.blocking)}
          hint={t("what-shoppers-read-on-their", { statement: draft.statement.length, most })}
          wrong={saysAt(problems, "statement")}
        >
          {findings.map((finding) => (
            <Says key={finding.says} meaning={finding.blocking ? "wrong" : "waits"}>
              {finding.says}
            </Says>
          ))}
          <StatementPreview text={draft.statement.slice(0, most)} />
        </TextBox>
        <FieldSet>
          <legend>{t("order-number-at-the-provider")}</legend>
          <Pair>
            <TextBox
              label={t("before-it")}
              id={fieldId("orderNumber")}
              value={draft.orderNumber.before}
              size={8}
              maxLength={12}
              onChange={(before) => affix({ before })}
              invalid={Boolean(saysAt(problems, "orderNumber"))}
            />
            <TextBox
              label={t("after-it")}
              value={draft.orderNumber.after}
              size={8}
              maxLength={12}
              onChange={(after) => affix({ after })}
              invalid={Boolean(saysAt(problems, "orderNumber"))}
            />
          </Pair>
          <Hint>
            {t("there-it-is-read-as", {
              mono: <Mono>{`${draft.orderNumber.before}1042${draft.orderNumber.after}`}</Mono>,
            })}
          </Hint>
          <Wrong>{saysAt(problems, "orderNumber")}</Wrong>
        </FieldSet>
      </Pair>
      {terms.capture.includes("later") && <HoldBackBoxes {...{ draft, edit, problems, terms }} />}
    </Stack>
  );
}

const Slip = styled.dl`
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0 1rem;
  padding: 0.4rem 0.7rem;
  border: 1px solid ${color.rule};
  border-bottom-style: dashed;
  background: ${color.sheet};
  font-size: 0.93rem;
  dd {
    text-align: end;
  }
`;

/** How a bank lists the payment to a shopper: in capitals, and as long as its lines are. */
function StatementPreview({ text }: { text: string }) {
  return (
    <Slip aria-label={t("on-a-bank-statement")}>
      <dt>
        <Mono>{text.trim() === "" ? t("what-the-provider-is-called") : text.toUpperCase()}</Mono>
      </dt>
      <dd>
        <Small as="span">{t("card-payment")}</Small>
      </dd>
    </Slip>
  );
}

/** Which orders a person looks at before their money is captured. */
function HoldBackBoxes({ draft, edit, problems, terms }: OfferPart & { terms: OfferTerms }) {
  const { from, countries } = draft.holdBack;
  const put = (change: Partial<Draft["holdBack"]>) => edit({ holdBack: { ...draft.holdBack, ...change } });
  return (
    <FieldSet id={fieldId("holdBack")}>
      <legend>{t("hold-back-until-somebody-has")}</legend>
      <Pair>
        {terms.currencies.map((currency) => (
          <AmountBox
            key={currency}
            label={t("orders-from-in-currency", { currency })}
            id={fieldId(`holdBack.${currency}`)}
            value={from[currency] ?? ""}
            placeholder={t("none")}
            currency={currency}
            onChange={(text) => put({ from: { ...from, [currency]: text } })}
            invalid={Boolean(saysAt(problems, `holdBack.${currency}`))}
          />
        ))}
      </Pair>
      <ChooseMany
        label={t("orders-to-or-from-these")}
        choices={countryChoices()}
        value={countries.split(", ").filter(Boolean)}
        onChange={(codes) => put({ countries: codes.join(", ") })}
        none={t("none-yet")}
      />
      <Wrong>{saysAt(problems, "holdBack")}</Wrong>
      <Hint>{t("the-money-is-held-and")}</Hint>
    </FieldSet>
  );
}
