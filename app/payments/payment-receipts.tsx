import { useFetcher } from "react-router";
import { moneyText } from "#core/money/money";
import type { ReceiptKind } from "#core/receipts/receipts";
import type { ReceiptLine } from "#server/receipts/receipts";
import { Button, Wrong } from "../parts/form";
import { Says } from "../parts/marks";
import { Row, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import type { Spoken } from "../words/speak";

const kindWords: Record<ReceiptKind, string> = {
  placed: "Order placed, how to pay",
  reminder: "Reminder",
  paid: "Receipt",
  refunded: "Money on its way back",
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
        <h2>Receipts to the shopper</h2>
        {receipts.map((one) => (
          <div key={one.id}>
            {kindWords[one.kind]}
            {one.refunded > 0 && ` (${moneyText({ amount: one.refunded, currency }, locale)})`} to {one.email}
            :{" "}
            {one.sentAt !== null ? (
              <Says meaning="proven">
                sent <When at={one.sentAt} />
              </Says>
            ) : (
              <Says meaning="waits">{one.trouble ?? "waits to be sent"}</Says>
            )}{" "}
            {one.sent > 1 && (
              <Small as="span">
                {one.sent} times, the last for {one.person ?? "Zahlung"}{" "}
              </Small>
            )}
            {one.sentAt !== null && <SendAgain id={one.id} name={kindWords[one.kind]} />}
          </div>
        ))}
        {receipts.length === 0 && (
          <Small>
            None.{" "}
            {email === "" ? "The shop gave no e-mail address with this order." : `It would go to ${email}.`}
          </Small>
        )}
        <Row>
          {receipts.length === 0 && page && email !== "" && (
            <Button
              type="button"
              disabled={fetcher.state !== "idle"}
              onClick={() => void fetcher.submit({ press: "write-receipt" }, { method: "post" })}
            >
              Send a receipt
            </Button>
          )}
          {waits && email !== "" && !receipts.some((one) => one.kind === "reminder") && (
            <Button
              type="button"
              disabled={fetcher.state !== "idle"}
              onClick={() => void fetcher.submit({ press: "remind" }, { method: "post" })}
            >
              Remind the shopper
            </Button>
          )}
          {page && (
            <a href={page} target="_blank" rel="noreferrer">
              What the shopper sees
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
      aria-label={`Send “${name}” again`}
      disabled={fetcher.state !== "idle"}
      onClick={() => void fetcher.submit({ press: "send-receipt", receipt: id }, { method: "post" })}
    >
      Send again
    </Button>
  );
}
