import { useState } from "react";
import { useFetcher } from "react-router";
import { styled } from "styled-components";
import type { SnapshotView } from "#server/cutover/snapshots";
import { Ask } from "../parts/ask";
import { Button, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { Row, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { color } from "../theme/tokens";
import type { Spoken } from "../words/speak";
import { SettingTable } from "./changes";
import { TextBox } from "../parts/text-box";
import { t } from "../words/pages/cutover";

const Box = styled.section`
  border: 1.5px solid ${color.ruleStrong};
  padding: 0.8rem 1rem;
`;

interface Answer {
  says: string | null;
  refused?: boolean;
}

/** What live ran before a movement, compared with what it runs now, and the two ways to have it back. */
export function SnapshotSheet({ looked, connection }: { looked: Spoken<SnapshotView>; connection: string }) {
  const fetcher = useFetcher<Answer>();
  const answer = fetcher.data;
  const busy = fetcher.state !== "idle";
  const changes = looked.lines.flatMap(({ offer, changes }) =>
    changes.map((change) => ({ ...change, offer })),
  );
  return (
    <Box aria-label={t("what-ran-before-title")}>
      <Stack $gap={0.8}>
        <h3>{t("what-live-ran-before-when", { when: <When at={looked.at} /> })}</h3>
        {looked.lines.map((line) => (
          <p key={line.connection + line.offer}>
            {t("offer-of-connection-then-then", {
              offer: line.offer,
              connection: line.connection,
              then: line.then === null ? t("nothing") : t("revision-then", { then: line.then }),
              gone: line.gone
                ? t("removed-since")
                : line.now === null
                  ? t("nothing-now")
                  : t("revision-now-now", { now: line.now }),
            })}
          </p>
        ))}
        {looked.lines.length === 0 && <Small>{t("nothing-of-it-ran")}</Small>}
        {looked.same ? (
          <Says meaning="proven">{t("live-runs-just-that-now")}</Says>
        ) : (
          changes.length > 0 && <SettingTable changes={changes} several={looked.lines.length > 1} />
        )}
        <Row>
          <Button
            type="button"
            disabled={busy}
            onClick={() =>
              void fetcher.submit({ press: "to-working", cutover: looked.id }, { method: "post" })
            }
          >
            {t("make-it-the-working-revision")}
          </Button>
          {!looked.same && (
            <AtOnce
              connection={connection}
              busy={busy}
              onYes={(reason) =>
                void fetcher.submit({ press: "restore", cutover: looked.id, reason }, { method: "post" })
              }
            />
          )}
        </Row>
        <Small>{t("as-the-working-revision-it")}</Small>
        {answer?.says &&
          (answer.refused ? (
            <Wrong>{answer.says}</Wrong>
          ) : (
            <Says meaning="proven" role="status">
              {answer.says}
            </Says>
          ))}
      </Stack>
    </Box>
  );
}

/** Putting a snapshot back without gates, with a reason for the audit trail. */
function AtOnce({
  connection,
  busy,
  onYes,
}: {
  connection: string;
  busy: boolean;
  onYes: (reason: string) => void;
}) {
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState("");
  const close = () => setAsking(false);
  return (
    <>
      <Button type="button" $kind="danger" disabled={busy} onClick={() => setAsking(true)}>
        {t("put-it-back-at-once")}
      </Button>
      {asking && (
        <Ask
          title={t("put-back-what-ran-before", { connection })}
          says={
            <Stack $gap={0.6}>
              <p>{t("live-changes-at-once-without")}</p>
              <TextBox
                label={t("why")}
                value={reason}
                maxLength={300}
                autoFocus
                onChange={(text) => setReason(text)}
              />
            </Stack>
          }
          onClose={close}
        >
          <Button
            type="button"
            $kind="danger"
            disabled={reason.trim() === ""}
            onClick={() => {
              close();
              onYes(reason.trim());
            }}
          >
            {t("put-it-back")}
          </Button>
          <Button type="button" onClick={close}>
            {t("leave-live-as-it-is")}
          </Button>
        </Ask>
      )}
    </>
  );
}
