import { allStorefronts } from "#server/storefronts/storefronts";
import type { Runtime } from "#server/runtime";
import { cookieOf } from "../parts/cookie";
import { STOREFRONT_COOKIE } from "./storefront-cookie";

/** The storefront that was looked at last, or the first; null when there is none. */
export async function rememberedStorefront(rt: Runtime, request: Request): Promise<string | null> {
  const all = await allStorefronts(rt);
  const wanted = cookieOf(request, STOREFRONT_COOKIE);
  return (all.find((one) => one.id === wanted) ?? all[0])?.id ?? null;
}
