import { Form } from "react-router";
import type { Column as SaidColumn } from "#server/connections/handshake";
import { Button } from "../parts/form";
import { Says } from "../parts/marks";
import { Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import type { Spoken } from "../words/speak";
import { t } from "../words/pages/connections";

type Column = Spoken<SaidColumn>;

/** Linking: the account's owner agrees over there, and the keys come by themselves. */
export function LinkCell({ column: { mode, link }, name }: { column: Column; name: string }) {
  return (
    <Stack $gap={0.5}>
      {link?.state === "linked" && (
        <Says meaning="proven" role="status">
          {t("linked-when", { when: <When at={link.at} /> })}
        </Says>
      )}
      {link && link.state !== "linked" && link.says && (
        <Says meaning="wrong" role="alert">
          {link.says}
        </Says>
      )}
      {link?.state === "under-way" && (
        <Says meaning="waits">{t("begun-when-name-waits-for", { when: <When at={link.at} />, name })}</Says>
      )}
      <Form method="post">
        <input type="hidden" name="mode" value={mode} />
        <Button name="press" value="link" aria-label={t("link-the-account-mode", { mode })}>
          {t("link-at-name", { linked: link?.state === "linked" ? "yes" : "no", name })}
        </Button>
      </Form>
      {!link && <Small>{t("or-carry-the-keys-across")}</Small>}
    </Stack>
  );
}
