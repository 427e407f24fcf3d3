import { redirect } from "react-router";
import { allStorefronts } from "#server/storefronts/storefronts";
import { runtimeContext } from "../context";
import type { Route } from "./+types/first-storefront";

export async function loader({ context }: Route.LoaderArgs) {
  const [first] = await allStorefronts(context.get(runtimeContext));
  return redirect(first ? `/s/${first.id}` : "/storefronts/new");
}
