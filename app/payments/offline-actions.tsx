import { useState } from "react";
import { useFetcher } from "react-router";
import { decimalText } from "#core/money/money";
import { Amount } from "../parts/amount";
import { AskFirst } from "../parts/ask";
import { DateBox } from "../parts/date-box";
import { Button, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { Row, Small, Stack } from "../parts/sheet";
import { AmountBox, TextBox } from "../parts/text-box";
import { When } from "../parts/when";
import { t } from "../words/pages/payment";

interface PaymentView {
  amount: number;
  captured: number;
  refunded: number;
  currency: string;
  state: string;
  dueAt: number | null;
}

/** An entry that a person wrote down. */
export interface EntryView {
  once: string;
  amount: number;
  on: number;
  note: string | null;
  person: string | null;
}

/** Money that no provider moves: what came is written down here, and what was given back. */
export function OfflineActions({
  payment,
  entries,
  form,
  today,
  locale,
}: {
  payment: PaymentView;
  entries: readonly EntryView[];
  /** Tells this form from the next: each is good for one entry. */
  form: string;
  /** The viewer's day, as a date field writes it. */
  today: string;
  locale: string;
}) {
  const { amount, captured, refunded, currency, state, dueAt } = payment;
  const left = Math.max(0, amount - captured);
  const there = captured - refunded;
  const isOpen = state === "pending";
  const fetcher = useFetcher<{ ok: boolean; says: string }>();
  return (
    <Stack>
      {isOpen && dueAt !== null && (
        <p>
          {t("amount-is-due-when", {
            amount: <Amount amount={left} currency={currency} locale={locale} />,
            when: <When at={dueAt} />,
          })}
        </p>
      )}
      <Entry
        key={t("came-captured", { captured })}
        press="came"
        title={t("money-came")}
        words={t("write-down-what-came")}
        amount={left}
        {...{ currency, form, today }}
      />
      {there > 0 && (
        <Entry
          key={t("back-refunded", { refunded })}
          press="gave-back"
          title={t("money-was-given-back")}
          words={t("write-down-what-was-given")}
          amount={there}
          {...{ currency, form, today }}
        />
      )}
      {entries.map((one) => (
        <fetcher.Form method="post" key={one.once}>
          <input type="hidden" name="entry" value={one.once} />
          <Row>
            <Amount amount={one.amount} currency={currency} locale={locale} />
            <Small as="span">
              {t("came-when-says-person", {
                when: <When at={one.on} />,
                person: one.person ?? t("somebody"),
              })}
              {one.note && <>: “{one.note}”</>}
            </Small>
            <Button $kind="bare" name="press" value="take-back" disabled={fetcher.state !== "idle"}>
              {t("take-this-entry-back")}
            </Button>
          </Row>
        </fetcher.Form>
      ))}
      {isOpen && captured === refunded && (
        <AskFirst
          label={t("give-it-up")}
          title={t("give-this-payment-up")}
          says={t("nobody-waits-for-its-money")}
          yes={t("give-it-up")}
          no={t("go-on-waiting")}
          onYes={() => void fetcher.submit({ press: "give-up" }, { method: "post" })}
        />
      )}
      {fetcher.data && !fetcher.data.ok && <Wrong>{fetcher.data.says}</Wrong>}
    </Stack>
  );
}

function Entry({
  press,
  title,
  words,
  amount,
  currency,
  form,
  today,
}: {
  press: "came" | "gave-back";
  title: string;
  words: string;
  amount: number;
  currency: string;
  form: string;
  today: string;
}) {
  const fetcher = useFetcher<{ ok: boolean; says: string }>();
  const [text, setText] = useState(decimalText({ amount, currency }));
  return (
    <fetcher.Form method="post">
      <input type="hidden" name="once" value={`${form}-${press}`} />
      <Stack $gap={0.5}>
        <h3>{title}</h3>
        <Row>
          <AmountBox
            label={t("amount-in-currency", { currency })}
            name="amount"
            value={text}
            currency={currency}
            onChange={setText}
          />
          <DateBox label={t("day")} name="on" defaultValue={today} max={today} required />
          <TextBox label={t("note")} name="note" maxLength={200} />
        </Row>
        <Row>
          <Button
            $kind={press === "came" && amount > 0 ? "main" : "plain"}
            name="press"
            value={press}
            disabled={fetcher.state !== "idle"}
          >
            {words}
          </Button>
          {fetcher.data?.ok && fetcher.state === "idle" && (
            <Says meaning="proven" role="status">
              {fetcher.data.says}
            </Says>
          )}
        </Row>
        {fetcher.data && !fetcher.data.ok && <Wrong>{fetcher.data.says}</Wrong>}
      </Stack>
    </fetcher.Form>
  );
}
