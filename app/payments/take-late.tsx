import { useFetcher } from "react-router";
import { Button, Wrong } from "../parts/form";
import { t } from "../words/pages/payments";

/** Takes money for its order that came after the checkout was over. */
export function TakeLate() {
  const fetcher = useFetcher<{ ok: boolean; says: string }>();
  return (
    <fetcher.Form method="post">
      <Button name="press" value="take-late" $kind="main" disabled={fetcher.state !== "idle"}>
        {t("take-it-for-the-order")}
      </Button>
      {fetcher.data && !fetcher.data.ok && <Wrong>{fetcher.data.says}</Wrong>}
    </fetcher.Form>
  );
}
