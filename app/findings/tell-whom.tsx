import { useFetcher } from "react-router";
import { CopyValue } from "../parts/copy";
import { Button } from "../parts/form";
import { Note, Says } from "../parts/marks";
import { Row, Sheet, Small, Stack } from "../parts/sheet";
import { TextBox } from "../parts/text-box";

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
          <h2>Tell somebody</h2>
          <Small>
            Of new findings of live payments, all that came up together, at most four times an hour. Leave a
            field empty to tell nobody that way.
          </Small>
          {notice?.outcome && <Note meaning="wrong">{notice.outcome}</Note>}
          <Row $align="start">
            <TextBox
              label="E-mail"
              name="email"
              type="email"
              size={30}
              defaultValue={notice?.email ?? ""}
              wrong={wrong("email")}
              hint={mail ? undefined : "No mail server is set: start Zahlung with ZAHLUNG_SMTP_URL."}
            />
            <TextBox
              label="Address for signed messages (Standard Webhooks)"
              name="address"
              size={36}
              defaultValue={notice?.address ?? ""}
              wrong={wrong("address")}
            />
          </Row>
          <div>
            <Button name="press" value="tell" disabled={fetcher.state !== "idle"}>
              Keep
            </Button>
          </div>
          {answer?.ok && (
            <Says meaning="proven" role="status">
              {answer.says}
            </Says>
          )}
          {answer?.ok && answer.secret && (
            <div>
              The secret that messages are signed with, shown this once: <CopyValue value={answer.secret} />
            </div>
          )}
        </Stack>
      </fetcher.Form>
    </Sheet>
  );
}
