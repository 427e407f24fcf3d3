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
import { t } from "../words/pages/payment";

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
        <h2>{t("the-dispute")}</h2>
        <p>
          {t("about-amount-reason-due", {
            amount: <Amount amount={dispute.amount} currency={currency} locale={locale} />,
            reason: dispute.reason && <>: “{dispute.reason}”</>,
            due: dispute.due !== null && t("to-answer-until-when", { when: <When at={dispute.due} /> }),
          })}
        </p>
        {can.answer ? (
          <Stack $gap={0.4}>
            <label htmlFor={field}>{t("what-speaks-for-the-shop")}</label>
            <Words
              id={field}
              value={text}
              maxLength={2_000}
              onChange={(event) => setText(event.currentTarget.value)}
            />
            <Small>{t("what-was-ordered-where-and", { provider })}</Small>
            {can.files && (
              <FileBox
                label={t("files-that-speak-for-the")}
                press={t("add-a-file")}
                accept="application/pdf,image/png,image/jpeg"
                hint={t("pdf-png-or-jpeg-the")}
                onFile={(file) => setFiles((all) => [...all, file])}
              />
            )}
            {files.map((file, i) => (
              <Row key={`${file.name} ${i}`}>
                <span>{file.name}</span>
                <Button
                  type="button"
                  $kind="bare"
                  aria-label={t("leave-name-out", { name: file.name })}
                  onClick={() => setFiles((all) => all.filter((_, at) => at !== i))}
                >
                  {t("leave-it-out")}
                </Button>
              </Row>
            ))}
          </Stack>
        ) : (
          <Small>{t("provider-takes-no-answer-from", { provider })}</Small>
        )}
        <Row>
          {can.answer && (
            <Button type="button" $kind="main" disabled={busy || text.trim() === ""} onClick={answer}>
              {t("answer-it")}
            </Button>
          )}
          {can.accept && (
            <Button type="button" disabled={busy} onClick={() => setAsking(true)}>
              {t("accept-it")}
            </Button>
          )}
          {busy && <Says meaning="running">{t("asking-provider", { provider })}</Says>}
        </Row>
        {fetcher.data && !fetcher.data.ok && !busy && <Wrong>{fetcher.data.says}</Wrong>}
      </Stack>
      {asking && (
        <Ask
          title={t("accept-the-dispute")}
          says={
            <p>
              {t("the-card-holder-has-the", {
                amount: <Amount amount={dispute.amount} currency={currency} locale={locale} />,
              })}
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
            {t("accept-it")}
          </Button>
          <Button type="button" onClick={() => setAsking(false)}>
            {t("leave-it")}
          </Button>
        </Ask>
      )}
    </Sheet>
  );
}
