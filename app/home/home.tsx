import { Link, useRouteLoaderData } from "react-router";
import { styled } from "styled-components";
import { type Currency } from "#core/money/currencies";
import { moneyText } from "#core/money/money";
import type { Mode } from "#core/mode";
import { countryWithin, namesOfCodes } from "#core/places/names";
import { type FindingView, listFindings } from "#server/findings/findings";
import { todayOf } from "#server/payments/today";
import { runsInLive } from "#server/storefronts/now";
import { shopCalls } from "#server/storefronts/storefronts";
import { runtimeContext } from "../context";
import type { loader as frameLoader } from "../frame/storefront";
import { localeOf, mustStandAt } from "../frame/storefront-context";
import { Button } from "../parts/form";
import { useLive } from "../parts/live";
import { Mark, Says } from "../parts/marks";
import { Row, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { dayStart, zoneOf } from "../parts/zone";
import { color } from "../theme/tokens";
import { lineColumns, TrackDiagram } from "./track-diagram";
import { spokenIn } from "../words/spoken.server";
import type { Route } from "./+types/home";
import type { Spoken } from "../words/speak";
import { listed } from "../words/listed";
import { t } from "../words/pages/home";

type Finding = Spoken<FindingView>;

export const meta: Route.MetaFunction = ({ matches }) => {
  const frame = matches.find((one) => one?.id === "frame/storefront");
  const name = (frame?.loaderData as { storefront?: { name: string } } | undefined)?.storefront?.name;
  return [{ title: t("name-zahlung", { name: name ?? t("home") }) }];
};

const sums = (amounts: Record<string, number>, locale: string) =>
  Object.entries(amounts)
    .map(([currency, amount]) => moneyText({ amount, currency: currency as Currency }, locale))
    .join(", ");

export async function loader({ request, params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const now = await mustStandAt(context, params.storefront);
  const { storefront, connections } = now;
  const since = dayStart(rt.now(), zoneOf(request) ?? "UTC");
  const isLive = connections.some((one) => one.pair.live === "live") || now.inOrder.some(runsInLive);
  const [calls, findings, today] = await Promise.all([
    shopCalls(rt, storefront.id),
    listFindings(rt, storefront.id, { mode: "live", open: true, after: null }),
    isLive ? todayOf(rt, storefront.id, since) : null,
  ]);
  const called = (mode: Mode) => calls.find((row) => row.mode === mode)?.at ?? null;
  const { name, domain, country, currencies } = storefront;
  return spokenIn(localeOf(storefront)).spoken({
    name,
    about: t("domain-selling-from-country-in", {
      domain,
      country: countryWithin(country),
      currencies: namesOfCodes("currency", currencies),
    }),
    shop: { test: called("test"), live: called("live") },
    findings: findings.rows,
    moreFindings: findings.next !== null,
    today: today && {
      ...today,
      captured: sums(today.captured, localeOf(storefront)),
      held: { payments: today.held.payments, sums: sums(today.held.amounts, localeOf(storefront)) },
    },
  });
}

const Head = styled.header`
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0.1rem 1rem;
  margin-bottom: 0.5rem;
`;
const MainLine = styled.li<{ $live: boolean }>`
  position: relative;
  display: grid;
  grid-template-columns: ${lineColumns};
  align-items: end;
  min-height: 2.6rem;
  > p {
    grid-column: 1 / 5;
    padding-left: 1.1rem;
  }
  > .shop {
    grid-column: 7;
    align-self: center;
    padding: 0 0.4rem 0 0.5rem;
    line-height: 1.25;
  }
  &::before {
    content: "";
    display: ${({ $live }) => ($live ? "block" : "none")};
    position: absolute;
    grid-column: 5 / 6;
    right: 1.2rem;
    top: 0;
    height: 50%;
    border-left: 4px solid ${color.ink};
  }
  &::after {
    content: "";
    grid-column: 5 / 7;
    grid-row: 1;
    align-self: center;
    margin-left: ${({ $live }) => ($live ? "calc(100% / 2 - 1.2rem - 4px)" : "1.1rem")};
    border-top: ${({ $live }) => ($live ? `6px solid ${color.ink}` : `3px dotted ${color.rule}`)};
  }
`;
const Figures = styled.dl`
  display: flex;
  flex-wrap: wrap;
  gap: 0.4rem 2rem;
  div {
    display: grid;
  }
  dt {
    font-size: 0.84rem;
    color: ${color.inkSoft};
  }
  dd {
    font-weight: 700;
    font-size: 1.05rem;
    font-variant-numeric: tabular-nums;
  }
  small {
    font-weight: 400;
    font-size: 0.84rem;
    color: ${color.inkSoft};
  }
`;
const Beneath = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1.1fr) minmax(0, 1fr);
  gap: 1rem;
  margin-top: 0.8rem;
  > section {
    padding: 0.7rem 1rem 0.8rem;
  }
  @media (max-width: 55rem) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Findings = styled.ul`
  li {
    display: grid;
    grid-template-columns: 1.1rem minmax(0, 1fr);
    gap: 0.45rem;
    padding: 0.2rem 0;
    border-top: 1px solid ${color.rule};
    svg {
      margin-top: 0.3rem;
    }
  }
`;

export default function Home({ loaderData, params }: Route.ComponentProps) {
  const frame = useRouteLoaderData<typeof frameLoader>("frame/storefront");
  const { name, about, shop, today, findings, moreFindings } = loaderData;
  const at = `/s/${params.storefront}`;
  const { tracks, offline } = { tracks: frame?.tracks ?? [], offline: frame?.offline ?? [] };
  useLive(today !== null || findings.length > 0, 5_000);
  const live = tracks.filter((one) => one.live === "live");
  const ways = [
    ...live.flatMap((one) => one.offers.filter((offer) => offer.live)),
    ...offline.filter((one) => one.live),
  ];
  return (
    <>
      <Head>
        <h1>{name}</h1>
        <Small as="span">{about}</Small>
      </Head>
      {tracks.length + offline.length === 0 ? (
        <Sheet>
          <Stack>
            <h2>{t("no-provider-is-connected-yet")}</h2>
            <p>{t("choose-a-provider-for-this")}</p>
            <Row>
              <Button as={Link} to={`${at}/plan`} $kind="main">
                {t("choose-a-provider")}
              </Button>
              <Button as={Link} to={`${at}/offer?add=1`}>
                {t("offer-something-without-a-provider")}
              </Button>
            </Row>
          </Stack>
        </Sheet>
      ) : (
        <TrackDiagram storefrontId={params.storefront} tracks={tracks} offline={offline}>
          <MainLine $live={ways.length > 0}>
            <p>
              {ways.length > 0
                ? t("live-shoppers-can-pay-by", {
                    b: (inner) => <strong>{inner}</strong>,
                    ways: listed(ways.map((one) => one.name)),
                  })
                : t("nothing-is-live-shoppers-cannot", { b: (inner) => <strong>{inner}</strong> })}
            </p>
            <span className="shop">
              <ShopEnd shop={shop} to={`${at}/shop`} />
            </span>
          </MainLine>
        </TrackDiagram>
      )}
      <Beneath>
        {today && (
          <Sheet aria-label={t("todays-live-payments")}>
            <TodayFigures today={today} at={at} />
          </Sheet>
        )}
        {(findings.length > 0 || today) && (
          <Sheet aria-label={t("what-waits-for-a-person")}>
            <Waiting findings={findings} more={moreFindings} at={at} />
          </Sheet>
        )}
      </Beneath>
    </>
  );
}

function ShopEnd({ shop, to }: { shop: { test: number | null; live: number | null }; to: string }) {
  const at = shop.live ?? shop.test;
  if (at === null) return <Link to={to}>{t("give-the-shop-its-key")}</Link>;
  return (
    <Small as="span">
      {t("test-key-used-when", { hasLive: shop.live ? "yes" : "no", when: <When at={at} /> })}
    </Small>
  );
}

type TodayView = NonNullable<Route.ComponentProps["loaderData"]["today"]>;

function TodayFigures({ today, at }: { today: TodayView; at: string }) {
  const decided = today.approved + today.declined;
  const share = decided > 0 ? today.approved / decided : null;
  const percent = (value: number) => `${Math.round(value * 100)} %`;
  const { usual } = today;
  const below = share !== null && usual !== null && decided >= 5 && share < usual.low;
  return (
    <Stack $gap={0.4}>
      <h2>{t("today-live")}</h2>
      {decided + today.pending === 0 && <Small>{t("no-payment-yet-today")}</Small>}
      <Figures>
        <div>
          <dt>{t("approved")}</dt>
          <dd>
            {share === null
              ? "–"
              : t("approved-of-decided-share", {
                  approved: today.approved,
                  decided,
                  share: percent(share),
                })}{" "}
            {usual && (
              <small>
                {t("usually-low-to-high", { low: percent(usual.low), high: percent(usual.high) })}
              </small>
            )}
          </dd>
        </div>
        <div>
          <dt>{t("declined")}</dt>
          <dd>{today.declined}</dd>
        </div>
        {today.captured && (
          <div>
            <dt>{t("captured")}</dt>
            <dd>{today.captured}</dd>
          </div>
        )}
        <div>
          <dt>{t("held-not-captured")}</dt>
          <dd>
            {today.held.payments === 0 ? (
              t("nothing")
            ) : (
              <Link to={`${at}/operate?mode=live&state=authorised`}>
                {today.held.sums} <small>{t("in-payments", { payments: today.held.payments })}</small>
              </Link>
            )}
          </dd>
        </div>
      </Figures>
      {below && <Says meaning="wrong">{t("fewer-are-approved-than-usual")}</Says>}
    </Stack>
  );
}

function Waiting({ findings, more, at }: { findings: readonly Finding[]; more: boolean; at: string }) {
  const shown = findings.slice(0, 4);
  return (
    <Stack $gap={0.4}>
      <h2>{t("waiting-for-you")}</h2>
      {shown.length === 0 && <Says meaning="proven">{t("nothing-but-what-stands-at")}</Says>}
      <Findings>
        {shown.map((one) => (
          <li key={one.id}>
            <Mark meaning={one.meaning} />
            <span>
              <Link to={one.to}>{one.title}</Link> <Small as="span">{one.says}</Small>
            </span>
          </li>
        ))}
      </Findings>
      {findings.length > shown.length && (
        <Small>
          <Link to={`${at}/operate/findings?mode=live`}>
            {t("and-at-least-findings-more", {
              hasMore: more ? "yes" : "no",
              findings: findings.length - shown.length,
            })}
          </Link>
        </Small>
      )}
    </Stack>
  );
}
