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
          <Amount amount={left} currency={currency} locale={locale} /> is due <When at={dueAt} />.
        </p>
      )}
      <Entry
        key={`came ${captured}`}
        press="came"
        title="Money came"
        words="Write down what came"
        amount={left}
        {...{ currency, form, today }}
      />
      {there > 0 && (
        <Entry
          key={`back ${refunded}`}
          press="gave-back"
          title="Money was given back"
          words="Write down what was given back"
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
              came <When at={one.on} />, says {one.person ?? "somebody"}
              {one.note && <>: “{one.note}”</>}
            </Small>
            <Button $kind="bare" name="press" value="take-back" disabled={fetcher.state !== "idle"}>
              Take this entry back
            </Button>
          </Row>
        </fetcher.Form>
      ))}
      {isOpen && captured === refunded && (
        <AskFirst
          label="Give it up"
          title="Give this payment up?"
          says="Nobody waits for its money any more. The order stays open, and can be paid another way."
          yes="Give it up"
          no="Go on waiting"
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
            label={`Amount in ${currency}`}
            name="amount"
            value={text}
            currency={currency}
            onChange={setText}
          />
          <DateBox label="Day" name="on" defaultValue={today} max={today} required />
          <TextBox label="Note" name="note" maxLength={200} />
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
