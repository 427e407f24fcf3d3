import { useFetcher } from "react-router";
import { Button, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { Row, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { t } from "../words/pages/payment";

export interface SlipView {
  id: string;
  kind: "text" | "picture" | "pdf";
  words: string | null;
  state: "open" | "accepted" | "refused";
  person: string | null;
  createdAt: number;
}

/** What a shopper sent in to show that it was paid, to be judged: accepted, its money is written down as come; else the shopper is asked again. */
export function PaymentSlips({ slips, here }: { slips: readonly SlipView[]; here: string }) {
  const fetcher = useFetcher<{ ok: boolean; says: string }>();
  if (slips.length === 0) return null;
  const busy = fetcher.state !== "idle";
  return (
    <Sheet>
      <Stack>
        <h2>{t("sent-in-to-show-that")}</h2>
        {slips.map(({ id, kind, words, state, person, createdAt }) => (
          <Stack key={id} $gap={0.4}>
            <Row>
              {kind === "text" ? (
                <q>
                  <bdi>{words}</bdi>
                </q>
              ) : (
                <a href={`${here}/slip/${id}`} target="_blank" rel="noreferrer">
                  {t("the-picture", { pdf: kind === "pdf" ? "yes" : "no" })}
                </a>
              )}
              <Small as="span">{t("came-when", { when: <When at={createdAt} /> })}</Small>
              {state === "accepted" && <Says meaning="proven">{t("accepted-by-person", { person })}</Says>}
              {state === "refused" && <Says meaning="wrong">{t("refused-by-person", { person })}</Says>}
            </Row>
            {state === "open" && (
              <fetcher.Form method="post">
                <input type="hidden" name="slip" value={id} />
                <Row>
                  <Button $kind="main" name="press" value="accept-slip" disabled={busy}>
                    {t("it-is-right-all-that")}
                  </Button>
                  <Button name="press" value="refuse-slip" disabled={busy}>
                    {t("it-is-not-right")}
                  </Button>
                </Row>
              </fetcher.Form>
            )}
          </Stack>
        ))}
        {fetcher.data && !fetcher.data.ok && <Wrong>{fetcher.data.says}</Wrong>}
      </Stack>
    </Sheet>
  );
}
