import { useSyncExternalStore } from "react";
import { useRouteLoaderData } from "react-router";
import type { loader } from "../root";
import { momentText } from "./zone";

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
