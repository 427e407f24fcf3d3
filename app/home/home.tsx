import { Link, useRouteLoaderData } from "react-router";
import { styled } from "styled-components";
import type { Mode } from "#core/mode";
import { newsAddressesOf, shopCalls } from "#server/storefronts/storefronts";
import { runtimeContext } from "../context";
import type { loader as frameLoader } from "../frame/storefront";
import { mustStandAt } from "../frame/storefront-context";
import { Button } from "../parts/form";
import { Says } from "../parts/marks";
import { PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { TrackDiagram } from "./track-diagram";
import type { Route } from "./+types/home";

export const meta: Route.MetaFunction = () => [{ title: "Home · Zahlung" }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const { storefront, connections } = await mustStandAt(context, params.storefront);
  const [news, calls] = await Promise.all([newsAddressesOf(rt, storefront.id), shopCalls(rt, storefront.id)]);
  const called = (mode: Mode) => calls.find((row) => row.mode === mode)?.at ?? null;
  const { name, domain, country, currencies, languages, stages } = storefront;
  return {
    storefront: { name, domain, country, currencies, languages, stages: stages.length },
    connected: connections.length > 0,
    shop: { test: called("test"), live: called("live"), news: news.map((one) => one.mode) },
  };
}

const Facts = styled.dl`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(14rem, 1fr));
  gap: 0.7rem 1.5rem;
  dt {
    color: var(--ink-soft);
    font-size: 0.88rem;
  }
`;

export default function Home({ loaderData, params }: Route.ComponentProps) {
  const frame = useRouteLoaderData<typeof frameLoader>("frame/storefront");
  const { storefront, shop, connected } = loaderData;
  const at = `/s/${params.storefront}`;
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <h1>{storefront.name}</h1>
          <p>
            {storefront.domain}, selling from {storefront.country} in {storefront.currencies.join(", ")}
          </p>
        </div>
      </PageHead>
      {connected ? (
        frame?.tracks.map((one) => (
          <TrackDiagram key={one.connectionId} storefrontId={params.storefront} connection={one} />
        ))
      ) : (
        <Sheet>
          <Stack>
            <h2>No track is laid yet</h2>
            <p>
              Choose a provider for this storefront. The account you have there is then connected step by
              step, first on the sandbox.
            </p>
            <Row>
              <Button as={Link} to={`${at}/plan`} $kind="main">
                Choose a provider
              </Button>
            </Row>
          </Stack>
        </Sheet>
      )}
      <Sheet>
        <Stack>
          <h2>The shop at the other end</h2>
          <Facts>
            <ShopFact name="Test key" at={shop.test} />
            <ShopFact name="Live key" at={shop.live} />
            <div>
              <dt>News goes to the shop</dt>
              <dd>
                {shop.news.length ? (
                  <Says meaning="proven">for {shop.news.join(" and ")}</Says>
                ) : (
                  <Says meaning="none">it has not said where it listens</Says>
                )}
              </dd>
            </div>
            <div>
              <dt>Order stages declared</dt>
              <dd>
                {storefront.stages ? (
                  <Says meaning="proven">{storefront.stages} stages</Says>
                ) : (
                  <Says meaning="none">none yet</Says>
                )}
              </dd>
            </div>
          </Facts>
          <Small>
            <Link to={`${at}/shop`}>Keys for the shop, stages and news</Link>
          </Small>
        </Stack>
      </Sheet>
    </Stack>
  );
}

function ShopFact({ name, at }: { name: string; at: number | null }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>
        {at ? (
          <Says meaning="proven">
            used, last <When at={at} />
          </Says>
        ) : (
          <Says meaning="none">never used</Says>
        )}
      </dd>
    </div>
  );
}
