import { Outlet, useParams } from "react-router";
import { styled } from "styled-components";
import { tracksFrom } from "#server/home";
import { pulseFrom } from "#server/pulse";
import { localeOf, standAt } from "./storefront-context";
import { Note } from "../parts/marks";
import { frameReloads, usePulse } from "../parts/pulse";
import { useReachable } from "../parts/reach";
import { Line } from "./line";
import { NextStation } from "./next-station";
import { Top } from "./top";
import type { Route } from "./+types/storefront";

export async function loader({ params, context }: Route.LoaderArgs) {
  const { now, all, ...stands } = await standAt(context, params.storefront);
  const { storefront } = now;
  const standings = await stands.standings();
  const pulse = pulseFrom(all, standings);
  const tracks = tracksFrom(standings);
  return {
    pulse,
    storefront: { id: storefront.id, name: storefront.name, locale: localeOf(storefront) },
    tracks,
    live: tracks.some((one) => one.live === "live"),
  };
}

export const shouldRevalidate = frameReloads;

const Main = styled.main`
  max-width: 84rem;
  margin: 0 auto;
  padding: 1.2rem 1.5rem 4rem;
  @media (max-width: 40rem) {
    padding: 1rem 0.9rem 3rem;
  }
`;

const Skip = styled.a`
  position: absolute;
  left: -100vw;
  &:focus {
    left: 0.5rem;
    top: 0.5rem;
    z-index: 5;
    background: var(--sheet);
    padding: 0.5rem;
  }
`;

export default function StorefrontFrame({ loaderData }: Route.ComponentProps) {
  const { storefront = "" } = useParams();
  const reachable = useReachable();
  usePulse(storefront, loaderData.pulse);
  return (
    <>
      <Skip href="#sheet">To the sheet</Skip>
      <Top storefrontId={storefront} />
      <Line storefrontId={storefront} tracks={loaderData.tracks} />
      <Main id="sheet" tabIndex={-1}>
        {!reachable && (
          <Note meaning="waits">
            Zahlung does not answer just now. What you see is from before; it is asked again by itself.
          </Note>
        )}
        <Outlet />
        <NextStation storefrontId={storefront} tracks={loaderData.tracks} />
      </Main>
    </>
  );
}
