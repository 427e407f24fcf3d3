import { useRef, useState } from "react";
import { useFetcher } from "react-router";
import { styled } from "styled-components";
import type { Mode } from "#core/mode";
import type { Cell as SaidCell } from "#server/connections/handshake";
import type { Answer } from "./presses";
import { useAnswer } from "../parts/answer";
import { CopyValue } from "../parts/copy";
import { Button, Hint, Input, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { Mono, Row, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import type { Spoken } from "../words/speak";
import { listed } from "../words/listed";
import { t } from "../words/pages/connections";

type Cell = Spoken<SaidCell>;

const Entry = styled.div`
  display: flex;
  gap: 0.5rem;
  align-items: start;
  input {
    flex: 1;
    min-width: 0;
    font-family: var(--mono);
    font-size: 0.88rem;
  }
`;

const Place = styled.a`
  display: inline-block;
  min-height: 1.6rem;
  padding: 0.15rem 0;
  font-size: 0.88rem;
`;

interface Props {
  mode: Mode;
  field: { id: string; label: string; secret: boolean; shownOnce: boolean };
  /** The page it stands on over there. */
  place: string | null;
  cell: Cell;
}

/** One value for one mode: paste it, and it is kept and proven at once. */
export function KeyCell({ mode, field, place, cell }: Props) {
  const fetcher = useFetcher<Answer>();
  const [replacing, setReplacing] = useState(false);
  const form = useRef<HTMLFormElement>(null);
  const box = useRef<HTMLInputElement>(null);
  // Not while the page only reads itself again: a value that is put right meanwhile would be sent to nobody.
  const busy = fetcher.state === "submitting";
  const answer = fetcher.data;
  const refused = answer && !answer.kept ? answer.says : null;
  useAnswer(fetcher.state === "idle" ? answer : undefined, (one) => {
    // A refused value is selected, so that the next one takes its place.
    if (!one.kept) return box.current?.select();
    setReplacing(false);
    form.current?.reset();
  });
  const putRight = (belongs: Answer["belongs"]) => {
    const value = box.current?.value ?? "";
    if (!belongs) return;
    form.current?.reset();
    void fetcher.submit(
      { press: "enter", mode: belongs.mode, field: belongs.field, value },
      { method: "post" },
    );
  };
  const name = `${field.label}, ${mode}`;
  const entering = cell.state === "missing" || replacing;
  return (
    <Stack $gap={0.45}>
      {cell.state !== "missing" && <CellState cell={cell} />}
      {entering ? (
        <fetcher.Form method="post" ref={form}>
          <input type="hidden" name="press" value="enter" />
          <input type="hidden" name="mode" value={mode} />
          <input type="hidden" name="field" value={field.id} />
          <Entry>
            <Input
              ref={box}
              name="value"
              aria-label={name}
              placeholder={t("paste-it-here")}
              autoComplete="off"
              spellCheck={false}
              maxLength={5000}
              aria-invalid={refused ? true : undefined}
              onPaste={(event) => {
                const { form: own } = event.currentTarget;
                setTimeout(() => own?.requestSubmit(), 0);
              }}
            />
            <Button disabled={busy}>{t("keep-and-prove", { hasBusy: busy ? "yes" : "no" })}</Button>
          </Entry>
          {place && cell.state === "missing" && (
            <Place
              href={place}
              target="_blank"
              rel="noreferrer"
              aria-label={t("where-name-stands", { name })}
            >
              {t("it-stands-here")}
            </Place>
          )}
        </fetcher.Form>
      ) : (
        <Row>
          <Button
            type="button"
            $kind="bare"
            disabled={busy}
            onClick={() => setReplacing(true)}
            aria-label={t("replace-name", { name })}
          >
            {t("replace")}
          </Button>
          {cell.state !== "proven" && <ProveAgain mode={mode} name={name} />}
        </Row>
      )}
      <Wrong>{refused}</Wrong>
      {refused && answer?.belongs && entering && (
        <Row>
          <Button type="button" disabled={busy} onClick={() => putRight(answer.belongs)}>
            {t("put-it-in-label", { label: answer.belongs.label })}
          </Button>
        </Row>
      )}
      {answer?.kept && answer.says && <Hint role="status">{answer.says}</Hint>}
    </Stack>
  );
}

function ProveAgain({ mode, name }: { mode: Mode; name: string }) {
  const fetcher = useFetcher();
  return (
    <fetcher.Form method="post">
      <input type="hidden" name="mode" value={mode} />
      <Button
        $kind="bare"
        name="press"
        value="prove"
        disabled={fetcher.state !== "idle"}
        aria-label={t("prove-again-name", { name })}
      >
        {t("proving", { idle: fetcher.state === "idle" ? "yes" : "no" })}
      </Button>
    </fetcher.Form>
  );
}

function CellState({ cell }: { cell: Exclude<Cell, { state: "missing" }> }) {
  return (
    <Stack $gap={0.2}>
      {cell.hint.startsWith("…") ? <Mono>{cell.hint}</Mono> : <CopyValue value={cell.hint} />}
      {cell.state === "proven" && (
        <Says meaning="proven">{t("proven-when", { when: <When at={cell.at} /> })}</Says>
      )}
      {cell.state === "entered" && (
        <Says meaning="waits">
          {cell.waitsFor.length
            ? t("entered-proven-once-the-waits", {
                waitsFor: listed(cell.waitsFor),
                count: cell.waitsFor.length,
              })
            : t("entered-not-proven-yet")}
        </Says>
      )}
      {cell.state === "stale" && <Says meaning="waits">{t("stale-says", { says: cell.says })}</Says>}
      {cell.state === "wrong" && (
        <Says meaning="wrong" role="alert">
          {cell.says} {cell.code && <Mono>{cell.code}</Mono>}
        </Says>
      )}
    </Stack>
  );
}
