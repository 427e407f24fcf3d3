import { Link } from "react-router";
import { styled } from "styled-components";
import { Amount } from "../parts/amount";
import { Small } from "../parts/sheet";
import type { PaymentsView } from "./payments-view";

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
        Not among the {filter.mode} payments.{" "}
        <Link to={`?${new URLSearchParams({ q: filter.query, mode: elsewhere }).toString()}`}>
          It is among the {elsewhere} payments
        </Link>
      </Small>
    );
  if (filter.query || narrowed)
    return (
      <Small>
        Nothing fits. <Link to={`${at}?mode=${filter.mode}`}>Show all</Link>
      </Small>
    );
  return (
    <Small>
      No {filter.mode} payments yet.{" "}
      {filter.mode === "test"
        ? "Buy something in the shop with its test key, or rehearse."
        : "They appear here after the cutover."}
    </Small>
  );
}

/** Sums of what is filtered, by currency. */
export function Summed({ view: { summed, locale } }: { view: PaymentsView }) {
  if (!summed || summed.sums.length === 0) return null;
  return (
    <div role="group" aria-label="Sums of what is filtered">
      {summed.sums.map((one) => (
        <Sums key={one.currency}>
          <div>
            <dt>
              {summed.more ? "The newest " : ""}
              {one.payments} payment{one.payments === 1 ? "" : "s"}
            </dt>
            <dd>
              <Amount amount={one.amount} currency={one.currency} locale={locale} />
            </dd>
          </div>
          <div>
            <dt>captured</dt>
            <dd>
              <Amount amount={one.captured} currency={one.currency} locale={locale} />
            </dd>
          </div>
          <div>
            <dt>refunded</dt>
            <dd>
              <Amount amount={one.refunded} currency={one.currency} locale={locale} />
            </dd>
          </div>
        </Sums>
      ))}
    </div>
  );
}
