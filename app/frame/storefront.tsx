import { Outlet } from "react-router";
import { frameReloads, usePulse } from "../parts/pulse";
import { Frame } from "./frame";
import { frameOf } from "./frame-view";
import type { Route } from "./+types/storefront";

export const loader = ({ params, context }: Route.LoaderArgs) => frameOf(context, params.storefront);

export const shouldRevalidate = frameReloads;

export default function StorefrontFrame({ loaderData }: Route.ComponentProps) {
  usePulse(loaderData.storefront.id, loaderData.pulse);
  return (
    <Frame view={loaderData}>
      <Outlet />
    </Frame>
  );
}
