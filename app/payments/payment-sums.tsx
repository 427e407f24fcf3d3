import { Link } from "react-router";
import { styled } from "styled-components";
import { Amount } from "../parts/amount";
import { Small } from "../parts/sheet";
import type { PaymentsView } from "./payments-view";
import { t } from "../words/pages/payments";

const Sums = styled.dl`
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1.6rem;
  margin-top: 0.6rem;
  div {
    display: flex;
    gap: 0.5rem;
  }
  dt {
    color: var(--ink-soft);
  }
  dd {
    font-weight: 600;
  }
`;

/** Why the list is empty, and what to do first. */
export function Nothing({ view, at }: { view: PaymentsView; at: string }) {
  const { filter, narrowed, elsewhere } = view;
  if (elsewhere)
    return (
      <Small>
        {t("not-among-the-mode-payments", {
          mode: filter.mode,
          elsewhere,
          link: (inner) => (
            <Link to={`?${new URLSearchParams({ q: filter.query, mode: elsewhere }).toString()}`}>
              {inner}
            </Link>
          ),
        })}
      </Small>
    );
  if (filter.query || narrowed)
    return (
      <Small>
        {t("nothing-fits-show-all", {
          link: (inner) => <Link to={`${at}?mode=${filter.mode}`}>{inner}</Link>,
        })}
      </Small>
    );
  return (
    <Small>
      {t("no-mode-payments-yet-they", { mode: filter.mode, test: filter.mode === "test" ? "yes" : "no" })}
    </Small>
  );
}

/** Sums of what is filtered, by currency. */
export function Summed({ view: { summed, locale } }: { view: PaymentsView }) {
  if (!summed || summed.sums.length === 0) return null;
  return (
    <div role="group" aria-label={t("sums-of-what-is-filtered")}>
      {summed.sums.map((one) => (
        <Sums key={one.currency}>
          <div>
            <dt>
              {t("the-newest-payments-payments", {
                hasMore: summed.more ? "yes" : "no",
                payments: one.payments,
              })}
            </dt>
            <dd>
              <Amount amount={one.amount} currency={one.currency} locale={locale} />
            </dd>
          </div>
          <div>
            <dt>{t("captured")}</dt>
            <dd>
              <Amount amount={one.captured} currency={one.currency} locale={locale} />
            </dd>
          </div>
          <div>
            <dt>{t("refunded")}</dt>
            <dd>
              <Amount amount={one.refunded} currency={one.currency} locale={locale} />
            </dd>
          </div>
        </Sums>
      ))}
    </div>
  );
}
