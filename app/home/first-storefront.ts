import { redirect } from "react-router";
import { rememberedStorefront } from "../frame/remembered";
import { runtimeContext } from "../context";
import type { Route } from "./+types/first-storefront";

export async function loader({ request, context }: Route.LoaderArgs) {
  const id = await rememberedStorefront(context.get(runtimeContext), request);
  return redirect(id ? `/s/${id}` : "/storefronts/new");
}
