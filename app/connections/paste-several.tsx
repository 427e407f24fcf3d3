import { useState } from "react";
import { useFetcher } from "react-router";
import { styled } from "styled-components";
import type { Mode } from "#core/mode";
import { Button, Hint, Wrong } from "../parts/form";
import { Row, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import type { Answer } from "./presses";

const Box = styled.textarea`
  width: 100%;
  min-height: 6rem;
  padding: 0.4rem 0.55rem;
  border: 1.5px solid ${color.ruleStrong};
  border-radius: 2px;
  background: ${color.sheet};
  font-family: var(--mono);
  font-size: 0.88rem;
`;

/** A block of lines or a JSON snippet, copied from a dashboard, that fills the rows it fits. */
export function PasteSeveral({ mode }: { mode: Mode }) {
  const fetcher = useFetcher<Answer>();
  const [open, setOpen] = useState(false);
  const busy = fetcher.state !== "idle";
  const { data } = fetcher;
  return (
    <Stack $gap={0.4}>
      <Row>
        <Button
          type="button"
          $kind="bare"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          aria-label={`Paste several at once, ${mode}`}
        >
          Paste several at once
        </Button>
      </Row>
      {open && (
        <fetcher.Form method="post">
          <input type="hidden" name="mode" value={mode} />
          <Stack $gap={0.4}>
            <Box
              name="text"
              aria-label={`Several values, ${mode}`}
              placeholder="Lines, NAME=value pairs, or JSON"
              spellCheck={false}
              autoComplete="off"
              maxLength={20_000}
            />
            <Row>
              <Button name="press" value="paste" disabled={busy} aria-label={`Fill the rows, ${mode}`}>
                {busy ? "Proving…" : "Fill the rows"}
              </Button>
            </Row>
          </Stack>
        </fetcher.Form>
      )}
      <Wrong>{data && !data.kept ? data.says : null}</Wrong>
      {data?.kept && data.says && <Hint role="status">{data.says}</Hint>}
    </Stack>
  );
}
