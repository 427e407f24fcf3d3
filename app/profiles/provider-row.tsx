import { ExternalLink } from "lucide-react";
import { memo } from "react";
import { Form, Link, useFetcher } from "react-router";
import { styled } from "styled-components";
import type { MonthCost } from "#core/costs/fees";
import { moneyText } from "#core/money/money";
import { countriesWithin } from "#core/places/names";
import type { MethodKind } from "#core/profiles/profile";
import { Button } from "../parts/form";
import { Says } from "../parts/marks";
import { Row, Small, Stack } from "../parts/sheet";
import { color, tabular } from "../theme/tokens";
import { listed } from "../words/listed";
import { t } from "../words/pages/profiles";

/** A provider as the plan's list shows it. */
export interface ProviderView {
  id: string;
  version: string;
  name: string;
  about: string;
  dashboard: string;
  payout: string;
  countries: string[];
  fit: { ok: boolean; because: string[]; notes: string[] };
  listed: boolean;
  connections: { id: string; name: string }[];
  /** Accounts that are connected for other storefronts only. */
  elsewhere: { id: string; name: string }[];
  /** Providers through which it can be had as well. */
  roads: string[];
  /** For a wallet that moves no money itself: the providers that it can ride on. */
  carriers: string[];
  /** The one among them whose fees its costs hold as well. */
  ridesOn: string | null;
  atHand: string[];
  fields: { label: string; once: boolean }[];
  methods: {
    id: string;
    name: string;
    kind: MethodKind;
    synonyms: string[];
    networks: string[];
    currencies: string[];
    shopperCountries: string[];
    can: string[];
    fits: boolean;
    cost: MonthCost | null;
  }[];
}

const Entry = styled.article`
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 1.4fr) 14.5rem;
  gap: 0.3rem 1.6rem;
  @media (max-width: 60rem) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Cost = styled.table`
  width: 100%;
  td {
    padding: 0.1rem 0;
    vertical-align: baseline;
  }
  td + td {
    text-align: right;
    white-space: nowrap;
    padding-left: 0.8rem;
    ${tabular}
  }
`;
const More = styled.details`
  grid-column: 1 / -1;
  summary {
    cursor: pointer;
    color: ${color.petrol};
    width: max-content;
  }
  ul {
    margin: 0.2rem 0;
    padding-left: 1.1rem;
    list-style: disc;
  }
`;
const Leaves = styled.div`
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 0.4rem 1.6rem;
  padding-top: 0.5rem;
  font-size: 0.94rem;
  @media (max-width: 60rem) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const End = styled.div`
  display: grid;
  gap: 0.4rem;
  align-content: start;
  justify-items: end;
  @media (max-width: 60rem) {
    justify-items: start;
  }
`;

/** One provider: what it is, whether it fits, what it would cost, and the way to its connection. */
export const ProviderRow = memo(function ProviderRow({
  provider,
  storefrontId,
  currency,
  orders,
  locale,
}: {
  provider: ProviderView;
  storefrontId: string;
  currency: string;
  orders: number;
  locale: string;
}) {
  const { fit, methods, name } = provider;
  return (
    <Entry aria-label={name}>
      <Stack $gap={0.35}>
        <h2>{name}</h2>
        <p>{provider.about}</p>
        {fit.ok && fit.notes.length === 0 && <Says meaning="proven">{t("fits-this-storefront")}</Says>}
        {[...fit.because, ...fit.notes].map((says) => (
          <Says key={says} meaning={fit.ok ? "waits" : "wrong"}>
            {says}
          </Says>
        ))}
        {provider.carriers.length > 0 && (
          <Small>
            {t("name-moves-no-money-itself", {
              name,
              carriers: listed(provider.carriers, "or"),
              ridesOn: provider.ridesOn && t("its-costs-hold-the-fees", { ridesOn: provider.ridesOn }),
            })}
          </Small>
        )}
        {provider.roads.length > 0 && (
          <Small>{t("name-can-also-be-had", { name, roads: listed(provider.roads) })}</Small>
        )}
      </Stack>
      <Cost aria-label={t("what-name-costs", { name })}>
        <tbody>
          {methods.map((method) => (
            <tr key={method.id}>
              <td>{method.name}</td>
              <td>
                {method.cost ? (
                  t("money-text-an-order", {
                    moneyText: moneyText({ amount: Math.round(method.cost.perOrder), currency }, locale),
                  })
                ) : (
                  <Small as="span">{t("not-in-currency", { currency })}</Small>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Cost>
      <End>
        <Connect provider={provider} storefrontId={storefrontId} />
        <ListIt provider={provider} />
      </End>
      <More>
        <summary>{t("more-about-name", { name })}</summary>
        <Leaves>
          <div>
            <h3>{t("methods")}</h3>
            <ul>
              {methods.map((method) => (
                <li key={method.id}>
                  {method.name}
                  {method.networks.length > 0 && ` (${method.networks.join(", ")})`}:{" "}
                  {method.currencies.join(", ")}
                  {method.shopperCountries.length > 0 &&
                    t("shoppers-in-shopper-countries", {
                      shopperCountries: countriesWithin(method.shopperCountries),
                    })}
                  {method.can.length > 0 && `; ${method.can.join(", ")}`}
                </li>
              ))}
            </ul>
          </div>
          <div>
            <h3>{t("have-at-hand")}</h3>
            <ul>
              {provider.atHand.map((one) => (
                <li key={one}>{one}</li>
              ))}
              {provider.fields.map((field) => (
                <li key={field.label}>
                  {t("label-shown-only-once-over", {
                    label: field.label,
                    hasOnce: field.once ? "yes" : "no",
                  })}
                </li>
              ))}
            </ul>
          </div>
          <div>
            <h3>{t("where-the-money-lands")}</h3>
            <p>{provider.payout}</p>
            <Small>{t("merchants-in-countries", { countries: countriesWithin(provider.countries) })}</Small>
            <Small>{t("profile-version-costs-are-for", { version: provider.version, orders })}</Small>
            <a href={provider.dashboard} target="_blank" rel="noreferrer">
              {t("its-dashboard")} <ExternalLink size={13} aria-hidden />
            </a>
          </div>
        </Leaves>
      </More>
    </Entry>
  );
});

function Connect({
  provider: { id, name, fit, connections, elsewhere },
  storefrontId,
}: {
  provider: ProviderView;
  storefrontId: string;
}) {
  return (
    <>
      {connections.map((one) => (
        <Button key={one.id} as={Link} to={`/s/${storefrontId}/connect/${one.id}`}>
          {t("open-name", { name: one.name })}
        </Button>
      ))}
      {elsewhere.map((one) => (
        <Form method="post" key={one.id}>
          <input type="hidden" name="profile" value={id} />
          <input type="hidden" name="connection" value={one.id} />
          <Button name="press" value="use">
            {t("use-name-here-too", { name: one.name })}
          </Button>
        </Form>
      ))}
      <Form method="post">
        <input type="hidden" name="profile" value={id} />
        <Button $kind={connections.length > 0 ? "bare" : fit.ok ? "main" : "plain"}>
          {t("connect-name", { hasConnections: connections.length > 0 ? "yes" : "no", name })}
        </Button>
      </Form>
    </>
  );
}

function ListIt({ provider: { id, name, listed } }: { provider: ProviderView }) {
  const fetcher = useFetcher();
  const shown = fetcher.formData ? fetcher.formData.get("press") === "list" : listed;
  return (
    <fetcher.Form method="post">
      <input type="hidden" name="profile" value={id} />
      <Row>
        {shown && <Says meaning="none">{t("on-the-shortlist")}</Says>}
        <Button
          $kind="bare"
          name="press"
          value={shown ? "unlist" : "list"}
          aria-label={
            shown ? t("take-name-off-the-shortlist", { name }) : t("put-name-on-the-shortlist", { name })
          }
        >
          {t("put-on-the-shortlist", { hasShown: shown ? "yes" : "no" })}
        </Button>
      </Row>
    </fetcher.Form>
  );
}
