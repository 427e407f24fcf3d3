import { useState } from "react";
import { useFetcher } from "react-router";
import { styled } from "styled-components";
import type { Mode } from "#core/mode";
import type { Column } from "#server/connections/handshake";
import { CopyValue } from "../parts/copy";
import { Button, Wrong } from "../parts/form";
import { useLive } from "../parts/live";
import { Note, Says } from "../parts/marks";
import { Mono, Row, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import type { Answer } from "./key-cell";

const Steps = styled.ol`
  list-style: decimal;
  padding-left: 1.2rem;
  font-size: 0.92rem;
`;

const refusedBecause: Record<string, string> = {
  "header-missing": "it carried no signature",
  "timestamp-malformed": "its time was malformed",
  "timestamp-too-old": "it was too old",
  "timestamp-too-new": "its time lies in the future; check the clocks",
  "signature-mismatch": "its signature does not fit the secret",
  "secret-malformed": "the secret is malformed",
};

/** Address and secret on their way to the provider, until a signed message has really arrived. */
export function WebhookCell({ column, name, byHand }: { column: Column; name: string; byHand: string[] }) {
  const { mode, webhook } = column;
  const [hand, setHand] = useState(false);
  // A message may come from a registration made elsewhere or in another tab, so the sheet looks in any case.
  useLive(webhook.provenAt === null, webhook.registered || hand ? 700 : 3_000);
  return (
    <Stack $gap={0.55}>
      <CopyValue value={webhook.address} />
      {webhook.secret ? (
        <CopyValue value={webhook.secret} label={`Secret …${webhook.secretHint}`} />
      ) : (
        <Small>
          Secret <Mono>…{webhook.secretHint}</Mono>, no longer shown
        </Small>
      )}
      {webhook.provenAt !== null ? (
        <Says meaning="proven" role="status">
          a signed message arrived <When at={webhook.provenAt} />
        </Says>
      ) : webhook.registered ? (
        <Says meaning="waits" role="status">
          registered; nothing has arrived yet
        </Says>
      ) : (
        <Says meaning="none">{name} does not know it yet</Says>
      )}
      {webhook.refused && (
        <Note meaning="wrong">
          A message was refused <When at={webhook.refused.at} />:{" "}
          {refusedBecause[webhook.refused.verdict] ?? webhook.refused.verdict}.
        </Note>
      )}
      <Row>
        {!webhook.registered && webhook.provenAt === null && (
          <Act mode={mode} press="register" words="Register the webhook for me" busyWords="Registering…" />
        )}
        {(webhook.registered || hand || webhook.provenAt !== null) && (
          <Act mode={mode} press="ping" words="Send a test" busyWords="Asking…" />
        )}
        {!webhook.registered && webhook.provenAt === null && (
          <Button type="button" $kind="bare" aria-expanded={hand} onClick={() => setHand(!hand)}>
            By hand
          </Button>
        )}
        {(webhook.provenAt !== null || webhook.registered) && (
          <Act mode={mode} press="renew" words="New address and secret" busyWords="Making…" bare />
        )}
      </Row>
      {hand && (
        <Steps>
          {byHand.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </Steps>
      )}
    </Stack>
  );
}

function Act({
  mode,
  press,
  words,
  busyWords,
  bare = false,
}: {
  mode: Mode;
  press: string;
  words: string;
  busyWords: string;
  bare?: boolean;
}) {
  const fetcher = useFetcher<Answer>();
  const busy = fetcher.state !== "idle";
  return (
    <fetcher.Form method="post">
      <input type="hidden" name="mode" value={mode} />
      <Button
        $kind={bare ? "bare" : "plain"}
        aria-label={`${words}, ${mode}`}
        name="press"
        value={press}
        disabled={busy}
      >
        {busy ? busyWords : words}
      </Button>
      <Wrong>{fetcher.data && !fetcher.data.kept ? fetcher.data.says : null}</Wrong>
    </fetcher.Form>
  );
}
