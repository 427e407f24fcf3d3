import { useId, useState } from "react";
import { useFetcher } from "react-router";
import { styled } from "styled-components";
import { Amount } from "../parts/amount";
import { Ask } from "../parts/ask";
import { FileBox } from "../parts/file-box";
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
  can: { answer: boolean; accept: boolean; files: boolean };
  currency: string;
  locale: string;
}) {
  const fetcher = useFetcher<{ ok: boolean; says: string }>();
  const [text, setText] = useState("");
  const [files, setFiles] = useState<File[]>([]);
  const [asking, setAsking] = useState(false);
  const field = useId();
  const busy = fetcher.state !== "idle";
  const send = (fields: Record<string, string>) => void fetcher.submit(fields, { method: "post" });
  const answer = () => {
    const form = new FormData();
    form.set("press", "answer-dispute");
    form.set("text", text);
    for (const file of files) form.append("file", file);
    void fetcher.submit(form, { method: "post", encType: "multipart/form-data" });
  };
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
            {can.files && (
              <FileBox
                label="Files that speak for the shop"
                press="Add a file"
                accept="application/pdf,image/png,image/jpeg"
                hint="PDF, PNG or JPEG: the delivery note, the letter, the photograph. Five at most, 5 MB together."
                onFile={(file) => setFiles((all) => [...all, file])}
              />
            )}
            {files.map((file, i) => (
              <Row key={`${file.name} ${i}`}>
                <span>{file.name}</span>
                <Button
                  type="button"
                  $kind="bare"
                  aria-label={`Leave ${file.name} out`}
                  onClick={() => setFiles((all) => all.filter((_, at) => at !== i))}
                >
                  Leave it out
                </Button>
              </Row>
            ))}
          </Stack>
        ) : (
          <Small>{provider} takes no answer from here: answer it in its dashboard.</Small>
        )}
        <Row>
          {can.answer && (
            <Button type="button" $kind="main" disabled={busy || text.trim() === ""} onClick={answer}>
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
