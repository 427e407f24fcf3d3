import { stateWords } from "#core/payments/facts";
import { Link } from "react-router";
import { Amount } from "../parts/amount";
import { Button } from "../parts/form";
import { Note } from "../parts/marks";
import { Row, Stack } from "../parts/sheet";
import type { ConnectionView } from "./connection-view";

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
          <strong>Now make one small real payment</strong>
          <p>
            Switch the shop to live, buy its cheapest article at <a href={shop}>{shop}</a> and pay with a card
            of your own. This page notices it by itself; the refund follows here.
          </p>
        </Stack>
      </Note>
    );
  }
  const refunded = first.state === "refunded";
  return (
    <Note meaning={refunded ? "proven" : "waits"}>
      <Row $gap={1}>
        <span>
          First live payment since the cutover:{" "}
          <Amount amount={first.amount} currency={first.currency} locale={locale} />,{" "}
          {stateWords(first.state)}.
        </span>
        {refunded ? (
          <strong>Paid and refunded: the way to live and back is proven.</strong>
        ) : (
          <Button as={Link} to={`/s/${storefrontId}/operate/${first.id}`}>
            Refund it on its page
          </Button>
        )}
      </Row>
    </Note>
  );
}
