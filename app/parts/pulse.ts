import { useEffect } from "react";
import { type ShouldRevalidateFunctionArgs, useRevalidator } from "react-router";
import { isReachable } from "./reach";

const ASK_EVERY = 3_000;

let old = false;

/**
 * Whether a frame reads its data again: after something was done, for another storefront, and when the pulse says that
 * it has changed; not each time that a page which follows something live reads its own.
 */
export function frameReloads({
  formMethod,
  currentParams,
  nextParams,
}: Pick<ShouldRevalidateFunctionArgs, "formMethod" | "currentParams" | "nextParams">): boolean {
  if (formMethod && formMethod !== "GET") return true;
  return old || currentParams.storefront !== nextParams.storefront;
}

/** Asks every few seconds, while the page is looked at, whether the frame is still what it was, and reads it again if not. */
export function usePulse(storefrontId: string, pulse: string): void {
  const { revalidate, state } = useRevalidator();
  useEffect(() => {
    old = false;
  }, [pulse]);
  useEffect(() => {
    if (state !== "idle") return;
    const look = async () => {
      if (document.visibilityState !== "visible" || !(await isReachable())) return;
      const response = await fetch(`/s/${storefrontId}/pulse`, { redirect: "manual" }).catch(() => null);
      if (!response?.ok) return;
      const now = ((await response.json()) as { pulse: string }).pulse;
      if (now === pulse) return;
      old = true;
      void revalidate();
    };
    const timer = setInterval(() => void look(), ASK_EVERY);
    return () => clearInterval(timer);
  }, [storefrontId, pulse, revalidate, state]);
}
