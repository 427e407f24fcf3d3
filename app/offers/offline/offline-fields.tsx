import { lazy, Suspense } from "react";
import { nameOfCode } from "#core/places/names";
import type { RichText } from "#core/rich-text";
import type { OfflineTerms } from "#core/ways/offline/terms";
import { CheckBox } from "../../parts/check-box";
import { fieldId } from "../../parts/error-summary";
import { Field, FieldSet, Input, Wrong } from "../../parts/form";
import { Radio, Radios } from "../../parts/radios";
import { RichTextView } from "../../parts/rich-text-view";
import { Stack } from "../../parts/sheet";
import { TextBox } from "../../parts/text-box";
import { saysAt } from "../../words/says-at";
import { type OfferPart, Pair } from "../fields";
import { ReminderChart } from "./reminder-chart";
import { SlipFields } from "./slip-fields";
import { t } from "../../words/pages/ways-offline";

const RichTextBox = lazy(() => import("../../parts/rich-text-box"));

const places = ["order", "total", "due", "account", "reference"] as const;
const NO_ACCOUNT = { holder: "", iban: "", bic: "", bank: "" };

/** What an offer says whose money no provider moves: the account, the dates, and what shoppers are told. */
export function OfflineFields({
  draft,
  edit,
  problems,
  languages,
}: OfferPart & { languages: readonly string[] }) {
  const terms = draft.offline;
  if (!terms) return null;
  const put = (change: Partial<OfflineTerms>) => edit({ offline: { ...terms, ...change } });
  const account = terms.account ?? NO_ACCOUNT;
  const putAccount = (change: Partial<typeof account>) => put({ account: { ...account, ...change } });
  const wrong = (path: string) => saysAt(problems, `offline.${path}`);
  return (
    <Stack $gap={1.6}>
      <Stack>
        <h2>{t("where-the-money-goes")}</h2>
        <CheckBox checked={terms.account !== null} onChange={(on) => put({ account: on ? account : null })}>
          {t("shoppers-transfer-it-to-a")}
        </CheckBox>
        {terms.account && (
          <Pair>
            <TextBox
              label={t("account-holder")}
              id={fieldId("offline.account.holder")}
              value={account.holder}
              maxLength={70}
              onChange={(holder) => putAccount({ holder })}
              wrong={wrong("account.holder")}
            />
            <TextBox
              label={t("iban")}
              id={fieldId("offline.account.iban")}
              value={account.iban}
              maxLength={60}
              onChange={(iban) => putAccount({ iban })}
              wrong={wrong("account.iban")}
            />
            <TextBox
              label={t("bic-where-one-is-needed")}
              id={fieldId("offline.account.bic")}
              value={account.bic}
              maxLength={20}
              onChange={(bic) => putAccount({ bic })}
              wrong={wrong("account.bic")}
            />
            <TextBox
              label={t("name-of-the-bank")}
              value={account.bank}
              maxLength={70}
              onChange={(bank) => putAccount({ bank })}
            />
          </Pair>
        )}
        <FieldSet>
          <legend>{t("what-shoppers-quote")}</legend>
          <Radios
            label={t("what-shoppers-quote")}
            value={terms.reference}
            onChange={(reference) => put({ reference })}
          >
            <Radio value="creditor">{t("a-creditor-reference-with-check")}</Radio>
            <Radio value="order">{t("the-orders-number-as-it")}</Radio>
          </Radios>
        </FieldSet>
      </Stack>
      <SlipFields terms={terms} languages={languages} put={put} wrong={wrong} />
      <Stack>
        <h2>{t("when-it-is-due")}</h2>
        <Pair>
          <Days
            label={t("days-until-it-is-due")}
            value={terms.dueDays}
            onChange={(dueDays) => put({ dueDays: dueDays ?? 0 })}
          />
          <Days
            label={t("days-overdue-until-it-is")}
            value={terms.expireDays}
            placeholder={t("never")}
            onChange={(expireDays) => put({ expireDays })}
          />
        </Pair>
        <ReminderChart terms={terms} put={put} wrong={wrong("reminders")} />
      </Stack>
      <Stack>
        <h2>{t("what-shoppers-read-once-they")}</h2>
        {languages.map((language) => (
          <div key={language} id={fieldId(`offline.instructions.${language}`)}>
            <Suspense
              fallback={
                terms.instructions[language] ? (
                  <RichTextView text={terms.instructions[language]} level={3} />
                ) : null
              }
            >
              <RichTextBox
                label={t("instructions-language", { language: nameOfCode("language", language) })}
                lang={language}
                value={terms.instructions[language] ?? null}
                places={places}
                onChange={(text: RichText) =>
                  put({ instructions: { ...terms.instructions, [language]: text } })
                }
                invalid={Boolean(wrong(`instructions.${language}`))}
              />
            </Suspense>
            <Wrong>{wrong(`instructions.${language}`)}</Wrong>
          </div>
        ))}
      </Stack>
    </Stack>
  );
}

function Days({
  label,
  value,
  placeholder,
  onChange,
}: {
  label: string;
  value: number | null;
  placeholder?: string;
  onChange: (days: number | null) => void;
}) {
  return (
    <Field>
      {label}
      <Input
        type="number"
        min={0}
        max={365}
        step={1}
        value={value ?? ""}
        placeholder={placeholder}
        onChange={(event) => {
          const days = event.target.valueAsNumber;
          onChange(Number.isInteger(days) ? Math.min(365, Math.max(0, days)) : null);
        }}
      />
    </Field>
  );
}
