import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import { styled } from "styled-components";
import type { Mode } from "#core/mode";
import { useAnswer } from "../parts/answer";
import { Button, Hint, Wrong } from "../parts/form";
import { Row, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import type { Answer } from "./presses";
import { t } from "../words/pages/connections";

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
  // What was taken does not stay readable here.
  useAnswer(fetcher.state === "idle" ? data : undefined, (one) => {
    if (one.kept) setOpen(false);
  });
  return (
    <Stack $gap={0.4}>
      <Row>
        <Button
          type="button"
          $kind="bare"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          aria-label={t("paste-several-at-once-mode", { mode })}
        >
          {t("paste-several-at-once")}
        </Button>
      </Row>
      {open && (
        <fetcher.Form method="post">
          <input type="hidden" name="mode" value={mode} />
          <Stack $gap={0.4}>
            <Box
              name="text"
              aria-label={t("several-values-mode", { mode })}
              placeholder={t("lines-name-value-pairs-json")}
              spellCheck={false}
              autoComplete="off"
              maxLength={20_000}
            />
            <Row>
              <Button
                name="press"
                value="paste"
                disabled={busy}
                aria-label={t("fill-the-rows-mode", { mode })}
              >
                {t("fill-the-rows", { hasBusy: busy ? "yes" : "no" })}
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

/** Takes what is pasted onto the sheet, wherever nothing else would take it: a whole page of a dashboard fills its rows. */
export function PasteAnywhere() {
  const fetcher = useFetcher<Answer>();
  const { submit, data } = fetcher;
  useEffect(() => {
    const onPaste = (event: ClipboardEvent) => {
      const { target } = event;
      if (target instanceof HTMLElement && target.closest("input, textarea, [contenteditable]")) return;
      const text = event.clipboardData?.getData("text/plain") ?? "";
      if (text.trim() === "") return;
      event.preventDefault();
      void submit({ press: "paste-page", text: text.slice(0, 20_000) }, { method: "post" });
    };
    document.addEventListener("paste", onPaste);
    return () => document.removeEventListener("paste", onPaste);
  }, [submit]);
  return (
    <div role="status">
      {fetcher.state === "submitting" && <Hint>{t("being-proven")}</Hint>}
      {fetcher.state === "idle" && data && !data.kept && <Wrong>{data.says}</Wrong>}
      {fetcher.state === "idle" && data?.kept && <Hint>{data.says}</Hint>}
    </div>
  );
}
