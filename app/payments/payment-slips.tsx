import { useFetcher } from "react-router";
import { Button, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { Row, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";

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
        <h2>Sent in to show that it was paid</h2>
        {slips.map(({ id, kind, words, state, person, createdAt }) => (
          <Stack key={id} $gap={0.4}>
            <Row>
              {kind === "text" ? (
                <q>
                  <bdi>{words}</bdi>
                </q>
              ) : (
                <a href={`${here}/slip/${id}`} target="_blank" rel="noreferrer">
                  {kind === "pdf" ? "The PDF" : "The picture"}
                </a>
              )}
              <Small as="span">
                came <When at={createdAt} />
              </Small>
              {state === "accepted" && <Says meaning="proven">accepted by {person}</Says>}
              {state === "refused" && <Says meaning="wrong">refused by {person}</Says>}
            </Row>
            {state === "open" && (
              <fetcher.Form method="post">
                <input type="hidden" name="slip" value={id} />
                <Row>
                  <Button $kind="main" name="press" value="accept-slip" disabled={busy}>
                    It is right: all that is left came
                  </Button>
                  <Button name="press" value="refuse-slip" disabled={busy}>
                    It is not right
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
