import { useFetcher } from "react-router";
import type { Mode } from "#core/mode";
import { Button, Hint, Wrong } from "../parts/form";
import { t } from "../words/pages/connections";
import type { Answer } from "./presses";

/** One press on the sheet, with what it led to beside it. */
export function Act({
  mode,
  press,
  words,
  busyWords,
  bare = false,
  fields = {},
  name = `${words}, ${mode ?? t("both")}`,
}: {
  mode?: Mode;
  press: string;
  words: string;
  busyWords: string;
  bare?: boolean;
  fields?: Record<string, string>;
  /** What the press is called for people who do not see what it stands beside. */
  name?: string;
}) {
  const fetcher = useFetcher<Answer>();
  const busy = fetcher.state !== "idle";
  return (
    <fetcher.Form method="post">
      {mode && <input type="hidden" name="mode" value={mode} />}
      {Object.entries(fields).map(([field, value]) => (
        <input key={field} type="hidden" name={field} value={value} />
      ))}
      <Button $kind={bare ? "bare" : "plain"} aria-label={name} name="press" value={press} disabled={busy}>
        {busy ? busyWords : words}
      </Button>
      <Wrong>{fetcher.data && !fetcher.data.kept ? fetcher.data.says : null}</Wrong>
      {fetcher.data?.kept && fetcher.data.says && <Hint role="status">{fetcher.data.says}</Hint>}
    </fetcher.Form>
  );
}
