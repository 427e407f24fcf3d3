import { useFetcher } from "react-router";
import { moneyText } from "#core/money/money";
import type { ReceiptKind } from "#core/receipts/receipts";
import type { ReceiptLine } from "#server/receipts/receipts";
import { Button, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { Row, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import type { Spoken } from "../words/speak";
import { t } from "../words/pages/payment";

const kindWords: Record<ReceiptKind, string> = {
  placed: t("order-placed-how-to-pay"),
  reminder: t("reminder"),
  paid: t("receipt"),
  refunded: t("money-on-its-way-back"),
};

type Answer = { ok: boolean; says: string };

/** What the shopper got by e-mail, and whether it left the house. */
export function PaymentReceipts({
  receipts,
  page,
  email,
  waits,
  currency,
  locale,
}: {
  receipts: readonly Spoken<ReceiptLine>[];
  /** Where the shopper sees the receipt; null while there is none. */
  page: string | null;
  /** The shopper's address; empty where the shop gave none. */
  email: string;
  /** Whether the shopper has still to pay. */
  waits: boolean;
  currency: string;
  locale: string;
}) {
  const fetcher = useFetcher<Answer>();
  return (
    <Sheet>
      <Stack>
        <h2>{t("receipts-to-the-shopper")}</h2>
        {receipts.map((one) => (
          <div key={one.id}>
            {t("kind-words-refunded-to-email", {
              kindWords: kindWords[one.kind],
              refunded: one.refunded > 0 && ` (${moneyText({ amount: one.refunded, currency }, locale)})`,
              email: one.email,
            })}{" "}
            {one.sentAt !== null ? (
              <Says meaning="proven">{t("sent-when", { when: <When at={one.sentAt} /> })}</Says>
            ) : (
              <Says meaning="waits">{one.trouble ?? t("waits-to-be-sent")}</Says>
            )}{" "}
            {one.sent > 1 && (
              <Small as="span">
                {t("sent-times-the-last-for", { sent: one.sent, person: one.person ?? "Zahlung" })}{" "}
              </Small>
            )}
            {one.sentAt !== null && <SendAgain id={one.id} name={kindWords[one.kind]} />}
          </div>
        ))}
        {receipts.length === 0 && (
          <Small>
            {t("none-email", {
              email: email === "" ? t("the-shop-gave-no-e") : t("it-would-go-to-email", { email }),
            })}
          </Small>
        )}
        <Row>
          {receipts.length === 0 && page && email !== "" && (
            <Button
              type="button"
              disabled={fetcher.state !== "idle"}
              onClick={() => void fetcher.submit({ press: "write-receipt" }, { method: "post" })}
            >
              {t("send-a-receipt")}
            </Button>
          )}
          {waits && email !== "" && !receipts.some((one) => one.kind === "reminder") && (
            <Button
              type="button"
              disabled={fetcher.state !== "idle"}
              onClick={() => void fetcher.submit({ press: "remind" }, { method: "post" })}
            >
              {t("remind-the-shopper")}
            </Button>
          )}
          {page && (
            <a href={page} target="_blank" rel="noreferrer">
              {t("what-the-shopper-sees")}
            </a>
          )}
        </Row>
        <Wrong>{fetcher.data?.ok === false ? fetcher.data.says : null}</Wrong>
      </Stack>
    </Sheet>
  );
}

function SendAgain({ id, name }: { id: string; name: string }) {
  const fetcher = useFetcher();
  return (
    <Button
      type="button"
      $kind="bare"
      aria-label={t("send-name-again", { name })}
      disabled={fetcher.state !== "idle"}
      onClick={() => void fetcher.submit({ press: "send-receipt", receipt: id }, { method: "post" })}
    >
      {t("send-again")}
    </Button>
  );
}
