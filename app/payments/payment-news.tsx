import { useFetcher } from "react-router";
import type { NewsLine } from "#server/outbox/about";
import { Button } from "../parts/form";
import { Says } from "../parts/marks";
import { Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import type { Spoken } from "../words/speak";

function SendAgain({ id }: { id: string }) {
  const fetcher = useFetcher();
  return (
    <Button
      type="button"
      $kind="bare"
      disabled={fetcher.state !== "idle"}
      onClick={() => void fetcher.submit({ press: "send-again", news: id }, { method: "post" })}
    >
      Send again
    </Button>
  );
}

/** What the shop was told, and whether it took it. */
export function PaymentNews({ news, fromShop }: { news: readonly Spoken<NewsLine>[]; fromShop: boolean }) {
  return (
    <Sheet>
      <Stack>
        <h2>News to the shop</h2>
        {news.length === 0 && (
          <Small>
            None: {fromShop ? "nothing has changed yet." : "the shop knows nothing of this order."}
          </Small>
        )}
        {news.map((one) => (
          <div key={one.id}>
            {one.deliveredAt ? (
              <Says meaning="proven">
                taken <When at={one.deliveredAt} />
              </Says>
            ) : (
              <Says meaning="waits">{one.lastOutcome ?? "waits"}</Says>
            )}{" "}
            <Small as="span">
              {one.state} {one.tries > 1 && `after ${one.tries} tries`}
              {one.nextAt !== null && one.tries > 0 && (
                <>
                  , next try <When at={one.nextAt} />
                </>
              )}
            </Small>{" "}
            <SendAgain id={one.id} />
          </div>
        ))}
      </Stack>
    </Sheet>
  );
}
