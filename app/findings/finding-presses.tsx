import { useState } from "react";
import { useFetcher } from "react-router";
import { Button, Wrong } from "../parts/form";
import { Row, Small, Stack } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { When } from "../parts/when";

export interface FindingShown {
  id: string;
  state: "open" | "snoozed" | "resolved";
  snoozedUntil: number | null;
  resolvedAt: number | null;
  person: string | null;
  reason: string | null;
}

/** What a person does with a finding: settles it or puts it off, with a reason, or takes it up again. */
export function FindingPresses({ finding, action }: { finding: FindingShown; action: string }) {
  const fetcher = useFetcher<{ ok: boolean; says?: string }>();
  const [asked, setAsked] = useState<"resolved" | "snoozed" | null>(null);
  const [reason, setReason] = useState("");
  const busy = fetcher.state !== "idle";
  const send = (as: string) => {
    setAsked(null);
    void fetcher.submit({ finding: finding.id, as, reason }, { method: "post", action });
  };
  if (finding.state !== "open")
    return (
      <Stack $gap={0.2}>
        <Small>
          {finding.state === "snoozed" && finding.snoozedUntil ? (
            <>
              put off until <When at={finding.snoozedUntil} /> by {finding.person}
            </>
          ) : finding.person ? (
            <>settled by {finding.person}</>
          ) : (
            <>went away by itself</>
          )}
          {finding.state === "resolved" && finding.resolvedAt !== null && (
            <>
              , <When at={finding.resolvedAt} />
            </>
          )}
          {finding.reason && <>: “{finding.reason}”</>}
        </Small>
        {finding.person && (
          <Button type="button" $kind="bare" disabled={busy} onClick={() => send("open")}>
            Take it up again
          </Button>
        )}
      </Stack>
    );
  if (asked)
    return (
      <Stack $gap={0.4}>
        <TextBox
          label={asked === "resolved" ? "What was done about it" : "Why it waits"}
          maxLength={200}
          value={reason}
          onChange={setReason}
          autoFocus
        />
        <Row>
          <Button type="button" disabled={busy || reason.trim() === ""} onClick={() => send(asked)}>
            {asked === "resolved" ? "Settle it" : "Put it off for a day"}
          </Button>
          <Button type="button" $kind="bare" onClick={() => setAsked(null)}>
            Leave it
          </Button>
          {reason.trim() === "" && <Small>A few words for whoever reads it later.</Small>}
        </Row>
      </Stack>
    );
  return (
    <Row>
      <Button type="button" disabled={busy} onClick={() => setAsked("resolved")}>
        Settle
      </Button>
      <Button type="button" $kind="bare" disabled={busy} onClick={() => setAsked("snoozed")}>
        Put off
      </Button>
      {fetcher.data && !fetcher.data.ok && <Wrong>{fetcher.data.says}</Wrong>}
    </Row>
  );
}
