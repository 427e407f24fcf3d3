import { useSyncExternalStore } from "react";
import { useRouteLoaderData } from "react-router";
import type { loader } from "../root";
import { momentText } from "./zone";
import { t } from "../words/pages/everywhere";

const never = () => () => {};

/** False on the server and in the first render of the browser, true afterwards: what follows may differ by viewer. */
export const useInBrowser = () =>
  useSyncExternalStore(
    never,
    () => true,
    () => false,
  );

/** A moment in the viewer's own zone, with the exact time at hand. It keeps its place when the zone was not known. */
export function When({ at }: { at: number }) {
  const here = useInBrowser();
  const known = useRouteLoaderData<typeof loader>("root")?.zone;
  const exact = new Date(at).toISOString();
  return (
    <time dateTime={exact} title={exact}>
      {momentText(at, here ? undefined : (known ?? "UTC"))}
    </time>
  );
}

/** How long something took, in seconds with as many places as matter. */
export const secondsText = (milliseconds: number): string =>
  t("seconds-s", { seconds: (milliseconds / 1000).toFixed(milliseconds < 10_000 ? 2 : 1) });

/** How long ago something was, as short as can be: “40 s”, “5 min”, “3 h”, “12 d”. */
export function ageText(at: number, now = Date.now()): string {
  const seconds = Math.max(0, Math.round((now - at) / 1000));
  if (seconds < 60) return t("seconds-s", { seconds });
  if (seconds < 3_600) return t("minutes-min", { minutes: Math.round(seconds / 60) });
  if (seconds < 86_400) return t("hours-h", { hours: Math.round(seconds / 3_600) });
  return t("days-d", { days: Math.round(seconds / 86_400) });
}
