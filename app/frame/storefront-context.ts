import { data, useRouteLoaderData } from "react-router";
import { type Storefront, storefrontOf } from "#server/storefronts/storefronts";
import { type Context, runtimeContext } from "../context";

/** The storefront of the address, or a 404. */
export async function mustFindStorefront(context: Context, id: string): Promise<Storefront> {
  const found = await storefrontOf(context.get(runtimeContext), id);
  if (!found) throw data("There is no such storefront.", { status: 404 });
  return found;
}

export interface StorefrontView {
  id: string;
  name: string;
  /** How this storefront writes amounts. */
  locale: string;
}

/** The storefront that the page is about. Only below the storefront route. */
export function useStorefront(): StorefrontView {
  const found = useRouteLoaderData("frame/storefront") as { storefront: StorefrontView } | undefined;
  if (!found) throw new Error("used outside a storefront");
  return found.storefront;
}

export const localeOf = (storefront: Pick<Storefront, "languages" | "country">) =>
  `${storefront.languages[0]?.split("-")[0] ?? "en"}-${storefront.country}`;
