import { useEffect } from "react";
import { useRevalidator } from "react-router";
import { isReachable, useReachable } from "./reach";

/**
 * Reads the page's data again every `ms` milliseconds while `active` and the page is looked at. While Zahlung does
 * not answer, what is shown stays, and it is asked until it does.
 */
export function useLive(active: boolean, ms = 700): void {
  const { revalidate, state } = useRevalidator();
  const reachable = useReachable();
  useEffect(() => {
    if (!active || state !== "idle") return;
    let timer: ReturnType<typeof setTimeout>;
    const look = async () => {
      if (document.visibilityState === "visible" && (await isReachable())) void revalidate();
      else timer = setTimeout(() => void look(), Math.max(ms, 1_000));
    };
    timer = setTimeout(() => void look(), ms);
    return () => clearTimeout(timer);
  }, [active, ms, revalidate, state, reachable]);
  // A hidden page that comes back reads at once.
  useEffect(() => {
    if (!active) return;
    const look = async () => {
      if (document.visibilityState === "visible" && (await isReachable())) void revalidate();
    };
    const onChange = () => void look();
    document.addEventListener("visibilitychange", onChange);
    return () => document.removeEventListener("visibilitychange", onChange);
  }, [active, revalidate]);
}
