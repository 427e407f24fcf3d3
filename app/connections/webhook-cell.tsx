import { useState } from "react";
import { useFetcher } from "react-router";
import { styled } from "styled-components";
import type { Mode } from "#core/mode";
import { verdictWords } from "#core/webhooks/verdict-words";
import type { Column as SaidColumn, WebhookColumn as SaidWebhookColumn } from "#server/connections/handshake";
import { AskFirst } from "../parts/ask";
import { CopyValue } from "../parts/copy";
import { Button, Wrong } from "../parts/form";
import { useLive } from "../parts/live";
import { Note, Says } from "../parts/marks";
import { Mono, Row, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { Act } from "./act";
import type { Answer } from "./presses";
import type { Spoken } from "../words/speak";
import { t } from "../words/pages/connections";

type Column = Spoken<SaidColumn>;
type WebhookColumn = Spoken<SaidWebhookColumn>;

const Steps = styled.ol`
  list-style: decimal;
  padding-left: 1.2rem;
  font-size: 0.92rem;
`;

/** How the provider's side takes our address. */
export interface Manner {
  name: string;
  byHand: string[];
  events: string[];
  /** What the provider's API can do. */
  registers: boolean;
  pings: boolean;
}

/** Address and, where we make it, secret on their way to the provider, until a signed message has really arrived. */
export function WebhookCell({
  column,
  webhook,
  manner,
  live,
}: {
  column: Column;
  webhook: WebhookColumn;
  manner: Manner;
  /** Whether shoppers pay through it. */
  live: boolean;
}) {
  const { mode } = column;
  const [hand, setHand] = useState(!manner.registers);
  const unproven = webhook.provenAt === null;
  // A message may come from a registration made elsewhere or in another tab, so the sheet looks in any case.
  useLive(unproven, webhook.registered || hand ? 700 : 3_000);
  return (
    <Stack $gap={0.55}>
      <CopyValue value={webhook.address} />
      {webhook.secret !== null ? (
        <CopyValue
          value={webhook.secret}
          label={t("secret-secret-hint", { secretHint: webhook.secretHint ?? "" })}
        />
      ) : (
        webhook.secretHint && (
          <Small>{t("secret-mono-no-longer-shown", { mono: <Mono>…{webhook.secretHint}</Mono> })}</Small>
        )
      )}
      <Heard webhook={webhook} name={manner.name} />
      {webhook.refused && (
        <Note meaning="wrong">
          {t("a-message-was-refused-when", {
            when: <When at={webhook.refused.at} />,
            verdict: verdictWords(webhook.refused.verdict),
          })}
        </Note>
      )}
      {webhook.silence && (
        <Note meaning="waits">
          {t("nothing-was-heard-about-payments", {
            payments: webhook.silence.payments,
            waited: spanWords(webhook.silence.waited),
            usual: spanWords(webhook.silence.usual),
          })}
        </Note>
      )}
      {webhook.faults.length > 0 && (
        <Note meaning="wrong">
          {webhook.faults.join(" ")}
          {manner.registers && (
            <Act mode={mode} press="mend" words={t("mend-it-over-there")} busyWords={t("mending")} />
          )}
        </Note>
      )}
      <Row>
        {manner.registers && !webhook.registered && unproven && (
          <Act
            mode={mode}
            press="register"
            words={t("register-the-webhook-for-me")}
            busyWords={t("registering")}
          />
        )}
        {manner.pings && (webhook.registered || hand || !unproven) && (
          <Act mode={mode} press="ping" words={t("send-a-test")} busyWords={t("asking")} />
        )}
        {manner.registers && !webhook.registered && unproven && (
          <Button type="button" $kind="bare" aria-expanded={hand} onClick={() => setHand(!hand)}>
            {t("by-hand")}
          </Button>
        )}
        {(!unproven || webhook.registered) && (
          <Renew mode={mode} withSecret={webhook.secretHint !== null} byCall={manner.registers} live={live} />
        )}
      </Row>
      {hand && unproven && (
        <>
          <Steps>
            {manner.byHand.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </Steps>
          <Small>
            {t("events-to-send")} <Mono>{manner.events.join(", ")}</Mono>
          </Small>
        </>
      )}
    </Stack>
  );
}

/** A new address takes the place of one that works, so it asks first. */
function Renew({
  mode,
  withSecret,
  byCall,
  live,
}: {
  mode: Mode;
  withSecret: boolean;
  byCall: boolean;
  live: boolean;
}) {
  const fetcher = useFetcher<Answer>();
  const words = withSecret ? t("new-address-and-secret") : t("new-address");
  const says = [
    byCall ? t("the-new-address-is-registered") : t("you-have-to-make-the"),
    live ? t("shoppers-pay-through-this-connection") : "",
  ].join(" ");
  return (
    <>
      <AskFirst
        label={fetcher.state === "idle" ? words : t("making")}
        name={`${words}, ${mode}`}
        disabled={fetcher.state !== "idle"}
        title={t("make-a-words-for-mode", { words: words.toLowerCase(), mode })}
        says={says}
        yes={t("make-it")}
        no={t("keep-the-one-there-is")}
        onYes={() => void fetcher.submit({ press: "renew", mode }, { method: "post" })}
      />
      <Wrong>{fetcher.data && !fetcher.data.kept ? fetcher.data.says : null}</Wrong>
    </>
  );
}

function Heard({ webhook, name }: { webhook: WebhookColumn; name: string }) {
  if (webhook.provenAt !== null)
    return (
      <Says meaning="proven" role="status">
        {t("a-signed-message-arrived-when", { when: <When at={webhook.provenAt} /> })}
      </Says>
    );
  return webhook.registered ? (
    <Says meaning="waits" role="status">
      {t("registered-nothing-has-arrived-yet")}
    </Says>
  ) : (
    <Says meaning="none">{t("name-does-not-know-it", { name })}</Says>
  );
}

/** A span of milliseconds in words. */
function spanWords(ms: number): string {
  const seconds = Math.max(1, Math.round(ms / 1000));
  if (seconds < 90) return t("seconds-seconds", { seconds });
  const minutes = Math.round(seconds / 60);
  return minutes < 90
    ? t("minutes-minutes", { minutes })
    : t("minutes-hours", { minutes: Math.round(minutes / 60) });
}
