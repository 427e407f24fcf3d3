import { useFetcher } from "react-router";
import { Button, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { Row, Sheet, Small, Stack } from "../parts/sheet";
import { t } from "../words/pages/payment";

/** The provider's check for fraud that is open: let the payment go on, or refuse it. */
export function PaymentReview({ provider, can }: { provider: string; can: boolean }) {
  const fetcher = useFetcher<{ ok: boolean; says: string }>();
  const busy = fetcher.state !== "idle";
  return (
    <Sheet>
      <Stack>
        <h2>{t("the-check-for-fraud")}</h2>
        <p>{t("provider-looks-at-this-payment", { provider })}</p>
        {can ? (
          <fetcher.Form method="post">
            <Row>
              <Button $kind="main" name="press" value="pass-review" disabled={busy}>
                {t("let-it-go-on")}
              </Button>
              <Button $kind="danger" name="press" value="refuse-review" disabled={busy}>
                {t("refuse-it")}
              </Button>
              {busy && <Says meaning="running">{t("asking-provider", { provider })}</Says>}
            </Row>
          </fetcher.Form>
        ) : (
          <Small>{t("provider-takes-no-decision-from", { provider })}</Small>
        )}
        {fetcher.data && !fetcher.data.ok && !busy && <Wrong>{fetcher.data.says}</Wrong>}
      </Stack>
    </Sheet>
  );
}
