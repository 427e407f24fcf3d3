import { useFetcher } from "react-router";
import type { Versions as SaidVersions } from "#server/connections/handshake";
import { Button, Wrong } from "../parts/form";
import { Note, Says } from "../parts/marks";
import { Row, Small, Stack } from "../parts/sheet";
import type { Answer } from "./presses";
import type { Spoken } from "../words/speak";
import { t } from "../words/pages/connections";

type Versions = Spoken<SaidVersions>;

const MOST_LINES = 12;

/** Which version of the profile test and live run, and what a newer one or the next cutover would change. */
export function VersionNote({ versions, name }: { versions: Versions; name: string }) {
  const fetcher = useFetcher<Answer>();
  const { newer, waits, test, live } = versions;
  const answer = fetcher.data;
  if (!newer && waits.length === 0)
    return answer?.kept && answer.says ? (
      <Says meaning="proven" role="status">
        {answer.says}
      </Says>
    ) : null;
  return (
    <Note meaning="waits">
      <Stack $gap={0.5}>
        {newer ? (
          <>
            <strong>{t("version-version-of-name-s", { version: newer.version, name, test })}</strong>
            <Lines lines={newer.differs} none={t("nothing-that-matters-here-differs")} />
            <Row>
              <Button
                type="button"
                disabled={fetcher.state !== "idle"}
                onClick={() =>
                  void fetcher.submit({ press: "take-up", version: newer.id }, { method: "post" })
                }
              >
                {t("take-version-version-up-in", { version: newer.version })}
              </Button>
              <Small>{t("live-goes-on-with-live", { live })}</Small>
            </Row>
          </>
        ) : (
          <>
            <strong>{t("test-runs-version-test-of", { test, name, live })}</strong>
            <Lines lines={waits} none={t("nothing-that-matters-here-differs")} />
          </>
        )}
        <Wrong>{answer && !answer.kept ? answer.says : null}</Wrong>
      </Stack>
    </Note>
  );
}

function Lines({ lines, none }: { lines: readonly string[]; none: string }) {
  if (lines.length === 0) return <Small>{none}</Small>;
  return (
    <ul>
      {lines.slice(0, MOST_LINES).map((line) => (
        <li key={line}>{line}</li>
      ))}
      {lines.length > MOST_LINES && <li>{t("and-lines-more", { lines: lines.length - MOST_LINES })}</li>}
    </ul>
  );
}
