import { useState } from "react";
import { useFetcher } from "react-router";
import { Button, Wrong } from "../parts/form";
import { Row, Small, Stack } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { When } from "../parts/when";
import { t } from "../words/pages/findings";

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
          {finding.state === "snoozed" && finding.snoozedUntil
            ? t("put-off-until-when-by", {
                when: <When at={finding.snoozedUntil} />,
                person: finding.person,
              })
            : finding.person
              ? t("settled-by-person", { person: finding.person })
              : t("went-away-by-itself")}
          {finding.state === "resolved" && finding.resolvedAt !== null && (
            <>
              , <When at={finding.resolvedAt} />
            </>
          )}
          {finding.reason && <>: “{finding.reason}”</>}
        </Small>
        {finding.person && (
          <Button type="button" $kind="bare" disabled={busy} onClick={() => send("open")}>
            {t("take-it-up-again")}
          </Button>
        )}
      </Stack>
    );
  if (asked)
    return (
      <Stack $gap={0.4}>
        <TextBox
          label={asked === "resolved" ? t("what-was-done-about-it") : t("why-it-waits")}
          maxLength={200}
          value={reason}
          onChange={setReason}
          autoFocus
        />
        <Row>
          <Button type="button" disabled={busy || reason.trim() === ""} onClick={() => send(asked)}>
            {t("put-it-off-for-a", { resolved: asked === "resolved" ? "yes" : "no" })}
          </Button>
          <Button type="button" $kind="bare" onClick={() => setAsked(null)}>
            {t("leave-it")}
          </Button>
          {reason.trim() === "" && <Small>{t("a-few-words-for-whoever")}</Small>}
        </Row>
      </Stack>
    );
  return (
    <Row>
      <Button type="button" disabled={busy} onClick={() => setAsked("resolved")}>
        {t("settle")}
      </Button>
      <Button type="button" $kind="bare" disabled={busy} onClick={() => setAsked("snoozed")}>
        {t("put-off")}
      </Button>
      {fetcher.data && !fetcher.data.ok && <Wrong>{fetcher.data.says}</Wrong>}
    </Row>
  );
}
