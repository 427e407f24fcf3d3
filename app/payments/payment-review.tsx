import { useFetcher } from "react-router";
import { Button, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { Row, Sheet, Small, Stack } from "../parts/sheet";

/** The provider's check for fraud that is open: let the payment go on, or refuse it. */
export function PaymentReview({ provider, can }: { provider: string; can: boolean }) {
  const fetcher = useFetcher<{ ok: boolean; says: string }>();
  const busy = fetcher.state !== "idle";
  return (
    <Sheet>
      <Stack>
        <h2>The check for fraud</h2>
        <p>
          {provider} looks at this payment for fraud. Nothing is captured until it is decided; look at what
          was ordered, where it goes and who ordered before you send anything.
        </p>
        {can ? (
          <fetcher.Form method="post">
            <Row>
              <Button $kind="main" name="press" value="pass-review" disabled={busy}>
                Let it go on
              </Button>
              <Button $kind="danger" name="press" value="refuse-review" disabled={busy}>
                Refuse it
              </Button>
              {busy && <Says meaning="running">asking {provider}</Says>}
            </Row>
          </fetcher.Form>
        ) : (
          <Small>{provider} takes no decision from here: decide it in its dashboard.</Small>
        )}
        {fetcher.data && !fetcher.data.ok && !busy && <Wrong>{fetcher.data.says}</Wrong>}
      </Stack>
    </Sheet>
  );
}
