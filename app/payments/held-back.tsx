import { useFetcher } from "react-router";
import { Button, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { Row } from "../parts/sheet";
import { t } from "../words/pages/payments";

/** Lets a payment that was held back go on, or refuses it. */
export function HeldBack() {
  const fetcher = useFetcher<{ ok: boolean; says: string }>();
  const busy = fetcher.state !== "idle";
  return (
    <fetcher.Form method="post">
      <Row>
        <Button name="press" value="let-go-on" $kind="main" disabled={busy}>
          {t("let-it-go-on")}
        </Button>
        <Button name="press" value="refuse-it" $kind="danger" disabled={busy}>
          {t("refuse-it")}
        </Button>
        {busy && <Says meaning="running">{t("being-carried-out")}</Says>}
      </Row>
      {fetcher.data && !fetcher.data.ok && <Wrong>{fetcher.data.says}</Wrong>}
    </fetcher.Form>
  );
}
