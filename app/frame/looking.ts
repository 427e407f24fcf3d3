import type { Mode } from "#core/mode";

/** The mode of the data that a page shows, and those it can be switched to; a page says it as `looking` of its data. */
export interface Looking {
  mode: Mode | "both";
  may: readonly (Mode | "both")[];
}

/** What the page of a match looks at; null where it is of no mode. */
export function lookingOf(loaderData: unknown): Looking | null {
  const found = (loaderData as { looking?: Looking } | null | undefined)?.looking;
  return found ?? null;
}
