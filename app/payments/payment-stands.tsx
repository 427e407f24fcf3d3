import { ExternalLink } from "lucide-react";
import { Link } from "react-router";
import { styled } from "styled-components";
import type { Standing } from "#core/payments/fold";
import { CopyValue } from "../parts/copy";
import { Says } from "../parts/marks";
import { Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { color } from "../theme/tokens";
import { MoneyBar, type MoneyStands } from "./money-bar";
import { Amount } from "../parts/amount";
import { authenticationWords } from "./fact-words";
import { t } from "../words/pages/payment";

const Sums = styled.dl`
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 0.3rem 1.2rem;
  dt {
    color: ${color.inkSoft};
  }
  dd.amount {
    text-align: right;
  }
`;

export interface StandsView extends MoneyStands {
  heldUntil: number | null;
  dueAt: number | null;
  dispute: string | null;
  disputeDue: number | null;
  review: string | null;
  /** What the provider told that it kept, minor units. */
  fee: number | null;
  stage: string | null;
  instrument: string | null;
  reference: string;
  providerRef: string | null;
}

/** Where a payment's money is, its dispute and its check for fraud, and what it is called on either side. */
export function PaymentStands({
  payment,
  provider,
  dashboard,
  expectedFee,
  authentication,
  instalments,
  payouts,
  locale,
}: {
  payment: StandsView;
  /** Null: no provider moves its money. */
  provider: string | null;
  /** Its page in the provider's dashboard; null where none is known. */
  dashboard: string | null;
  /** What it should cost by the published rates, minor units; null where nothing is published. */
  expectedFee: number | null;
  /** What came of asking who the shopper is; null: nobody told. */
  authentication: Standing["authentication"];
  instalments: Standing["instalments"];
  /** What payouts hold of it. */
  payouts: { id: string; state: string; paidAt: number; amount: number; currency: string }[];
  locale: string;
}) {
  const sum = (amount: number) => <Amount amount={amount} currency={payment.currency} locale={locale} />;
  return (
    <Sheet>
      <Stack>
        <h2>{t("where-it-stands")}</h2>
        <MoneyBar {...payment} locale={locale} />
        <Sums>
          <dt>{t("asked-for")}</dt>
          <dd className="amount">{sum(payment.amount)}</dd>
          {payment.held > 0 && payment.heldUntil && (
            <>
              <dt>{t("held-until")}</dt>
              <dd className="amount">
                <When at={payment.heldUntil} />
              </dd>
            </>
          )}
          {payment.dispute && (
            <>
              <dt>{t("dispute")}</dt>
              <dd className="amount">
                {payment.dispute}
                {payment.disputeDue &&
                  payment.dispute === "open" &&
                  t("to-answer-until-when", { when: <When at={payment.disputeDue} /> })}
              </dd>
            </>
          )}
          {payment.review && (
            <>
              <dt>{t("check-for-fraud")}</dt>
              <dd className="amount">{payment.review}</dd>
            </>
          )}
          {authentication && (
            <>
              <dt>{t("authentication")}</dt>
              <dd className="amount">{authenticationWords(authentication)}</dd>
            </>
          )}
          {instalments && (
            <>
              <dt>{t("the-shopper-pays-back")}</dt>
              <dd className="amount">
                {t("payments-amount-total-in-all", {
                  payments: instalments.payments,
                  amount: sum(instalments.amount),
                  total: sum(instalments.total),
                })}
              </dd>
            </>
          )}
          {(payment.fee !== null || expectedFee !== null) && (
            <>
              <dt>{t("fee")}</dt>
              <dd className="amount">
                {payment.fee === null ? <Small as="span">{t("not-told")}</Small> : sum(payment.fee)}
                {expectedFee !== null && expectedFee !== payment.fee && (
                  <>
                    {t("expected-expected-fee", { expectedFee: sum(expectedFee) })}
                    {payment.fee !== null && <Says meaning="waits">{t("otherwise-than-published")}</Says>}
                  </>
                )}
              </dd>
            </>
          )}
          {payouts.length > 0 && (
            <>
              <dt>{t("paid-out")}</dt>
              <dd className="amount">
                {payouts.map((one) => (
                  <div key={`${one.id} ${one.amount}`}>
                    {t("amount-with", {
                      amount: <Amount amount={one.amount} currency={one.currency} locale={locale} />,
                      failed: one.state === "failed" ? "yes" : "no",
                    })}{" "}
                    <Link to={`../operate/payouts/${one.id}`}>
                      {t("the-payout-of-when", { when: <When at={one.paidAt} /> })}
                    </Link>
                  </div>
                ))}
              </dd>
            </>
          )}
          {payment.dueAt !== null && (
            <>
              <dt>{t("due")}</dt>
              <dd className="amount">
                <When at={payment.dueAt} />
              </dd>
            </>
          )}
          <dt>{t("order-stage")}</dt>
          <dd className="amount">{payment.stage ?? <Small as="span">{t("none-chosen")}</Small>}</dd>
          <dt>{t("paid-with")}</dt>
          <dd className="amount">{payment.instrument ?? <Small as="span">{t("not-known")}</Small>}</dd>
          <dt>{t("our-reference")}</dt>
          <dd className="amount">
            <CopyValue value={payment.reference} />
          </dd>
          {payment.providerRef && (
            <>
              <dt>{provider ? t("reference-of-provider", { provider }) : t("what-the-shopper-quotes")}</dt>
              <dd className="amount">
                <CopyValue value={payment.providerRef} />
              </dd>
            </>
          )}
        </Sums>
        {dashboard && (
          <a href={dashboard} target="_blank" rel="noreferrer">
            {t("this-payment-at-provider", { provider })} <ExternalLink size={13} aria-hidden />
          </a>
        )}
      </Stack>
    </Sheet>
  );
}
