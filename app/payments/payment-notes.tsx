import { useEffect, useRef } from "react";
import { useFetcher } from "react-router";
import { styled } from "styled-components";
import { Button, Wrong } from "../parts/form";
import { Sheet, Small, Stack } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { When } from "../parts/when";
import { t } from "../words/pages/payment";

export interface NoteView {
  id: string;
  person: string;
  text: string;
  at: number;
}

const Written = styled.p`
  white-space: pre-wrap;
  overflow-wrap: anywhere;
`;

/** What people wrote about a payment, and the place to write more. */
export function PaymentNotes({ notes }: { notes: readonly NoteView[] }) {
  const fetcher = useFetcher<{ ok: boolean; says: string }>();
  const form = useRef<HTMLFormElement>(null);
  const written = fetcher.state === "idle" && fetcher.data?.ok === true;
  useEffect(() => {
    if (written) form.current?.reset();
  }, [written]);
  return (
    <Sheet>
      <Stack>
        <h2>{t("notes")}</h2>
        <fetcher.Form method="post" ref={form}>
          <Stack $gap={0.4}>
            <TextBox label={t("for-whoever-looks-at-it")} name="note" maxLength={2000} required />
            <div>
              <Button name="press" value="note" disabled={fetcher.state !== "idle"}>
                {t("write-it-down")}
              </Button>
            </div>
            {fetcher.data && !fetcher.data.ok && <Wrong>{fetcher.data.says}</Wrong>}
          </Stack>
        </fetcher.Form>
        {notes.length === 0 && <Small>{t("nobody-has-written-anything-yet")}</Small>}
        {notes.map((one) => (
          <div key={one.id}>
            <Written>{one.text}</Written>
            <Small>
              {one.person}, <When at={one.at} />
            </Small>
          </div>
        ))}
      </Stack>
    </Sheet>
  );
}
