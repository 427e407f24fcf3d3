import { useRouteLoaderData } from "react-router";
import type { StorefrontView } from "./storefront-context";

/** The storefront that the page is about. Only below the storefront route. */
export function useStorefront(): StorefrontView {
  const found = useRouteLoaderData("frame/storefront") as { storefront: StorefrontView } | undefined;
  if (!found) throw new Error("used outside a storefront");
  return found.storefront;
}
