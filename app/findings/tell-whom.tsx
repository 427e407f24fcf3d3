import { useFetcher } from "react-router";
import { CopyValue } from "../parts/copy";
import { Button } from "../parts/form";
import { Note, Says } from "../parts/marks";
import { Row, Sheet, Small, Stack } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { t } from "../words/pages/findings";

interface NoticeShown {
  email: string | null;
  address: string | null;
  outcome: string | null;
}
type Answer = { ok: true; secret: string | null; says: string } | { ok: false; field: string; says: string };

/** To whom live findings are told: by a letter, by a signed message, together and not more often than four times an hour. */
export function TellWhom({ notice, mail }: { notice: NoticeShown | null; mail: boolean }) {
  const fetcher = useFetcher<Answer>();
  const answer = fetcher.data;
  const wrong = (field: string) => (answer && !answer.ok && answer.field === field ? answer.says : undefined);
  return (
    <Sheet>
      <fetcher.Form method="post">
        <Stack>
          <h2>{t("tell-somebody")}</h2>
          <Small>{t("of-new-findings-of-live")}</Small>
          {notice?.outcome && <Note meaning="wrong">{notice.outcome}</Note>}
          <Row $align="start">
            <TextBox
              label={t("e-mail")}
              name="email"
              type="email"
              size={30}
              defaultValue={notice?.email ?? ""}
              wrong={wrong("email")}
              hint={mail ? undefined : t("no-mail-server-is-set")}
            />
            <TextBox
              label={t("address-for-signed-messages-standard")}
              name="address"
              size={36}
              defaultValue={notice?.address ?? ""}
              wrong={wrong("address")}
            />
          </Row>
          <div>
            <Button name="press" value="tell" disabled={fetcher.state !== "idle"}>
              {t("keep")}
            </Button>
          </div>
          {answer?.ok && (
            <Says meaning="proven" role="status">
              {answer.says}
            </Says>
          )}
          {answer?.ok && answer.secret && (
            <div>{t("the-secret-that-messages-are", { copyValue: <CopyValue value={answer.secret} /> })}</div>
          )}
        </Stack>
      </fetcher.Form>
    </Sheet>
  );
}
