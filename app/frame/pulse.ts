import { pulseOf } from "#server/pulse";
import { runtimeContext } from "../context";
import type { Route } from "./+types/pulse";

/** Whether the frame is still what it was: asked for by the frame itself. */
export const loader = async ({ params, context }: Route.LoaderArgs) =>
  Response.json(
    { pulse: await pulseOf(context.get(runtimeContext), params.storefront) },
    { headers: { "cache-control": "no-store" } },
  );
