import { useFetcher } from "react-router";
import { Button, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { Row } from "../parts/sheet";

/** Lets a payment that was held back go on, or refuses it. */
export function HeldBack() {
  const fetcher = useFetcher<{ ok: boolean; says: string }>();
  const busy = fetcher.state !== "idle";
  return (
    <fetcher.Form method="post">
      <Row>
        <Button name="press" value="let-go-on" $kind="main" disabled={busy}>
          Let it go on
        </Button>
        <Button name="press" value="refuse-it" $kind="danger" disabled={busy}>
          Refuse it
        </Button>
        {busy && <Says meaning="running">being carried out</Says>}
      </Row>
      {fetcher.data && !fetcher.data.ok && <Wrong>{fetcher.data.says}</Wrong>}
    </fetcher.Form>
  );
}
