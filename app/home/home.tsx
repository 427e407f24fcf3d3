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

type Finding = Spoken<FindingView>;

export const meta: Route.MetaFunction = ({ matches }) => {
  const frame = matches.find((one) => one?.id === "frame/storefront");
  const name = (frame?.loaderData as { storefront?: { name: string } } | undefined)?.storefront?.name;
  return [{ title: `${name ?? "Home"} · Zahlung` }];
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
    about: `${domain}, selling from ${countryWithin(country)} in ${namesOfCodes("currency", currencies)}`,
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
            <h2>No provider is connected yet</h2>
            <p>
              Choose a provider for this storefront. The account you have there is then connected step by
              step, first on the sandbox.
            </p>
            <Row>
              <Button as={Link} to={`${at}/plan`} $kind="main">
                Choose a provider
              </Button>
              <Button as={Link} to={`${at}/offer?add=1`}>
                Offer something without a provider
              </Button>
            </Row>
          </Stack>
        </Sheet>
      ) : (
        <TrackDiagram storefrontId={params.storefront} tracks={tracks} offline={offline}>
          <MainLine $live={ways.length > 0}>
            <p>
              {ways.length > 0 ? (
                <>
                  <strong>Live:</strong> shoppers can pay by{" "}
                  {new Intl.ListFormat("en").format(ways.map((one) => one.name))}.
                </>
              ) : (
                <>
                  <strong>Nothing is live:</strong> shoppers cannot pay here yet.
                </>
              )}
            </p>
            <span className="shop">
              <ShopEnd shop={shop} to={`${at}/shop`} />
            </span>
          </MainLine>
        </TrackDiagram>
      )}
      <Beneath>
        {today && (
          <Sheet aria-label="Today’s live payments">
            <TodayFigures today={today} at={at} />
          </Sheet>
        )}
        {(findings.length > 0 || today) && (
          <Sheet aria-label="What waits for a person">
            <Waiting findings={findings} more={moreFindings} at={at} />
          </Sheet>
        )}
      </Beneath>
    </>
  );
}

function ShopEnd({ shop, to }: { shop: { test: number | null; live: number | null }; to: string }) {
  const at = shop.live ?? shop.test;
  if (at === null) return <Link to={to}>Give the shop its key</Link>;
  return (
    <Small as="span">
      {shop.live ? "Live" : "Test"} key used <When at={at} />
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
      <h2>Today, live</h2>
      {decided + today.pending === 0 && <Small>No payment yet today.</Small>}
      <Figures>
        <div>
          <dt>Approved</dt>
          <dd>
            {share === null ? "–" : `${today.approved} of ${decided}, ${percent(share)}`}{" "}
            {usual && (
              <small>
                usually {percent(usual.low)} to {percent(usual.high)}
              </small>
            )}
          </dd>
        </div>
        <div>
          <dt>Declined</dt>
          <dd>{today.declined}</dd>
        </div>
        {today.captured && (
          <div>
            <dt>Captured</dt>
            <dd>{today.captured}</dd>
          </div>
        )}
        <div>
          <dt>Held, not captured</dt>
          <dd>
            {today.held.payments === 0 ? (
              "nothing"
            ) : (
              <Link to={`${at}/operate?mode=live&state=authorised`}>
                {today.held.sums} <small>in {today.held.payments}</small>
              </Link>
            )}
          </dd>
        </div>
      </Figures>
      {below && <Says meaning="wrong">fewer are approved than usual</Says>}
    </Stack>
  );
}

function Waiting({ findings, more, at }: { findings: readonly Finding[]; more: boolean; at: string }) {
  const shown = findings.slice(0, 4);
  return (
    <Stack $gap={0.4}>
      <h2>Waiting for you</h2>
      {shown.length === 0 && <Says meaning="proven">nothing but what stands at a signal above</Says>}
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
            and {more && "at least "}
            {findings.length - shown.length} more
          </Link>
        </Small>
      )}
    </Stack>
  );
}
