import { Outlet } from "react-router";
import { runtimeContext } from "../context";
import { frameReloads } from "../parts/pulse";
import { Frame } from "./frame";
import { type FrameView, frameOf } from "./frame-view";
import { rememberedStorefront } from "./remembered";
import type { Route } from "./+types/everybody";

/** Pages that belong to no storefront stand in the frame of the one that was looked at last. */
export async function loader({ request, context }: Route.LoaderArgs): Promise<FrameView> {
  const id = await rememberedStorefront(context.get(runtimeContext), request);
  return id ? frameOf(context, id) : { storefront: null, tracks: [], offline: [], pulse: "" };
}

export const shouldRevalidate = frameReloads;

export default function Everybody({ loaderData }: Route.ComponentProps) {
  return (
    <Frame view={loaderData}>
      <Outlet />
    </Frame>
  );
}
