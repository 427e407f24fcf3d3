import { stateWords } from "#core/payments/facts";
import { Link } from "react-router";
import { Amount } from "../parts/amount";
import { Button } from "../parts/form";
import { Note } from "../parts/marks";
import { Row, Stack } from "../parts/sheet";
import type { ConnectionView } from "./connection-view";
import { t } from "../words/pages/cutover";

/** The first live payment and its refund, step by step. */
export function Guide({
  one,
  storefrontId,
  locale,
  shop,
}: {
  one: ConnectionView;
  storefrontId: string;
  locale: string;
  shop: string;
}) {
  const { first } = one;
  if (!first) {
    return (
      <Note meaning="waits">
        <Stack $gap={0.5}>
          <strong>{t("now-make-one-small-real")}</strong>
          <p>{t("switch-the-shop-to-live", { a: <a href={shop}>{shop}</a> })}</p>
        </Stack>
      </Note>
    );
  }
  const refunded = first.state === "refunded";
  return (
    <Note meaning={refunded ? "proven" : "waits"}>
      <Row $gap={1}>
        <span>
          {t("first-live-payment-since-the", {
            amount: <Amount amount={first.amount} currency={first.currency} locale={locale} />,
            state: stateWords(first.state),
          })}
        </span>
        {refunded ? (
          <strong>{t("paid-and-refunded-the-way")}</strong>
        ) : (
          <Button as={Link} to={`/s/${storefrontId}/operate/${first.id}`}>
            {t("refund-it-on-its-page")}
          </Button>
        )}
      </Row>
    </Note>
  );
}
