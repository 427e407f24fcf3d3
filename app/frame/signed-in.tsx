import { Outlet } from "react-router";
import { allStorefronts } from "#server/storefronts/storefronts";
import { personContext, runtimeContext } from "../context";
import { standsContext } from "./storefront-context";
import { mustBeSignedIn } from "../people/session";
import { frameReloads } from "../parts/pulse";
import type { Route } from "./+types/signed-in";

/** Every page below needs a session; so does every action, before it runs. */
export const middleware: Route.MiddlewareFunction[] = [
  async ({ request, context }) => {
    if (request.method === "GET") context.set(standsContext, new Map());
    context.set(personContext, await mustBeSignedIn(context.get(runtimeContext), request));
  },
];

export async function loader({ context }: Route.LoaderArgs) {
  const storefronts = await allStorefronts(context.get(runtimeContext));
  const { name, email, role } = context.get(personContext);
  return { person: { name, email, role }, storefronts: storefronts.map(({ id, name }) => ({ id, name })) };
}

export const shouldRevalidate = frameReloads;

export default function SignedIn() {
  return <Outlet />;
}
