import { useFetcher } from "react-router";
import type { NewsLine } from "#server/outbox/about";
import { Button } from "../parts/form";
import { Says } from "../parts/marks";
import { Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import type { Spoken } from "../words/speak";
import { t } from "../words/pages/payment";

function SendAgain({ id }: { id: string }) {
  const fetcher = useFetcher();
  return (
    <Button
      type="button"
      $kind="bare"
      disabled={fetcher.state !== "idle"}
      onClick={() => void fetcher.submit({ press: "send-again", news: id }, { method: "post" })}
    >
      {t("send-again")}
    </Button>
  );
}

/** What the shop was told, and whether it took it. */
export function PaymentNews({ news, fromShop }: { news: readonly Spoken<NewsLine>[]; fromShop: boolean }) {
  return (
    <Sheet>
      <Stack>
        <h2>{t("news-to-the-shop")}</h2>
        {news.length === 0 && (
          <Small>{t("none-the-shop-knows-nothing", { hasFromShop: fromShop ? "yes" : "no" })}</Small>
        )}
        {news.map((one) => (
          <div key={one.id}>
            {one.deliveredAt ? (
              <Says meaning="proven">{t("taken-when", { when: <When at={one.deliveredAt} /> })}</Says>
            ) : (
              <Says meaning="waits">{one.lastOutcome ?? t("waits")}</Says>
            )}{" "}
            <Small as="span">
              {one.state} {one.tries > 1 && t("after-tries-tries", { tries: one.tries })}
              {one.nextAt !== null && one.tries > 0 && t("next-try-when", { when: <When at={one.nextAt} /> })}
            </Small>{" "}
            <SendAgain id={one.id} />
          </div>
        ))}
      </Stack>
    </Sheet>
  );
}
