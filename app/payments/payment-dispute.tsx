import { useId, useState } from "react";
import { useFetcher } from "react-router";
import { styled } from "styled-components";
import { Amount } from "../parts/amount";
import { Ask } from "../parts/ask";
import { Button, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { Row, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { color } from "../theme/tokens";

const Words = styled.textarea`
  width: 100%;
  min-height: 7rem;
  border: 1.5px solid ${color.ruleStrong};
  background: ${color.sheet};
  padding: 0.5rem;
`;

export interface DisputeView {
  amount: number;
  reason: string | null;
  /** Until when it can be answered, milliseconds since the epoch. */
  due: number | null;
}

/** A dispute that is open: until when, what speaks for the shop, or giving in. */
export function PaymentDispute({
  dispute,
  provider,
  can,
  currency,
  locale,
}: {
  dispute: DisputeView;
  provider: string;
  /** What of it the provider takes from here. */
  can: { answer: boolean; accept: boolean };
  currency: string;
  locale: string;
}) {
  const fetcher = useFetcher<{ ok: boolean; says: string }>();
  const [text, setText] = useState("");
  const [asking, setAsking] = useState(false);
  const field = useId();
  const busy = fetcher.state !== "idle";
  const send = (fields: Record<string, string>) => void fetcher.submit(fields, { method: "post" });
  return (
    <Sheet>
      <Stack>
        <h2>The dispute</h2>
        <p>
          About <Amount amount={dispute.amount} currency={currency} locale={locale} />
          {dispute.reason && <>: “{dispute.reason}”</>}
          {dispute.due !== null && (
            <>
              , to answer until <When at={dispute.due} />
            </>
          )}
          .
        </p>
        {can.answer ? (
          <Stack $gap={0.4}>
            <label htmlFor={field}>What speaks for the shop</label>
            <Words
              id={field}
              value={text}
              maxLength={2_000}
              onChange={(event) => setText(event.currentTarget.value)}
            />
            <Small>
              What was ordered, where and when it was delivered, what the shopper wrote. It is handed to{" "}
              {provider} once, and cannot be changed afterwards.
            </Small>
          </Stack>
        ) : (
          <Small>{provider} takes no answer from here: answer it in its dashboard.</Small>
        )}
        <Row>
          {can.answer && (
            <Button
              type="button"
              $kind="main"
              disabled={busy || text.trim() === ""}
              onClick={() => send({ press: "answer-dispute", text })}
            >
              Answer it
            </Button>
          )}
          {can.accept && (
            <Button type="button" disabled={busy} onClick={() => setAsking(true)}>
              Accept it
            </Button>
          )}
          {busy && <Says meaning="running">asking {provider}</Says>}
        </Row>
        {fetcher.data && !fetcher.data.ok && !busy && <Wrong>{fetcher.data.says}</Wrong>}
      </Stack>
      {asking && (
        <Ask
          title="Accept the dispute?"
          says={
            <p>
              The card holder has the money back:{" "}
              <Amount amount={dispute.amount} currency={currency} locale={locale} /> is lost. It cannot be
              answered any more.
            </p>
          }
          onClose={() => setAsking(false)}
        >
          <Button
            type="button"
            $kind="danger"
            onClick={() => {
              setAsking(false);
              send({ press: "accept-dispute" });
            }}
          >
            Accept it
          </Button>
          <Button type="button" onClick={() => setAsking(false)}>
            Leave it
          </Button>
        </Ask>
      )}
    </Sheet>
  );
}
