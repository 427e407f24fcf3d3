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
        <CopyValue value={webhook.secret} label={`Secret …${webhook.secretHint ?? ""}`} />
      ) : (
        webhook.secretHint && (
          <Small>
            Secret <Mono>…{webhook.secretHint}</Mono>, no longer shown
          </Small>
        )
      )}
      <Heard webhook={webhook} name={manner.name} />
      {webhook.refused && (
        <Note meaning="wrong">
          A message was refused <When at={webhook.refused.at} />: {verdictWords(webhook.refused.verdict)}.
        </Note>
      )}
      {webhook.silence && (
        <Note meaning="waits">
          Nothing was heard about {webhook.silence.payments} payment{webhook.silence.payments > 1 ? "s" : ""}{" "}
          for {spanWords(webhook.silence.waited)}; usually a message takes less than{" "}
          {spanWords(webhook.silence.usual)}. Open payments are looked up meanwhile.
        </Note>
      )}
      {webhook.faults.length > 0 && (
        <Note meaning="wrong">
          {webhook.faults.join(" ")}
          {manner.registers && (
            <Act mode={mode} press="mend" words="Mend it over there" busyWords="Mending…" />
          )}
        </Note>
      )}
      <Row>
        {manner.registers && !webhook.registered && unproven && (
          <Act mode={mode} press="register" words="Register the webhook for me" busyWords="Registering…" />
        )}
        {manner.pings && (webhook.registered || hand || !unproven) && (
          <Act mode={mode} press="ping" words="Send a test" busyWords="Asking…" />
        )}
        {manner.registers && !webhook.registered && unproven && (
          <Button type="button" $kind="bare" aria-expanded={hand} onClick={() => setHand(!hand)}>
            By hand
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
            Events to send: <Mono>{manner.events.join(", ")}</Mono>
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
  const words = withSecret ? "New address and secret" : "New address";
  const says = [
    byCall
      ? "The new address is registered over there first; only then the old one is taken off."
      : "You have to make the new address known over there by hand; until then messages go on arriving at the old one.",
    live ? "Shoppers pay through this connection in live." : "",
  ].join(" ");
  return (
    <>
      <AskFirst
        label={fetcher.state === "idle" ? words : "Making…"}
        name={`${words}, ${mode}`}
        disabled={fetcher.state !== "idle"}
        title={`Make a ${words.toLowerCase()} for ${mode}?`}
        says={says}
        yes="Make it"
        no="Keep the one there is"
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
        a signed message arrived <When at={webhook.provenAt} />
      </Says>
    );
  return webhook.registered ? (
    <Says meaning="waits" role="status">
      registered; nothing has arrived yet
    </Says>
  ) : (
    <Says meaning="none">{name} does not know it yet, or nothing has arrived</Says>
  );
}

/** A span of milliseconds in words. */
function spanWords(ms: number): string {
  const seconds = Math.max(1, Math.round(ms / 1000));
  if (seconds < 90) return `${seconds} seconds`;
  const minutes = Math.round(seconds / 60);
  return minutes < 90 ? `${minutes} minutes` : `${Math.round(minutes / 60)} hours`;
}
